import { describe, expect, it } from 'vitest';
import {
  type RecipeAssets,
  type LiftedSubject,
  type Raster,
  Scratch,
  diagonal,
  fromLinear,
  keepMasksOf,
  liftSubject,
  makeRaster,
  parseRecipe,
  resolveTidiedRecipe,
  toLinear,
  resolveRecipe,
} from '../src/index';
import { groundDepth } from '../src/layers/ground-depth';
import { type Picture, kernelModule, recipe, renderPicture } from './harness';

const size = { width: 160, height: 112 };
const D = diagonal(size);
const [MIDDLE, RADIUS, BLUR] = [[80, 56] as const, 26, 7];

/** How much of a pixel a disc covers. */
const discAt = (x: number, y: number): number =>
  Math.min(1, Math.max(0, RADIUS + 0.5 - Math.hypot(x + 0.5 - MIDDLE[0], y + 0.5 - MIDDLE[1])));
/** Smooth ground behind a striped disc, in linear light. */
const groundAt = (x: number, y: number): number[] => [
  0.35 + 0.2 * Math.sin(x / 23),
  0.3 + 0.15 * Math.cos(y / 17),
  0.25 + 0.1 * Math.sin((x + y) / 29),
];
const subjectAt = (x: number): number[] => (x % 12 < 6 ? [0.9, 0.1, 0.05] : [0.8, 0.75, 0.1]);

const matte = makeRaster(
  'disc',
  size.width,
  size.height,
  Uint16Array.from({ length: size.width * size.height }, (_, i) =>
    Math.round(65535 * discAt(i % size.width, Math.floor(i / size.width))),
  ),
);

