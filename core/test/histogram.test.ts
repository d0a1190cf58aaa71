import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { TONE_BINS, toneHistogram } from '../src/index';

const sum = (values: ArrayLike<number>): number => Array.from(values).reduce((all, v) => all + v, 0);

describe('the tone histogram', () => {
  it('puts every grey where it belongs, and says what is clipped', () => {
    for (const level of [0, 1, 2, 100, 254, 255]) {
      const { shares, black, white } = toneHistogram([level, level, level, 255]);
      expect(shares[level >> 1]).toBe(1);
      expect([black, white]).toEqual([level === 0 ? 1 : 0, level === 255 ? 1 : 0]);
    }
    const { channels } = toneHistogram([10, 100, 200, 255]);
    expect(channels.map((shares) => shares.indexOf(1))).toEqual([5, 50, 100]);
    // One clipped channel is enough.
    expect(toneHistogram([255, 10, 10, 255, 9, 9, 9, 255]).white).toBe(0.5);
  });

  it('has shares that make 1, whatever the picture; one without pixels has none', () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 4, maxLength: 400 }), (pixels) => {
        expect(sum(toneHistogram(pixels).shares)).toBeCloseTo(1, 4);
      }),
    );
    expect(sum(toneHistogram([]).shares)).toBe(0);
    expect(toneHistogram([]).shares).toHaveLength(TONE_BINS);
  });
});
