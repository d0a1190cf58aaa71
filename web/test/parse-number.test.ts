import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseNumber } from '../src/app/ui/parse-number';

describe('a number as people write it', () => {
  it('is read as it is meant', () => {
    const meant: [string, number][] = [
      ['1200', 1200],
      ['1,200', 1200],
      ['1 200', 1200],
      ["12'345,678".replace(',', "'"), 12345678],
      ['1,234.5', 1234.5],
      ['12,5', 12.5],
      ['0,125', 0.125],
      ['.5', 0.5],
      [' 7. ', 7],
      ['−3', -3],
      ['- 3,5', -3.5],
      ['+8', 8],
      ['40 %', 40],
      ['90°', 90],
      ['346px', 346],
    ];
    for (const [text, value] of meant) expect(parseNumber(text), text).toBe(value);
  });

  it('is refused whole where a part of it cannot be read', () => {
    for (const text of ['', ' ', '12abc', '1,2,3', '1.2.3', '1,23,456', 'px', '--1', '1e5', 'NaN', '1 2'])
      expect(parseNumber(text), text).toBeNull();
  });

  it('comes back from what was shown', () => {
    fc.assert(
      fc.property(fc.integer({ min: -9_999_999, max: 9_999_999 }), fc.nat(3), (tenths, decimals) => {
        const value = tenths / 10 ** decimals;
        expect(parseNumber(value.toFixed(decimals))).toBeCloseTo(value, 9);
        const grouped = Math.abs(tenths).toLocaleString('en-US');
        expect(parseNumber(grouped)).toBe(Math.abs(tenths));
      }),
    );
  });
});
