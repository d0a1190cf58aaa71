import { describe, expect, it } from 'vitest';
import { hatchedLights } from '../src/app/stage/lights-mark';

describe('clipped lights', () => {
  it('are hatched from the threshold of the strongest channel on, and nothing else is', () => {
    const pixels = new Uint8ClampedArray(12 * 12 * 4).fill(90);
    // One row of a red light, one just below the threshold.
    for (let x = 0; x < 12; x++) {
      pixels.set([240, 10, 0, 255], (3 * 12 + x) * 4);
      pixels.set([228, 228, 228, 255], (5 * 12 + x) * 4);
    }
    const marks = hatchedLights(pixels, 12, 0.9);
    const covers = Array.from({ length: 144 }, (_, i) => marks[i * 4 + 3]);
    expect(covers.filter((cover) => cover === 255)).toHaveLength(12);
    expect(covers.slice(36, 48).every((cover) => cover === 255)).toBe(true);
    const shades = new Set(Array.from({ length: 12 }, (_, x) => marks[(3 * 12 + x) * 4]));
    expect([...shades].sort((a, b) => a! - b!)).toEqual([0, 255]);
  });
});
