import type { NumberRange } from '@hazy-lens/core';

/** A number with the decimals that it is shown with; no "-0" for one that rounds to nothing. */
export function numberText(value: number, { decimals }: Pick<NumberRange, 'decimals'>): string {
  return (Number(value.toFixed(decimals)) + 0).toFixed(decimals);
}

/** As it is written and read aloud: 42%, 12 px. */
export function numberWithUnit(value: number, range: Pick<NumberRange, 'decimals' | 'unit'>): string {
  const { unit } = range;
  return numberText(value, range) + (unit === '' || unit === '%' || unit === '°' ? '' : ' ') + unit;
}
