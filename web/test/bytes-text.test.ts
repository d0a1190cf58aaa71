import { expect, it } from 'vitest';
import { bytesText } from '../src/app/model/bytes-text';
import { numberText, numberWithUnit } from '../src/app/model/number-text';

it('sizes are read in the unit that suits them', () => {
  const read = [0, 1, 312_400, 999_400, 999_600, 6_240_000, 412_000_000, 1_834_000_000, 12_000_000_000_000];
  expect(read.map(bytesText)).toEqual([
    '0 kB',
    '1 kB',
    '312 kB',
    '999 kB',
    '1.0 MB',
    '6.2 MB',
    '412 MB',
    '1.8 GB',
    '12000 GB',
  ]);
});

it('numbers are written with their unit as people write them', () => {
  expect(numberText(-0.0001, { decimals: 1 })).toBe('0.0');
  expect(numberWithUnit(42, { decimals: 0, unit: '%' })).toBe('42%');
  expect(numberWithUnit(12, { decimals: 0, unit: 'px' })).toBe('12 px');
  expect(numberWithUnit(-8.5, { decimals: 1, unit: '°' })).toBe('-8.5°');
  expect(numberWithUnit(3, { decimals: 0, unit: '' })).toBe('3');
});
