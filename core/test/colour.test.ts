import { converter } from 'culori';
import fc from 'fast-check';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { fitsGamut, saturate } from '../reference/oklab';
import { gradeFloats } from '../src/colour/grade';
import { type Triple, times, toOklab } from '../src/colour/oklab';
import { P3_TO_SRGB, SRGB_TO_P3, product } from '../src/colour/primaries';
import {
  displayP3Profile,
  fromLinear,
  isInSrgb,
  isP3Profile,
  linearSrgbProfile,
  profileName,
  toDisplayP3,
  toLinear,
} from '../src/index';
import { adobeProfile } from './profile-file';
import { between } from './arbitraries';
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

/** A random 8-bit sRGB colour, as linear light. */
const level = fc.integer({ min: 0, max: 255 }).map((v) => toLinear(v / 255));
const pixel = fc.tuple(level, level, level);

/** False where the gamut ends, begins again and ends on the way to the wanted chroma: then there are two answers. */
function hasOneEnd(rgb: [number, number, number], amount: number): boolean {
  const fits = Array.from({ length: 200 }, (_, i) => fitsGamut(rgb, 1 + (amount * i) / 199));
  return !fits.some((fit, i) => fit && fits.slice(0, i).includes(false));
}

describe('saturation', () => {
  it('agrees with the double-precision reference to 1/255, for random sRGB, inside the gamut and at its edge', () => {
    fc.assert(
      fc.property(fc.array(pixel, { minLength: 16, maxLength: 16 }), between(-1, 1), (pixels, amount) => {
        kernelSaturate(pixels, amount).forEach((ours, i) => {
          if (!hasOneEnd(pixels[i]!, amount)) return;
          const exact = saturate(pixels[i]!, amount);
          ours.forEach((v, c) =>
            expect(Math.abs(fromLinear(Math.min(1, Math.max(0, v))) - fromLinear(exact[c]!))).toBeLessThan(
              1 / 255,
            ),
          );
        });
      }),
      { numRuns: 150 },
    );
  });

  it('finds the most chroma that fits where the way to it is far from straight', () => {
    const blue = [23, 52, 223].map((v) => toLinear(v / 255)) as [number, number, number];
    const [ours] = kernelSaturate([blue], 0.3);
    const chroma = (rgb: [number, number, number]): number => Math.hypot(...toOklab(rgb).slice(1));
    expect(chroma(ours!) / chroma(saturate(blue, 0.3))).toBeCloseTo(1, 2);
  });

  it('keeps what is brighter than white', () => {
    const [ours] = kernelSaturate([[2.5, 1.8, 0.9]], 0.2);
    expect(Math.max(...ours!)).toBeGreaterThan(2);
    expect(kernelSaturate([[2.5, 1.8, 0.9]], 0)[0]![0]).toBeCloseTo(2.5, 5);
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

describe('sixteen bits', () => {
  it('come back as they were where colours are all but left alone', async () => {
    const data = Uint16Array.from({ length: 256 * 256 * 3 }, (_, i) => Math.imul(i, 40503) >>> 3);
    const grey = data.map((_, i) => Math.floor(i / 3));
    for (const samples of [data, grey]) {
      const picture = { width: 256, height: 256, data: samples, channels: 3 as const };
      const result = await renderPicture(picture, recipe({ colour: { saturation: 1e-9 } }));
      let worst = 0;
      for (let i = 0; i < samples.length; i++) worst = Math.max(worst, Math.abs(result[i]! - samples[i]!));
      expect(worst).toBeLessThanOrEqual(3);
    }
  });
});

describe('dither', () => {
  it('leaves flat black and flat white alone, and keeps the mean just beside them', async () => {
    const how = recipe({ focus: { rest: 1 }, blur: { radius: 0.05 } });
    for (const value of [0, 255]) {
      const picture = testPicture(96, 64);
      picture.data.fill(value);
      expect(new Set(await renderPicture(picture, how))).toEqual(new Set([value]));
    }
    for (const value of [1, 2, 253, 254]) {
      const picture = testPicture(96, 64);
      picture.data.fill(value);
      const result: ArrayLike<number> = await renderPicture(picture, how);
      const mean = Array.from(result).reduce((sum, v) => sum + v, 0) / result.length;
      expect(mean).toBeCloseTo(value, 1);
    }
  });
});

describe('Display P3', () => {
  const roomy = fc.tuple(between(0.05, 0.7), between(0.05, 0.7), between(0.05, 0.7));
  const put = (pixels: Triple[]): void =>
    pixels.forEach((rgb, i) => rgb.forEach((v, c) => (floats[1024 + c * PLANE + i] = v)));
  const got = (count: number): Triple[] =>
    Array.from(
      { length: count },
      (_, i) => [0, 1, 2].map((c) => floats[1024 + c * PLANE + i]!) as unknown as Triple,
    );
  const rows = fc.array(roomy, { minLength: 16, maxLength: 16 });

  it('has primaries that are each other’s inverse, keep white, and are those of its standard', () => {
    const back = product(P3_TO_SRGB, SRGB_TO_P3);
    back.forEach((v, i) => expect(v).toBeCloseTo(i % 4 === 0 ? 1 : 0, 8));
    for (const matrix of [P3_TO_SRGB, SRGB_TO_P3])
      times(matrix, [1, 1, 1]).forEach((v) => expect(v).toBeCloseTo(1, 8));
    const toRgb = converter('lrgb');
    for (const [i, one] of (['r', 'g', 'b'] as const).entries()) {
      const { r, g, b } = toRgb({ mode: 'p3', r: 0, g: 0, b: 0, [one]: 1 });
      [r, g, b].forEach((v, k) => expect(P3_TO_SRGB[3 * k + i]).toBeCloseTo(v, 4));
    }
  });

  it('is changed in its colours as sRGB is, where neither ends', () => {
    const grade = gradeFloats({
      exposure: 0,
      warmth: 0,
      tint: 0,
      clarity: 0,
      contrast: 0.3,
      vibrance: 0.1,
      saturation: -0.2,
      balance: { shadows: [0.01, -0.01], middle: [0, 0.01], lights: [-0.005, 0] },
      mono: { on: false, mix: { red: 0, yellow: 0, green: 0, cyan: 0, blue: 0, magenta: 0 } },
    });
    grade.forEach((value, i) => (floats[i] = value));
    fc.assert(
      fc.property(rows, (pixels) => {
        for (const [inSrgb, inP3] of [
          [() => kernels.gradeRow(4096, PLANE * 4, 16, 0), () => kernels.gradeRowP3(4096, PLANE * 4, 16, 0)],
          [
            () => kernels.saturateRow(4096, PLANE * 4, 16, -0.3),
            () => kernels.saturateRowP3(4096, PLANE * 4, 16, -0.3),
          ],
        ] as const) {
          put(pixels);
          inSrgb();
          const exact = got(16).map((rgb) => times(SRGB_TO_P3, rgb));
          put(pixels.map((rgb) => times(SRGB_TO_P3, rgb)));
          inP3();
          got(16).forEach((rgb, i) =>
            rgb.forEach((v, c) => expect(Math.abs(v - exact[i]![c]!)).toBeLessThan(2e-5)),
          );
        }
      }),
      { numRuns: 60 },
    );
  });

  it('may be more saturated than sRGB, to the edge of its own gamut', () => {
    const red: Triple = times(SRGB_TO_P3, [0.8, 0.05, 0.05]);
    put([red]);
    kernels.saturateRowP3(4096, PLANE * 4, 1, 0.9);
    const [made] = got(1);
    expect(Math.min(...times(P3_TO_SRGB, made!))).toBeLessThan(-0.01);
    expect(Math.min(...made!)).toBeGreaterThan(-1e-4);
    expect(Math.max(...made!)).toBeLessThan(1.0001);
  });

  it('tells what sRGB has, too', () => {
    expect(isInSrgb(120, 120, 120)).toBe(true);
    expect(isInSrgb(255, 255, 255)).toBe(true);
    expect(isInSrgb(255, 0, 0)).toBe(false);
    expect(isInSrgb(20, 235, 40)).toBe(false);
  });

  it('takes up what other wide profiles have, as a library of colours does', () => {
    const toP3 = toDisplayP3(adobeProfile())!;
    const exact = converter('p3');
    const colours = fc.sample(fc.integer({ min: 0, max: 65535 }), 3 * 400);
    const deep = Uint16Array.from(colours);
    toP3(deep, 3);
    for (let i = 0; i < colours.length; i += 3) {
      const [r, g, b] = colours.slice(i, i + 3).map((v) => v / 65535) as [number, number, number];
      const due = exact({ mode: 'a98', r, g, b });
      [due.r, due.g, due.b].forEach((value, c) =>
        expect(Math.abs(deep[i + c]! / 65535 - Math.min(1, Math.max(0, value)))).toBeLessThan(0.0035),
      );
    }
    // With 8 bits it is the same, rounded, and a fourth channel stays.
    const plain = Uint8Array.from(colours, (v) => v >> 8);
    toP3(plain, 4);
    const again = Uint16Array.from(colours, (v) => (v >> 8) * 257);
    toP3(again, 4);
    plain.forEach((value, i) => {
      if (i % 4 === 3) expect(value).toBe(colours[i]! >> 8);
      else expect(Math.abs(value - again[i]! / 257)).toBeLessThan(0.51);
    });
    const grey = Uint16Array.from([30_000, 30_000, 30_000]);
    toP3(grey, 3);
    expect(Math.max(...grey) - Math.min(...grey)).toBeLessThan(40);
  });

  it('is not made of what has no more than sRGB, or is of another kind', async () => {
    const icc = async (name: string): Promise<Uint8Array> => {
      const one = sharp({ create: { width: 1, height: 1, channels: 3, background: '#000' } });
      return (await sharp(await one.withIccProfile(name).png().toBuffer()).metadata()).icc!;
    };
    expect(toDisplayP3(await icc('srgb'))).toBeNull();
    expect(toDisplayP3(linearSrgbProfile())).toBeNull();
    expect(toDisplayP3(await icc('p3'))).not.toBeNull();
    expect(toDisplayP3(new Uint8Array(0))).toBeNull();
    const grey = adobeProfile();
    grey.set(
      [...'GRAY'].map((one) => one.charCodeAt(0)),
      16,
    );
    expect(toDisplayP3(grey)).toBeNull();
  });

  it('is told by its profile, whatever that is called; others, cut and empty ones are not', () => {
    const profile = displayP3Profile();
    expect(isP3Profile(profile)).toBe(true);
    expect(profileName(profile)).toBe('Display P3');
    for (let length = 0; length < profile.length - 40; length += 7)
      expect(isP3Profile(profile.subarray(0, length))).toBe(false);
    fc.assert(
      fc.property(fc.nat(profile.length - 1), fc.nat(255), (at, value) => {
        const spoiled = profile.slice();
        spoiled[at] = value;
        isP3Profile(spoiled);
        toDisplayP3(spoiled)?.(Uint8Array.from([9, 200, 30]), 3);
      }),
    );
  });
});
