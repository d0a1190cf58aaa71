import { describe, expect, it } from 'vitest';
import { captionContrast } from '../src/index';

const picture = (width: number, height: number, at: (x: number, y: number) => [number, number, number]) =>
  Uint8ClampedArray.from({ length: width * height * 4 }, (_, i) => {
    const pixel = Math.floor(i / 4);
    return i % 4 === 3 ? 255 : at(pixel % width, Math.floor(pixel / width))[i % 4]!;
  });

describe('a quiet area', () => {
  it('has the contrast of the guidelines, at its worst place and by share', () => {
    const even = captionContrast(picture(8, 6, () => [255, 255, 255]), 8, 6); // prettier-ignore
    expect(even.detail).toBe(0);
    expect(even.black).toEqual({ least: 21, readable: 1 });
    expect(even.white).toEqual({ least: 1, readable: 0 });
    // 118 is where black and white text are about equal; a value known from the guidelines' own formula.
    const grey = captionContrast(picture(8, 6, () => [118, 118, 118]), 8, 6); // prettier-ignore
    expect(grey.black.least).toBeCloseTo(4.62, 2);
    expect(grey.white.least).toBeCloseTo(4.54, 2);
    const half = captionContrast(picture(8, 6, (x) => (x < 4 ? [0, 0, 0] : [255, 255, 255])), 8, 6); // prettier-ignore
    expect(half.black).toEqual({ least: 1, readable: 0.5 });
    expect(half.white).toEqual({ least: 1, readable: 0.5 });
  });

  it('counts detail as steps of lightness: more of them, more of it; a slope has little', () => {
    const read = (at: (x: number, y: number) => number): number =>
      captionContrast(picture(32, 32, (x, y) => [at(x, y), at(x, y), at(x, y)]), 32, 32).detail; // prettier-ignore
    expect(read((x, y) => ((x + y) % 2) * 40)).toBeCloseTo(40, 6);
    expect(read((x) => x * 4)).toBeCloseTo(4 / Math.SQRT2, 6);
    expect(read((x) => (x % 8 < 4 ? 0 : 40))).toBeLessThan(read((x) => (x % 2) * 40));
  });

  it('of one pixel, or of none, is still a reading', () => {
    expect(captionContrast([10, 20, 30, 255], 1, 1).detail).toBe(0);
    expect(Number.isFinite(captionContrast([], 0, 0).white.least)).toBe(true);
  });
});
