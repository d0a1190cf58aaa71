import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { softenInwards } from '../src/layers/soften-inwards';

const size = { width: 64, height: 48 };
const count = size.width * size.height;
/** Standard deviation of the blur for each sample off what is known. */
const SHARE = 0.6;
const SQUARE = { left: 10, right: 54, top: 8, bottom: 40 };
const unknown = Float32Array.from({ length: count }, (_, i) => {
  const [x, y] = [i % size.width, Math.floor(i / size.width)];
  return x >= SQUARE.left && x < SQUARE.right && y >= SQUARE.top && y < SQUARE.bottom ? 1 : 0;
});
const noise = (seed: number, n = 1): Float32Array =>
  Float32Array.from({ length: n * count }, (_, i) => (Math.sin(i * 12.9898 + seed) * 43758.5453) % 1);

/** A Gaussian of standard deviation sigma about a pixel, the edge going on as it is. */
function gaussianAt(values: Float32Array, x: number, y: number, sigma: number): number {
  const reach = Math.ceil(4 * sigma);
  const held = (at: number, most: number): number => Math.min(most - 1, Math.max(0, at));
  let [sum, weight] = [0, 0];
  for (let dy = -reach; dy <= reach; dy++)
    for (let dx = -reach; dx <= reach; dx++) {
      const w = Math.exp(-(dx * dx + dy * dy) / (2 * sigma * sigma));
      sum += w * values[held(y + dy, size.height) * size.width + held(x + dx, size.width)]!;
      weight += w;
    }
  return sum / weight;
}

describe('what was made up', () => {
  it('is left where it is known, and where nothing is', () => {
    const before = noise(1);
    const light = before.slice();
    softenInwards(light, 1, unknown, size);
    for (let i = 0; i < count; i++) if (unknown[i] === 0) expect(light[i]).toBe(before[i]);
    for (const all of [0, 1]) {
      const same = before.slice();
      softenInwards(same, 1, new Float32Array(count).fill(all), size);
      expect(same).toEqual(before);
    }
  });

  it('keeps a ramp and even light, in each of its planes', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -1, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 2, noNaN: true }),
        (slope, from) => {
          const light = Float32Array.from({ length: 2 * count }, (_, i) =>
            i % 2 === 0 ? from : from + slope * (((i >> 1) % size.width) / size.width),
          );
          const before = light.slice();
          softenInwards(light, 2, unknown, size);
          for (let y = SQUARE.top; y < SQUARE.bottom; y++)
            // Where the widest blur does not reach the picture's edge.
            for (let x = 30; x < 34; x++)
              for (const k of [0, 1]) {
                const at = 2 * (y * size.width + x) + k;
                expect(Math.abs(light[at]! - before[at]!)).toBeLessThan(2e-3);
              }
        },
      ),
      { numRuns: 10 },
    );
  });

  it('is as soft as a Gaussian that grows with the way to what is known', () => {
    // As smooth as what a fill makes: one blur of its own beforehand.
    const rough = noise(2);
    const light = rough.map((_, i) => gaussianAt(rough, i % size.width, Math.floor(i / size.width), 1));
    const before = light.slice();
    softenInwards(light, 1, unknown, size);
    const deviation = (of: (x: number, y: number) => number): number => {
      let sum = 0;
      for (let x = 24; x < 40; x++) sum += of(x, 23) ** 2;
      return Math.sqrt(sum / 16);
    };
    for (const depth of [2, 4, 8, 15]) {
      const y = SQUARE.top + depth - 1;
      const off = deviation((x) => light[y * size.width + x]! - gaussianAt(before, x, y, SHARE * depth));
      const left = deviation((x) => gaussianAt(before, x, y, SHARE * depth));
      // What is mixed of two widths is a little rougher than the one between.
      expect(off).toBeLessThan(0.35 * left + 0.01);
    }
  });

  it('has less detail the farther in it lies', () => {
    const light = noise(3);
    softenInwards(light, 1, unknown, size);
    const roughness = (depth: number): number => {
      const y = SQUARE.top + depth - 1;
      let sum = 0;
      for (let x = 28; x < 36; x++)
        sum += Math.abs(light[y * size.width + x]! - light[y * size.width + x + 1]!);
      return sum;
    };
    expect(roughness(2)).toBeGreaterThan(2 * roughness(5));
    expect(roughness(5)).toBeGreaterThan(2 * roughness(14));
  });
});
