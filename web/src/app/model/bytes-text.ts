const STEPS = ['kB', 'MB', 'GB'] as const;

/** A size as people read it: 312 kB, 6.2 MB, 1.8 GB. */
export function bytesText(bytes: number): string {
  let value = bytes / 1000;
  let step = 0;
  while (value >= 999.5 && step < STEPS.length - 1) {
    value /= 1000;
    step++;
  }
  const decimals = step > 0 && value < 99.95 ? 1 : 0;
  return `${Math.max(value, bytes > 0 && step === 0 ? 1 : 0).toFixed(decimals)} ${STEPS[step]}`;
}
