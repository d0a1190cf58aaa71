import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { scaledSize, sizeWithin } from '../src/index';

const size = fc.record({
  width: fc.integer({ min: 1, max: 20000 }),
  height: fc.integer({ min: 1, max: 20000 }),
});

describe('a size', () => {
  it('within a long edge reaches it, keeps its form to a pixel, and is never larger than it came', () => {
    fc.assert(
      fc.property(size, fc.integer({ min: 1, max: 30000 }), (from, edge) => {
        const to = sizeWithin(from, edge);
        const long = Math.max(from.width, from.height);
        expect(Math.max(to.width, to.height)).toBe(Math.min(edge, long));
        const scale = Math.min(1, edge / long);
        expect(Math.abs(to.width - from.width * scale)).toBeLessThan(1);
        expect(Math.abs(to.height - from.height * scale)).toBeLessThan(1);
      }),
    );
    expect(sizeWithin({ width: 300, height: 200 }, Infinity)).toEqual({ width: 300, height: 200 });
  });

  it('scaled has whole pixels, one at least', () => {
    expect(scaledSize({ width: 2000, height: 3 }, 0.1)).toEqual({ width: 200, height: 1 });
    expect(scaledSize({ width: 3, height: 5 }, 1 / 2)).toEqual({ width: 2, height: 3 });
    expect(scaledSize({ width: 10, height: 4 }, 2)).toEqual({ width: 20, height: 8 });
  });
});
