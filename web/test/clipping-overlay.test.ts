import { describe, expect, it } from 'vitest';
import { hatchClipped } from '../src/app/stage/clipping-overlay';

describe('clipped lights', () => {
  it('are hatched from the threshold of the strongest channel on, and nothing else is', () => {
    const pixels = new Uint8ClampedArray(12 * 12 * 4).fill(90);
    // One row of a red light, one just below the threshold.
    for (let x = 0; x < 12; x++) {
      pixels.set([240, 10, 0, 255], (3 * 12 + x) * 4);
      pixels.set([228, 228, 228, 255], (5 * 12 + x) * 4);
    }
    const marks = hatchClipped(pixels, 12, 0.9, false);
    const covers = Array.from({ length: 144 }, (_, i) => marks[i * 4 + 3]);
    expect(covers.filter((cover) => cover === 255)).toHaveLength(12);
    expect(covers.slice(36, 48).every((cover) => cover === 255)).toBe(true);
    const shades = new Set(Array.from({ length: 12 }, (_, x) => marks[(3 * 12 + x) * 4]));
    expect([...shades].sort((a, b) => a! - b!)).toEqual([0, 255]);
  });

  it('and a channel at black are told apart by the way the stripes go', () => {
    const pixels = new Uint8ClampedArray(12 * 24 * 4).fill(90);
    for (let i = 0; i < 144; i++) pixels.set([0, 120, 90, 255], i * 4);
    for (let i = 144; i < 288; i++) pixels.set([255, 120, 90, 255], i * 4);
    const marks = hatchClipped(pixels, 12, 1, true);
    const shade = (x: number, y: number): number => marks[(y * 12 + x) * 4]!;
    for (let y = 1; y < 11; y++)
      for (let x = 1; x < 11; x++) {
        expect(shade(x, y)).toBe(shade(x + 1, y + 1));
        expect(shade(x, y + 12)).toBe(shade(x + 1, y + 11));
      }
    expect(
      hatchClipped(pixels, 12, 1, false)
        .subarray(0, 144 * 4)
        .every((value) => value === 0),
    ).toBe(true);
  });
});
