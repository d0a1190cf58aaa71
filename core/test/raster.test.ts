import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { mipLevelFor, rasterAt, sampleRow } from '../src/geometry/raster';
import { type GreyImage, makeRaster, sampleRaster, sharedSamples } from '../src/index';
import { applyGuided, guidedCoefficients } from '../src/matte/guided-filter';
import { rasterToGrey } from '../src/matte/edge';
import { resizeGrey } from '../src/matte/grey-image';

const side = fc.integer({ min: 1, max: 40 });
const rasterOf = (width: number, height: number, seed: number) =>
  makeRaster(
    'r',
    width,
    height,
    Uint16Array.from({ length: width * height }, (_, i) => (i * 7919 + seed * 104729) % 65536),
  );

describe('a raster', () => {
  it('keeps its samples in shared memory, and halves them down by means', () => {
    const raster = rasterOf(300, 202, 3);
    expect(raster.levels.map(({ width, height }) => [width, height])).toEqual([
      [300, 202],
      [150, 101],
      [75, 51],
    ]);
    for (const { samples } of raster.levels) expect(samples.buffer).toBeInstanceOf(SharedArrayBuffer);
    const [full, half] = raster.levels as [(typeof raster.levels)[0], (typeof raster.levels)[0]];
    for (const [x, y] of [
      [0, 0],
      [7, 12],
      [149, 99],
    ] as const) {
      const four = [0, 1, 300, 301].map((by) => full.samples[2 * y * 300 + 2 * x + by]!);
      const mean = four.reduce((a, b) => a + b) / 4;
      expect(Math.abs(half.samples[y * 150 + x]! - mean)).toBeLessThanOrEqual(0.5);
    }
    const shared = sharedSamples(4);
    expect(makeRaster('s', 2, 2, shared).levels[0].samples).toBe(shared);
  });

  it('offers the smallest size that a picture does not outgrow', () => {
    const raster = rasterOf(300, 201, 1);
    expect([300, 200, 150, 80, 75, 10, 4000].map((width) => mipLevelFor(raster, width).width)).toEqual([
      300, 300, 150, 150, 75, 75, 300,
    ]);
  });

  it('gives the same along a row as at a point, inside and beyond its edges', () => {
    fc.assert(
      fc.property(side, side, side, side, fc.integer({ min: -9, max: 30 }), (w, h, pw, ph, from) => {
        const raster = rasterOf(w, h, 5);
        const picture = { width: pw, height: ph };
        const row = new Float32Array(12);
        const y = from % ph;
        sampleRow({ ...raster, levels: [raster.levels[0]] }, picture, from, y, 0.5, 0.25, row);
        row.forEach((v, i) => {
          const exact = rasterAt(raster, (from + i + 0.5) / pw, (y + 0.5) / ph) * 0.5 + 0.25;
          expect(Math.abs(v - exact)).toBeLessThan(2e-4);
        });
      }),
    );
  });

  it('is exact at the centres of its samples, and even between them', () => {
    const level = rasterOf(8, 5, 9).levels[0];
    for (let y = 0; y < 5; y++)
      for (let x = 0; x < 8; x++)
        expect(sampleRaster(level, (x + 0.5) / 8, (y + 0.5) / 5)).toBeCloseTo(
          level.samples[y * 8 + x]! / 65535,
          9,
        );
    const between = sampleRaster(level, 3 / 8, 0.5 / 5);
    expect(between).toBeCloseTo((level.samples[2]! + level.samples[3]!) / 2 / 65535, 9);
  });

  it('becomes a plane no longer than asked for', () => {
    const raster = rasterOf(300, 201, 1);
    expect(rasterToGrey(raster, 160)).toMatchObject({ width: 150, height: 101 });
    expect(rasterToGrey(raster, 5)).toMatchObject({ width: 75 });
    expect(rasterToGrey(raster, 999).values[17]).toBeCloseTo(raster.levels[0].samples[17]! / 65535, 6);
  });
});

describe('planes', () => {
  const plane = (width: number, height: number, value: (x: number, y: number) => number): GreyImage => ({
    width,
    height,
    values: Float32Array.from({ length: width * height }, (_, i) => value(i % width, Math.floor(i / width))),
  });

  it('keep a slope when they are enlarged', () => {
    const large = resizeGrey(
      plane(10, 6, (x, y) => x + 2 * y),
      40,
      24,
    );
    // Away from the edges, where bilinear values stay level.
    for (let y = 4; y < 20; y++)
      for (let x = 4; x < 36; x++)
        expect(large.values[y * 40 + x]).toBeCloseTo((x + 0.5) / 4 - 0.5 + 2 * ((y + 0.5) / 4 - 0.5), 4);
  });

  it('that follow their guide are left alone by the guided filter, and noise off an edge is not', () => {
    const guide = plane(60, 40, (x) => (x < 30 ? 0.2 : 0.7));
    const linear = { ...guide, values: guide.values.map((v) => 0.5 * v + 0.1) };
    const same = applyGuided(guidedCoefficients(guide, linear, 4, 1e-6), guide);
    same.values.forEach((v, i) => expect(v).toBeCloseTo(linear.values[i]!, 3));
    const noisy = { ...guide, values: guide.values.map((v, i) => v + (((i * 7919) % 100) - 50) / 500) };
    const calm = applyGuided(guidedCoefficients(guide, noisy, 4, 1e-3), guide);
    const roughness = ({ values }: GreyImage): number => {
      let sum = 0;
      for (let i = 1; i < 28; i++) sum += Math.abs(values[20 * 60 + i]! - values[20 * 60 + i - 1]!);
      return sum;
    };
    expect(roughness(calm)).toBeLessThan(roughness(noisy) * 0.2);
    expect(calm.values[20 * 60 + 31]! - calm.values[20 * 60 + 28]!).toBeGreaterThan(0.4);
  });

  it('are enlarged with their guide: the outline comes out at the fine size', () => {
    const coarse = plane(40, 20, (x) => (x < 20 ? 0.1 : 0.9));
    const fine = plane(160, 80, (x) => (x < 80 ? 0.1 : 0.9));
    const cut = plane(40, 20, (x) => (x < 20 ? 0 : 1));
    const { values } = applyGuided(guidedCoefficients(coarse, cut, 3, 1e-4), fine);
    expect(values[40 * 160 + 78]).toBeLessThan(0.05);
    expect(values[40 * 160 + 81]).toBeGreaterThan(0.95);
  });
});
