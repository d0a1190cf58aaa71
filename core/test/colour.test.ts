import { converter } from 'culori';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { saturate, toOklab } from '../reference/oklab';
import { fromLinear, toLinear } from '../src/index';
import { kernelsWith, recipe, renderPicture, testPicture } from './harness';

const oklch = converter('oklch');
const { memory, kernels } = await kernelsWith(1 << 20);
const floats = new Float32Array(memory.buffer);
const PLANE = 64;

function kernelSaturate(pixels: [number, number, number][], amount: number): [number, number, number][] {
  pixels.forEach((rgb, i) => rgb.forEach((v, c) => (floats[1024 + c * PLANE + i] = v)));
  kernels.saturateRow(4096, PLANE * 4, pixels.length, amount);
  return pixels.map(
    (_, i) => [0, 1, 2].map((c) => floats[1024 + c * PLANE + i]!) as [number, number, number],
  );
}

const light = fc.double({ min: 0, max: 1, noNaN: true });
const pixel = fc.tuple(light, light, light);

describe('saturation', () => {
  it('agrees with the double-precision reference', () => {
    fc.assert(
      fc.property(
        fc.array(pixel, { minLength: 8, maxLength: 8 }),
        fc.double({ min: -1, max: 1, noNaN: true }),
        (pixels, amount) => {
          kernelSaturate(pixels, amount).forEach((ours, i) => {
            const exact = saturate(pixels[i]!, amount);
            ours.forEach((v, c) =>
              expect(Math.abs(fromLinear(v) - fromLinear(exact[c]!))).toBeLessThan(0.004),
            );
          });
        },
      ),
    );
  });

  it('keeps hue and lightness where the gamut ends, as an independent library sees them', () => {
    const pixels: [number, number, number][] = [[0.7, 0.2, 0.1], [0.1, 0.5, 0.2], [0.15, 0.2, 0.8], [0.8, 0.7, 0.05], [0.9, 0.3, 0.6], [0.2, 0.7, 0.7], [0.5, 0.45, 0.4], [0.05, 0.02, 0.04]]; // prettier-ignore
    kernelSaturate(pixels, 1).forEach((ours, i) => {
      const look = (rgb: readonly number[]) => oklch({ mode: 'lrgb', r: rgb[0]!, g: rgb[1]!, b: rgb[2]! });
      const before = look(pixels[i]!);
      const after = look(ours);
      expect(after.l).toBeCloseTo(before.l, 2);
      expect(Math.abs(((after.h! - before.h! + 540) % 360) - 180)).toBeLessThan(1.5);
      expect(after.c).toBeGreaterThan(before.c * 1.02);
    });
  });

  it('makes greys of everything at -1', () => {
    for (const [r, g, b] of kernelSaturate(
      [
        [0.7, 0.2, 0.1],
        [0, 0, 0],
        [1, 1, 1],
        [0.1, 0.9, 0.3],
      ],
      -1,
    )) {
      // prettier-ignore
      expect(Math.abs(r - g) + Math.abs(g - b)).toBeLessThan(1e-3);
    }
  });

  it('reaches the picture, sharp parts too, and can be switched off', async () => {
    const picture = testPicture(64, 64);
    const vivid = await renderPicture(picture, recipe({ colour: { saturation: 0.8 } }));
    const mean = (data: ArrayLike<number>) => {
      let sum = 0;
      for (let i = 0; i < data.length; i += 3)
        sum += Math.hypot(
          ...toOklab([0, 1, 2].map((c) => toLinear(data[i + c]! / 255)) as [number, number, number]).slice(1),
        );
      return sum;
    };
    expect(mean(vivid)).toBeGreaterThan(mean(picture.data) * 1.15);
    const off = await renderPicture(picture, recipe({ colour: { on: false, saturation: 0.8 } }));
    expect(Buffer.compare(Buffer.from(off), Buffer.from(picture.data))).toBe(0);
  });
});

describe('the sRGB curve of the kernel', () => {
  it('gives back every 16-bit value', async () => {
    const all = Uint16Array.from({ length: 65536 * 3 }, (_, i) => Math.floor(i / 3));
    const picture = { width: 256, height: 256, data: all, channels: 3 as const };
    // A blur too small to change anything measurable still sends every pixel through linear light.
    const result = await renderPicture(picture, recipe({ colour: { saturation: 1e-9 } }));
    let worst = 0;
    for (let i = 0; i < all.length; i++) worst = Math.max(worst, Math.abs(result[i]! - all[i]!));
    expect(worst).toBeLessThanOrEqual(3);
  });
});
