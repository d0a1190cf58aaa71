const GROUPED = /^[1-9]\d{0,2}(?:[,'\s]\d{3})+(?:\.\d+)?$/;
const PLAIN = /^(?:\d+\.?\d*|\.\d+)$/;
const COMMA = /^\d*,\d+$/;

/**
 * A number as people write it: "1200", "1,200" and "1 200" are the same, "12,5" is twelve and a half, and a unit may
 * follow. Null for anything else, rather than a part of it.
 */
export function parseNumber(text: string): number | null {
  const bare = text.trim().replace(/\s*(?:px|%|°)$/, '');
  const isNegative = /^[-−]/.test(bare);
  const digits = bare.replace(/^[-−+]\s*/, '');
  const plain = GROUPED.test(digits)
    ? digits.replace(/[,'\s]/g, '')
    : COMMA.test(digits)
      ? digits.replace(',', '.')
      : digits;
  if (!PLAIN.test(plain)) return null;
  return isNegative ? -Number(plain) : Number(plain);
}
