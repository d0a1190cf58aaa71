/** Order of names as people count: "frame 2" before "frame 10". */
const order = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });

export function inNaturalOrder<T extends { name: string }>(files: readonly T[]): T[] {
  return [...files].sort((a, b) => order.compare(a.name, b.name));
}

/** The last number in a name, before its extension; null where it has none. */
export function numberIn(name: string): number | null {
  const digits = name.replace(/\.[^.]*$/, '').match(/(\d+)\D*$/)?.[1];
  return digits === undefined ? null : Number(digits);
}

/** Three pictures whose names differ in their number alone are frames of footage. */
const MIN_FRAMES = 3;

export function areNumbered(names: readonly string[]): boolean {
  if (names.length < MIN_FRAMES) return false;
  const stem = (name: string): string => name.replace(/\.[^.]*$/, '').replace(/\d+(\D*)$/, '#$1');
  const numbers = new Set(names.map(numberIn));
  return !numbers.has(null) && numbers.size === names.length && new Set(names.map(stem)).size === 1;
}

const MAX_NAMED = 6;

/** The numbers between the first and the last that are not there, as text: "13, 27–30"; null where none is missing. */
export function missingNumbers(names: readonly string[]): string | null {
  const numbers = names
    .map(numberIn)
    .filter((n) => n !== null)
    .sort((a, b) => a - b);
  // Numbers that go by tens, say, miss nothing.
  const step = Math.min(...numbers.slice(1).map((n, i) => n - numbers[i]!));
  if (!(step >= 1) || !Number.isFinite(step)) return null;
  const gaps = numbers.slice(1).flatMap((n, i) => {
    const [from, to] = [numbers[i]! + step, n - step];
    return from > to ? [] : [from === to ? `${from}` : `${from}–${to}`];
  });
  if (gaps.length === 0) return null;
  const named = gaps.slice(0, MAX_NAMED).join(', ');
  return gaps.length > MAX_NAMED ? `${named} and more` : named;
}
