import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { graded, wanted } from '../reference/grade';
import { fromOklab, times, toOklab } from '../src/colour/oklab';
import { primariesMatrix } from '../src/colour/primaries';
import {
  type Recipe,
  LOOK_NAMES,
  MIX_HUES,
  fromLinear,
  huesOf,
  toLinear,
  whiteBalanceFrom,
} from '../src/index';
import { gradeFloats, stagesOf } from '../src/colour/grade';
import { lookColour } from '../src/recipe/looks';
import { whiteBalanceMatrix } from '../src/colour/white-balance';
import { between } from './arbitraries';
import { kernelsWith, recipe, renderPicture, testPicture } from './harness';

type Triple = [number, number, number];
type Colour = Recipe['colour'];

const { memory, kernels } = await kernelsWith(1 << 20);
const floats = new Float32Array(memory.buffer);
const PLANE = 64;

const colourOf = (parts: object): Colour => recipe({ colour: parts }).colour;

function kernelGrade(pixels: Triple[], colour: Colour): Triple[] {
  floats.set(gradeFloats(colour), 256);
  pixels.forEach((rgb, i) => rgb.forEach((v, c) => (floats[1024 + c * PLANE + i] = v)));
  kernels.gradeRow(4096, PLANE * 4, pixels.length, 1024);
  return pixels.map((_, i) => [0, 1, 2].map((c) => floats[1024 + c * PLANE + i]!) as Triple);
}

const coded = (v: number): number => fromLinear(Math.min(1, Math.max(0, v)));
const level = fc.integer({ min: 0, max: 255 }).map((v) => toLinear(v / 255));
const pixel = fc.tuple(level, level, level);
const half = between(-0.2, 0.2);
const shift = fc.tuple(half, half);
const colour = fc.record({
  contrast: between(-1, 1),
  vibrance: between(-1, 1),
  saturation: between(-1, 1),
  balance: fc.record({ shadows: shift, middle: shift, lights: shift }),
  mono: fc.record({
    on: fc.boolean(),
    mix: fc.record(Object.fromEntries(MIX_HUES.map((hue) => [hue, between(-1, 1)]))),
  }),
});

/** False where the gamut ends, begins again and ends on the way to the wanted chroma: then there are two answers. */
function hasOneEnd(rgb: Triple, how: Colour): boolean {
  const [light, a, b] = wanted(rgb, how);
  const fits = Array.from({ length: 200 }, (_, i) => {
    const one = fromOklab([light, (a * i) / 199, (b * i) / 199]);
    return Math.min(...one) >= -5e-5 && Math.max(...one) <= Math.max(1 + 5e-5, light ** 3);
  });
  return !fits.some((fit, i) => fit && fits.slice(0, i).includes(false));
}