function drawn(light: (x: number, y: number) => number[], top: 255 | 65535 = 255): Picture {
  const { width, height } = size;
  const data = top === 255 ? new Uint8Array(width * height * 3) : new Uint16Array(width * height * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      light(x, y).forEach((v, c) => (data[(y * width + x) * 3 + c] = Math.round(top * fromLinear(v))));
  return { width, height, data, channels: 3 };
}

const overGround = (x: number, y: number): number[] => {
  const m = discAt(x, y);
  return subjectAt(x).map((v, c) => m * v + (1 - m) * groundAt(x, y)[c]!);
};
const picture = drawn(overGround);

const lift = (from: Picture, raster: Raster = matte): Promise<LiftedSubject | null> =>
  liftSubject(new Scratch(), kernelModule, from, raster, 'm');

/** A recipe with one subject, and what it names on a picture. */
async function withSubject(
  parts: object,
  focus: object = {},
  from = picture,
): Promise<{ how: ReturnType<typeof recipe>; pictures: Partial<RecipeAssets> }> {
  const how = recipe({
    blur: { kind: 'lens', radius: BLUR / D },
    focus: { rest: 0, ...focus, mattes: [{ id: 'm', image: 'disc.png', ...parts }] },
  });
  const keep = keepMasksOf([{ how: how.focus.mattes[0]!, picture: matte }], size.width, false);
  const made = await lift(from);
  return { how, pictures: { keep, lifted: made ? new Map([['m', made]]) : new Map() } };
}

const APERTURE = Array.from({ length: (2 * BLUR + 3) ** 2 }, (_, i) => {
  const [dx, dy] = [(i % (2 * BLUR + 3)) - BLUR - 1, Math.floor(i / (2 * BLUR + 3)) - BLUR - 1];
  return { dx, dy, weight: Math.min(1, Math.max(0, BLUR + 0.5 - Math.hypot(dx, dy))) };
}).filter(({ weight }) => weight > 0);
const WEIGHT = APERTURE.reduce((sum, { weight }) => sum + weight, 0);

/** What is seen through a round aperture: the mean over a disc. */
function throughDisc(at: (x: number, y: number) => number[], x: number, y: number): number[] {
  const sum = [0, 0, 0, 0];
  for (const { dx, dy, weight } of APERTURE)
    at(x + dx, y + dy).forEach((v, c) => (sum[c]! += (weight * v) / WEIGHT));
  return sum;
}

/** Peak signal-to-noise ratio against linear light, of all, and within a blur's radius of the outline. */
function psnrs(out: ArrayLike<number>, due: (x: number, y: number) => number[]) {
  const sums = { whole: [0, 0], rim: [0, 0] } as Record<'whole' | 'rim', [number, number]>;
  for (let y = 12; y < size.height - 12; y++)
    for (let x = 12; x < size.width - 12; x++)
      due(x, y).forEach((v, c) => {
        const off = (out[(y * size.width + x) * 3 + c]! - 255 * fromLinear(v)) ** 2;
        const far = Math.abs(Math.hypot(x + 0.5 - MIDDLE[0], y + 0.5 - MIDDLE[1]) - RADIUS);
        for (const one of far <= BLUR ? [sums.whole, sums.rim] : [sums.whole]) {
          one[0] += off;
          one[1]++;
        }
      });
  const psnr = ([sum, count]: [number, number]): number => 10 * Math.log10((255 * 255 * count) / sum);
  return { whole: psnr(sums.whole), rim: psnr(sums.rim) };
}

/** A band of haze at the lower edge, where the foot of a standing subject is. */
const HAZY_FOOT = {
  bands: [
    { id: 'a', kind: 'planar', centre: [0.5, 0.3], near: { clear: 0.3, falloff: 0.01 }, far: { clear: 1 } },
  ],
  rest: 1,
};
const FOOT: [number, number] = [0.5, 0.99];

describe('a lifted subject', () => {
  it('is the picture, bit for bit, where nothing is hazy', async () => {
    for (const from of [picture, drawn(overGround, 65535)]) {
      const { how, pictures } = await withSubject({ lifted: true }, {}, from);
      expect(await renderPicture(from, how, { pictures })).toEqual(from.data);
    }
  });

  it('makes the picture again with the ground behind it', async () => {
    const made = (await lift(picture))!;
    const [subject, ground] = [made.subject.levels[0], made.ground.levels[0]];
    const left = Math.round(made.place.centre[0] * size.width - subject.width / 2);
    const top = Math.round(made.place.centre[1] * size.height - subject.height / 2);
    let most = 0;
    for (let y = 0; y < subject.height; y++)
      for (let x = 0; x < subject.width; x++)
        for (let c = 0; c < 3; c++) {
          const at = 4 * (y * subject.width + x);
          const p = 65535 * toLinear(picture.data[((y + top) * size.width + x + left) * 3 + c]! / 255);
          const below = ground.samples[at + c]! + (1 - ground.samples[at + 3]! / 65535) * p;
          const seen = subject.samples[at + c]! + (1 - subject.samples[at + 3]! / 65535) * below;
          most = Math.max(most, Math.abs(seen - p));
          expect(subject.samples[at + c]!).toBeLessThanOrEqual(subject.samples[at + 3]!);
        }
    // But for light that no subject can have, which is held.
    expect(most / 65535).toBeLessThan(0.02);
  });

  it('leaves the ground behind it for who wants that alone, also where nothing is hazy', async () => {
    for (const [from, focus] of [
      [picture, {}],
      [picture, HAZY_FOOT],
      [drawn(overGround, 65535), {}],
    ] as const) {
      const { how, pictures } = await withSubject({ lifted: true }, focus, from);
      const look = { ...resolveRecipe(how, size, pictures), layers: [], showsGround: true } as const;
      const out = await renderPicture(from, how, { pictures, look });
      const top = out instanceof Uint16Array ? 65535 : 255;
      let most = 0;
      for (let y = 40; y < 72; y++)
        for (let x = 60; x < 100; x++)
          for (const [c, light] of groundAt(x, y).entries())
            most = Math.max(most, Math.abs(toLinear(out[(y * size.width + x) * 3 + c]! / top) - light));
      // It is made up of what lies around: near, not equal.
      expect(most).toBeLessThan(0.3);
      // Nothing is left of the stripes, whose red goes to 0.9 beside a green of 0.1.
      for (let x = 60; x < 100; x++) {
        const [r, g] = [0, 1].map((c) => toLinear(out[(56 * size.width + x) * 3 + c]! / top));
        expect(r! - g!).toBeLessThan(0.35);
      }
    }
  });

  it('goes soft over the ground behind it, without an edge', async () => {
    const own = (u: number, v: number): number[] => [...subjectAt(u), 1].map((light) => light * discAt(u, v));
    const due = (x: number, y: number): number[] => {
      const seen = throughDisc(own, x, y);
      return groundAt(x, y).map((light, c) => seen[c]! + (1 - seen[3]!) * light);
    };
    const seen = async (lifted: boolean) => {
      const { how, pictures } = await withSubject({ as: 'standing', lifted, foot: FOOT }, HAZY_FOOT);
      return psnrs(await renderPicture(picture, how, { pictures }), due);
    };
    const [flat, lifted] = [await seen(false), await seen(true)];
    expect(lifted.rim).toBeGreaterThan(34);
    expect(lifted.rim).toBeGreaterThan(flat.rim + 6);
  });

  it('leaves no stain in the blur behind it', async () => {
    const due = (x: number, y: number): number[] => {
      const [m, ground] = [discAt(x, y), throughDisc(groundAt, x, y)];
      return subjectAt(x).map((light, c) => m * light + (1 - m) * ground[c]!);
    };
    for (const kind of ['lens', 'gaussian', 'motion'] as const) {
      const { how, pictures } = await withSubject({ lifted: true }, { rest: 1 });
      const own = parseRecipe({ ...how, blur: { ...how.blur, kind } });
      expect(psnrs(await renderPicture(picture, own, { pictures }), due).rim, kind).toBeGreaterThan(34);
    }
  });

  it('is the same on a part of the picture, and stays in its place on a turned sheet', async () => {
    const { how, pictures } = await withSubject({ as: 'standing', lifted: true, foot: FOOT }, HAZY_FOOT);
    const whole = await renderPicture(picture, how, { pictures });
    const part = { x: 60, y: 30, width: 64, height: 40 };
    const cut = drawn((x, y) => overGround(x + part.x, y + part.y));
    const samples = new Uint8Array(part.width * part.height * 3);
    for (let y = 0; y < part.height; y++)
      for (let i = 0; i < part.width * 3; i++)
        samples[y * part.width * 3 + i] = cut.data[y * size.width * 3 + i]!;
    const region = { ...part, picture: size };
    const own = await renderPicture({ ...part, data: samples, channels: 3 }, how, {
      region,
      look: resolveTidiedRecipe(how, size, pictures),
    });
    // Away from the edge, beyond which a part knows nothing.
    for (let y = 10; y < 30; y++)
      for (let x = 10; x < 54; x++)
        for (let c = 0; c < 3; c++) {
          const other = whole[((y + part.y) * size.width + x + part.x) * 3 + c]!;
          expect(Math.abs(own[(y * part.width + x) * 3 + c]! - other)).toBeLessThanOrEqual(1);
        }
    const turned = parseRecipe({ ...how, tidy: { crop: { ...how.tidy.crop, flip: true } } });
    const { layers, grounds } = resolveTidiedRecipe(turned, size, pictures);
    expect(layers[0]!.flip).toBe(true);
    expect(grounds[0]!.centre[0]).toBeCloseTo(1 - layers[0]!.centre[0] + 2 * (layers[0]!.centre[0] - 0.5), 9);
  });

  it('leaves the ground behind it as far as what lies around', () => {
    const [width, height] = [1200, 800];
    const rampAt = (x: number, y: number): number => Math.round(10_000 + 20 * x + 15 * y);
    const isSubject = (x: number, y: number): boolean => Math.hypot(x - 500, y - 400) < 150;
    const drawnAs = (id: string, value: (x: number, y: number) => number): Raster =>
      makeRaster(
        id,
        width,
        height,
        Uint16Array.from({ length: width * height }, (_, i) => value(i % width, Math.floor(i / width))),
      );
    const map = drawnAs('near', (x, y) => (isSubject(x, y) ? 60_000 : rampAt(x, y)));
    const subject = drawnAs('subject', (x, y) => (isSubject(x, y) ? 65_535 : 0));
    const made = groundDepth(map, [subject]);
    expect(groundDepth(map, [subject])).toBe(made);
    let [most, changed] = [0, 0];
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const [value, far] = [made.levels[0].samples[y * width + x]!, Math.hypot(x - 500, y - 400)];
        if (far < 150) most = Math.max(most, Math.abs(value - rampAt(x, y)));
        else if (far > 165 && value !== rampAt(x, y)) changed++;
      }
    expect(changed).toBe(0);
    expect(most / 65_535).toBeLessThan(0.04);
  });

  it('lies over both sides of a depth map, the same whatever the strips', async () => {
    const depth = makeRaster('depth', 2, 1, new Uint16Array([9000, 60000]));
    const depthMap = { image: 'd.png', focus: 0.4, clear: 0.02, falloff: 0.3 };
    for (const kind of ['lens', 'gaussian', 'zoom']) {
      const { how, pictures } = await withSubject({ lifted: true }, { depthMap });
      const own = parseRecipe({ ...how, blur: { ...how.blur, kind } });
      const all = { pictures: { ...pictures, depth } };
      const whole = await renderPicture(picture, own, { ...all, stripRows: 256 });
      expect(await renderPicture(picture, own, { ...all, stripRows: 16, workers: 3 })).toEqual(whole);
      // The subject itself is clear, well inside its outline.
      const at = ([x, y]: readonly [number, number]): number => (y * size.width + x) * 3;
      for (let c = 0; c < 3; c++)
        expect(Math.abs(whole[at(MIDDLE) + c]! - picture.data[at(MIDDLE) + c]!)).toBeLessThanOrEqual(1);
    }
  });

  it('stays in the picture until it is there, and where there is none', async () => {
    const { how, pictures } = await withSubject({ lifted: true }, { rest: 1 });
    const flat = await withSubject({}, { rest: 1 });
    const without = { ...pictures, lifted: new Map() };
    expect(await renderPicture(picture, how, { pictures: without })).toEqual(
      await renderPicture(picture, flat.how, { pictures: flat.pictures }),
    );
    // One that is no longer wanted is not used, though it is still there.
    expect(resolveTidiedRecipe(flat.how, size, pictures).layers).toEqual([]);
    const nothing = makeRaster('none', 8, 8, new Uint16Array(64));
    expect(await lift(picture, nothing)).toBeNull();
    const parts = { premultiplied: new Uint16Array(4), alpha: new Uint16Array(4) };
    expect(await liftSubject(new Scratch(), kernelModule, { ...picture, parts }, matte, 'm')).toBeNull();
  });

  it('is all of a picture where the matte is', async () => {
    const all = makeRaster('all', 4, 4, new Uint16Array(16).fill(65535));
    const made = (await lift(picture, all))!;
    expect(made.subject.levels[0]).toMatchObject(size);
    expect(made.ground.levels[0].samples.every(Number.isFinite)).toBe(true);
  });
});