describe('tone and colour', () => {
  it('agree with the double-precision formula to 1/255, whatever is set', () => {
    fc.assert(
      fc.property(fc.array(pixel, { minLength: 16, maxLength: 16 }), colour, (pixels, parts) => {
        const how = colourOf(parts);
        kernelGrade(pixels, how).forEach((ours, i) => {
          if (!hasOneEnd(pixels[i]!, how)) return;
          const exact = graded(pixels[i]!, how);
          ours.forEach((v, c) => expect(Math.abs(coded(v) - coded(exact[c]!))).toBeLessThan(1 / 255));
        });
      }),
      { numRuns: 200 },
    );
  });

  it('leave black, white and the middle where contrast pulls the rest apart, and hues as they are', () => {
    const greys = [0, 64, 128, 192, 255].map((v): Triple => [0, 1, 2].map(() => toLinear(v / 255)) as Triple);
    for (const contrast of [-1, -0.4, 0.5, 1]) {
      const out = kernelGrade(greys, colourOf({ contrast })).map(([r]) => coded(r) * 255);
      expect(out[0]).toBeCloseTo(0, 1);
      expect(Math.abs(out[2]! - 128)).toBeLessThan(0.7);
      expect(out[4]).toBeCloseTo(255, 1);
      expect(Math.sign(out[3]! - 192)).toBe(Math.sign(contrast));
      expect(Math.sign(64 - out[1]!)).toBe(Math.sign(contrast));
    }
    const rust: Triple = [0.3, 0.1, 0.04];
    const [ours] = kernelGrade([rust], colourOf({ contrast: 0.6 }));
    const hue = (rgb: Triple): number => Math.atan2(toOklab(rgb)[2], toOklab(rgb)[1]);
    expect(hue(ours!)).toBeCloseTo(hue(rust), 3);
  });

  it('raise pale colours more than strong ones by vibrance', () => {
    const chroma = (rgb: Triple): number => Math.hypot(...toOklab(rgb).slice(1));
    const [pale, strong]: [Triple, Triple] = [[0.3, 0.27, 0.25], [0.4, 0.15, 0.1]]; // prettier-ignore
    const [a, b] = kernelGrade([pale, strong], colourOf({ vibrance: 0.7 }));
    expect(chroma(a!) / chroma(pale)).toBeGreaterThan(1.5);
    expect(chroma(b!) / chroma(strong)).toBeLessThan(chroma(a!) / chroma(pale));
    expect(chroma(b!)).toBeGreaterThan(chroma(strong));
  });

  it('shift shadows, middle and lights each by itself', () => {
    const at = (light: number): Triple => fromOklab([light, 0, 0]);
    const out = kernelGrade([at(0.25), at(0.9)], colourOf({ balance: { lights: [0.02, 0.05] } })).map(
      toOklab,
    );
    expect(out[0]![2]).toBeCloseTo(0.05 * 0.25 ** 2, 4);
    expect(out[1]![2]).toBeCloseTo(0.05 * 0.81, 3);
    expect(out[1]![0]).toBeCloseTo(0.9, 3);
  });

  it('make greys of everything in black and white, lighter or darker by the hue', () => {
    const [red, blue]: [Triple, Triple] = [[0.4, 0.1, 0.1], [0.1, 0.1, 0.5]]; // prettier-ignore
    const how = colourOf({ mono: { on: true, mix: { red: 0.5, blue: -0.5 } } });
    for (const [i, [r, g, b]] of kernelGrade([red, blue], how).entries()) {
      expect([g, b]).toEqual([r, r]);
      const before = toOklab([red, blue][i]!)[0];
      expect(Math.sign(toOklab([r, g, b])[0] - before)).toBe(i === 0 ? 1 : -1);
    }
  });

  it('know which hues of a mix a colour lies between', () => {
    const mix = Object.fromEntries(MIX_HUES.map((hue, i) => [hue, i / 5]));
    const how = colourOf({ mono: { on: true, mix } });
    fc.assert(
      fc.property(pixel, (rgb) => {
        const hues = huesOf(rgb);
        const [light, a, b] = toOklab(rgb);
        if (!hues) {
          expect(Math.hypot(a, b)).toBeLessThan(0.011);
          return;
        }
        const mixed = hues.reduce((sum, { hue, share }) => sum + share * mix[hue]!, 0);
        expect(wanted(rgb, how)[0]).toBeCloseTo(light + 1.5 * mixed * Math.hypot(a, b), 5);
      }),
    );
    expect(huesOf([1, 0, 0])!.find(({ hue }) => hue === 'red')!.share).toBeCloseTo(1, 5);
    expect(huesOf([0.3, 0.3, 0.3])).toBeNull();
  });

  it('double light a stop, and take white to the warm side without changing how light it is', () => {
    expect(whiteBalanceMatrix(colourOf({ exposure: 1 }))).toEqual(
      [2, 0, 0, 0, 2, 0, 0, 0, 2].map((v) => expect.closeTo(v, 6) as number),
    );
    const matrix = whiteBalanceMatrix(colourOf({ warmth: 0.5, tint: -0.3 }));
    const white = [0, 1, 2].map((row) =>
      matrix.slice(3 * row, 3 * row + 3).reduce((a, b) => a + b),
    ) as Triple;
    expect(toOklab(white)).toEqual([
      expect.closeTo(1, 5),
      expect.closeTo(-0.021, 5),
      expect.closeTo(0.05, 5),
    ]);
  });

  it('are found from a place that should be grey, and make it so', () => {
    const part = fc.double({ min: -0.9, max: 0.9, noNaN: true });
    fc.assert(
      fc.property(part, part, fc.double({ min: 0.05, max: 0.5, noNaN: true }), (warmth, tint, grey) => {
        // A grey under a light that the opposite of some warmth and tint would make.
        const cast = [grey * (1 + 0.12 * warmth), grey, grey * (1 + 0.12 * tint)] as Triple;
        const found = whiteBalanceFrom(cast)!;
        const matrix = whiteBalanceMatrix(colourOf(found));
        const [, a, b] = toOklab(times(matrix, cast));
        expect(Math.abs(found.warmth) <= 1 && Math.abs(found.tint) <= 1).toBe(true);
        expect(Math.hypot(a, b)).toBeLessThan(1e-5);
      }),
    );
    expect(whiteBalanceFrom([0.3, 0.3, 0.3])).toEqual({
      warmth: expect.closeTo(0, 5) as number,
      tint: expect.closeTo(0, 5) as number,
    });
    // What is clipped or black says nothing; a strong colour goes as far as there is.
    // The same colour by the numbers of other primaries.
    const wide = primariesMatrix('srgb', 'display-p3')!;
    const [own, same] = [whiteBalanceFrom([0.4, 0.3, 0.2]), whiteBalanceFrom(times(wide, [0.4, 0.3, 0.2]), 'display-p3')]; // prettier-ignore
    expect(same!.warmth).toBeCloseTo(own!.warmth, 4);
    expect(same!.tint).toBeCloseTo(own!.tint, 4);
    expect(whiteBalanceFrom([1, 0.9, 0.8])).toBeNull();
    expect(whiteBalanceFrom([0, 0.2, 0.2])).toBeNull();
    expect(whiteBalanceFrom([0.02, 0.1, 0.9])!.warmth).toBe(1);
  });

  it('of a look come after one’s own, at its amount, and before black and white', async () => {
    const own = { exposure: 0.2, contrast: -0.1 };
    const mono = { on: true, mix: { red: 0.4 } };
    const [first, second] = stagesOf(colourOf({ ...own, look: { name: 'enamel', amount: 0.5 }, mono }));
    expect(first).toMatchObject({ ...own, mono: { on: false } });
    expect(second).toMatchObject({ contrast: 0.15, saturation: 0.15, mono });
    expect(stagesOf(colourOf({ ...own, look: { name: 'enamel', amount: 0 } }))).toHaveLength(1);
    const picture = testPicture(64, 9);
    const draw = async (colour: object) => Buffer.from(await renderPicture(picture, recipe({ colour })));
    const looks = await Promise.all(LOOK_NAMES.map((name) => draw({ look: { name } })));
    expect(new Set(looks.map((one) => one.toString('base64'))).size).toBe(LOOK_NAMES.length);
    const set = lookColour('plum dusk', 1);
    expect(Buffer.compare(looks[LOOK_NAMES.indexOf('plum dusk')]!, await draw(set))).toBe(0);
  });

  it('change no pixel where nothing is set, and are part of a whole render', async () => {
    const picture = testPicture(70, 40);
    const plain = await renderPicture(picture, recipe({}));
    expect(Buffer.compare(Buffer.from(plain), Buffer.from(picture.data))).toBe(0);
    const how = { exposure: 0.5, warmth: 0.4, contrast: 0.3, vibrance: 0.5, saturation: 0.2 };
    const out = await renderPicture(picture, recipe({ colour: how }), { workers: 2, stripRows: 12 });
    const matrix = whiteBalanceMatrix(colourOf(how));
    for (const i of [0, 333, 1200, 2799]) {
      const rgb = [0, 1, 2].map((c) => toLinear(picture.data[i * 3 + c]! / 255));
      const light = [0, 1, 2].map((row) =>
        rgb.reduce((sum, v, c) => sum + matrix[3 * row + c]! * v, 0),
      ) as Triple;
      const exact = graded(light, colourOf(how));
      exact.forEach((v, c) => expect(Math.abs(out[i * 3 + c]! - coded(v) * 255)).toBeLessThan(1.6));
    }
    const off = await renderPicture(picture, recipe({ colour: { ...how, on: false } }));
    expect(Buffer.compare(Buffer.from(off), Buffer.from(picture.data))).toBe(0);
  });
});
