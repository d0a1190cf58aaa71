// Where steps meet: each is tested by itself elsewhere; here by what one must not do to another.
import { describe, expect, it } from 'vitest';
import {
  type Content,
  deviations,
  diagonal,
  fromLinear,
  keepMaskFrom,
  type RenderSettings,
  makeRaster,
  type Noise,
  type PixelFormat,
  type Recipe,
  recipeAt,
  resolveRecipe,
  type Region,
  renderTransparent,
  SharedRenderer,
  SourceMeasures,
  splitAlpha,
  toLinear,
  wholeView,
} from '../src/index';
import { createMemory } from '../src/memory';
import { focusField } from '../src/focus/field';
import { planRender } from '../src/render/plan';
import { noiseUnder } from '../src/finish/grain/noise';
import {
  type Picture,
  bytesOf,
  formatOf,
  psnr,
  recipe,
  renderPicture,
  testPicture,
  testThreads,
} from './harness';

const most = (
  a: ArrayLike<number>,
  b: ArrayLike<number>,
  at: (i: number) => boolean = () => true,
): number => {
  let worst = 0;
  for (let i = 0; i < a.length; i++) if (at(i)) worst = Math.max(worst, Math.abs(a[i]! - b[i]!));
  return worst;
};

describe('a depth map inside out', () => {
  it('is blurred by a lens as the same field made by a band is', async () => {
    const picture = testPicture(240, 160);
    const band = { id: 'a', kind: 'planar', angle: 0, profile: 'linear', centre: [0.5, 0.45] };
    const sides = {
      near: { clear: 0.02, falloff: 0.3, haze: 0.8 },
      far: { clear: 0.02, falloff: 0.3, haze: 0.8 },
    };
    const lens = { kind: 'lens', radius: 7 / diagonal(picture) };
    const byBand = recipe({ focus: { bands: [{ ...band, ...sides }] }, blur: lens });
    const haze = focusField(byBand.focus, picture);
    // Depth that is clear where it lies farthest from the depth in focus.
    const samples = Uint16Array.from({ length: 240 * 160 }, (_, i) =>
      Math.round(65535 * (1 - haze((i % 240) + 0.5, Math.floor(i / 240) + 0.5))),
    );
    const depthMap = {
      image: 'd.png',
      focus: 0,
      clear: 0,
      falloff: 1,
      profile: 'linear',
      invert: true,
      align: 0,
    };
    const byDepth = recipe({ focus: { depthMap }, blur: lens });
    const depth = makeRaster('d', 240, 160, samples);
    const [one, other] = [
      await renderPicture(picture, byBand),
      await renderPicture(picture, byDepth, { pictures: { depth, keep: [] } }),
    ];
    expect(psnr(one, other)).toBeGreaterThan(42);
  });
});

describe('what is kept clear', () => {
  const [width, height] = [160, 100];
  /** A dark sky of few levels: what is lost of it shows. */
  const picture: Picture = { width, height, channels: 3, data: new Uint8Array(width * height * 3) };
  for (let i = 0; i < width * height; i++)
    picture.data.set([18 + (i % width) / 8, 24 + (i % width) / 6, 40 + Math.floor(i / width) / 3], i * 3);
  const isInside = (i: number): boolean => i % width >= 50 && i % width < 110;
  const samples = Uint16Array.from({ length: width * height }, (_, i) => (isInside(i) ? 65535 : 0));
  const matte = { keep: keepMaskFrom(makeRaster('k', width, height, samples)), depth: null };
  const points = Array.from({ length: 40 }, (_, i) => [0.5, i / 39] as [number, number]);
  const stroke = { mode: 'clear', radius: 0.16, softness: 0, strength: 1, pressure: 'none', points } as const;
  const ways = {
    'a subject': { focus: { rest: 1, mattes: [{ id: 'm', image: 'm.png' }] }, pictures: matte },
    'a stroke': { focus: { rest: 1, strokes: [stroke] }, pictures: undefined },
    'a depth map': {
      focus: { depthMap: { image: 'd.png', focus: 1, clear: 0.1, falloff: 0.2, align: 0 } },
      pictures: { depth: makeRaster('d', width, height, samples), keep: [] },
    },
  };
  const steps = {
    colour: { colour: { exposure: 0.8, saturation: 0.4, contrast: 0.3 } },
    vignette: { finish: { vignette: { amount: -0.5 } } },
  };
  const kinds = ['gaussian', 'lens', 'motion', 'spin', 'zoom'];
  const cases = Object.keys(ways).flatMap((way) =>
    Object.keys(steps).flatMap((step) => kinds.map((kind) => [way, step, kind] as const)),
  );

  it.each(cases)('by %s is what the steps of %s alone make of it, beside %s', async (way, step, kind) => {
    const { focus, pictures } = ways[way as keyof typeof ways];
    const parts = steps[step as keyof typeof steps];
    const blurred = await renderPicture(
      picture,
      recipe({ focus, blur: { kind, radius: 0.06 }, ...parts }),
      pictures ? { pictures } : {},
    );
    const alone = await renderPicture(picture, recipe({ blur: { on: false }, ...parts }));
    const well = (i: number): boolean => {
      const x = Math.floor(i / 3) % width;
      return x >= 58 && x < 102;
    };
    expect(most(blurred, alone, well)).toBeLessThanOrEqual(1);
  });
});

describe('what is measured on a source', () => {
  const [width, height] = [400, 300];
  const picture = testPicture(width, height);
  const measures = { source: new SourceMeasures('a', bytesOf(picture.data), formatOf(picture), picture) };

  const draw = async (how: Recipe, region: Region, from: Uint8Array, light = 1): Promise<Uint8Array> => {
    const renderer = new SharedRenderer(testThreads(2));
    const formats = { input: formatOf(picture), output: formatOf(picture) };
    await renderer.open({ ...wholeView(picture, how, formats), region, stripRows: 40 });
    renderer.input(0).set(from);
    const look = resolveRecipe(how, picture, {}, light, measures);
    return (await renderer.render({ slot: 0, source: 'a', look, content: 'picture' })).slice();
  };

  it('gives a part of the picture the clarity and grain that the whole has', async () => {
    const how = recipe({
      colour: { clarity: 0.6 },
      finish: { grain: { match: 1 } },
      focus: { rest: 1 },
      blur: { radius: 0.01 },
    });
    // Without blur a part needs nothing around it.
    const still = { ...how, blur: { ...how.blur, on: false } };
    const whole = await draw(still, { x: 0, y: 0, width, height, picture }, bytesOf(picture.data));
    const part = { x: 130, y: 90, width: 120, height: 80, picture };
    const cut = (all: Uint8Array): Uint8Array =>
      Uint8Array.from({ length: 120 * 80 * 3 }, (_, i) => {
        const p = Math.floor(i / 3);
        return all[((90 + Math.floor(p / 120)) * width + 130 + (p % 120)) * 3 + (i % 3)]!;
      });
    const seen = await draw(still, part, cut(bytesOf(picture.data)));
    expect(most(seen, cut(whole))).toBeLessThanOrEqual(1);
  });

  it('is measured in the light that evens a frame out', async () => {
    const how = recipe({ colour: { clarity: 0.7 } });
    const region = { x: 0, y: 0, width, height, picture };
    const darker: Picture = {
      ...picture,
      data: picture.data.map((v) => Math.round(fromLinear(toLinear(v / 255) / 2) * 255)),
    };
    const own = { source: new SourceMeasures('b', bytesOf(darker.data), formatOf(darker), darker) };
    const renderer = new SharedRenderer(testThreads(1));
    await renderer.open(wholeView(picture, how, { input: formatOf(picture), output: formatOf(picture) }));
    renderer.input(0).set(bytesOf(darker.data));
    const look = resolveRecipe(how, picture, {}, 2, own);
    const evened = (await renderer.render({ slot: 0, source: 'b', look, content: 'picture' })).slice();
    const bright = await draw(how, region, bytesOf(picture.data));
    let sum = 0;
    for (let i = 0; i < bright.length; i++) sum += Math.abs(bright[i]! - evened[i]!);
    // What halving the light lost of 8 bits is all that is left.
    expect(sum / bright.length).toBeLessThan(1.5);
  });

  it('of noise moves with light, and is steeper where the curve is', () => {
    const even: Noise = {
      bins: Array.from({ length: 16 }, () => [4e-4, 2e-4, 4e-4, 0, 0, 4e-4]),
      across: [0.3, 0],
      down: [0, 0],
    };
    expect(noiseUnder(even, 1)).toBe(even);
    const brighter = noiseUnder(even, 2);
    // In linear light noise is doubled with the light: coded, by the ratio of the slopes of both places.
    const slope = (v: number): number => (toLinear(v + 1e-4) - toLinear(v - 1e-4)) / 2e-4;
    for (const i of [6, 10, 14]) {
      const coded = (i + 0.5) / 16;
      const came = fromLinear(toLinear(coded) / 2);
      const steeper = (2 * slope(came)) / slope(coded);
      brighter.bins[i]!.forEach((v, k) =>
        expect(v * 1e4).toBeCloseTo(even.bins[i]![k]! * 1e4 * steeper ** 2, 0),
      );
      expect(deviations(brighter)[i]! / 0.02).toBeCloseTo(steeper, 1);
    }
  });
});

describe('one transparent pixel', () => {
  const [width, height] = [200, 120];
  const opaque = testPicture(width, height, 4);
  for (let y = 40; y < 70; y++)
    for (let x = 30; x < 170; x++)
      opaque.data.set([60 + x / 20, 60 + x / 20, 60 + x / 20], (y * width + x) * 4);
  for (const x of [60, 61, 120]) opaque.data.set([255, 255, 255], (55 * width + x) * 4);
  const nearly = opaque.data.slice();
  nearly[(height * width - 1) * 4 + 3] = 254;
  const parts = splitAlpha(nearly, 255)!;

  it.each([
    [
      'highlights of a lens',
      { blur: { kind: 'lens', radius: 0.03, lens: { highlights: { stops: 3, threshold: 0.9 } } } },
    ],
    ['colours', { blur: { radius: 0.03 }, colour: { exposure: 0.5, contrast: 0.3 } }],
    ['matched grain', { blur: { radius: 0.03 }, finish: { grain: { match: 1 } } }],
    ['smooth blur in 8 bits', { blur: { radius: 0.05 } }],
  ])('leaves %s as they are of an opaque picture', async (_, more) => {
    const how = recipe({ focus: { rest: 0.8 }, ...more });
    const size = { width, height };
    const look = resolveRecipe(how, size);
    const made = await renderTransparent(testThreads(2), size, look, { bytes: 1 }, (part, target) =>
      target.set(new Uint8Array(parts[part].buffer)),
    );
    const same = await renderPicture(opaque, how);
    const far = (i: number): boolean => Math.floor(i / 4 / width) < height - 24 && i % 4 < 3;
    let sum = 0;
    let count = 0;
    for (let i = 0; i < made.length; i++)
      if (far(i)) {
        sum += Math.abs(made[i]! - same[i]!);
        count++;
      }
    expect(most(made, same, far)).toBeLessThanOrEqual(2);
    expect(sum / count).toBeLessThan(0.1);
  });
});

describe('renders that overlap', () => {
  it('take turns: none reads the haze of another', async () => {
    const picture = testPicture(160, 120);
    const [first, second] = [0.2, 0.9].map((rest) =>
      recipe({ focus: { rest, bands: [{ id: 'a', kind: 'planar' }] }, blur: { kind: 'lens', radius: 0.03 } }),
    ) as [Recipe, Recipe];
    const renderer = new SharedRenderer(testThreads(2));
    await renderer.open({
      ...wholeView(picture, first, { input: formatOf(picture), output: formatOf(picture) }),
      stripRows: 16,
    });
    renderer.input(0).set(bytesOf(picture.data));
    const draw = async (how: Recipe, content: Content = 'picture'): Promise<Uint8Array> =>
      (await renderer.render({ slot: 0, source: 'a', look: resolveRecipe(how, picture), content })).slice();
    const [a, b, c] = await Promise.all([draw(first), draw(second), draw(first)]);
    const [one, two] = [await renderPicture(picture, first), await renderPicture(picture, second)];
    expect([most(a, one), most(b, two), most(c, one)]).toEqual([0, 0, 0]);
  });
});

describe('numbers at their ends', () => {
  it('keys at one time: the last counts, and nothing is lost in between', () => {
    const of = 'blur/radius';
    const keys = [0, 1, 1, 2].map((at, i) => ({
      of,
      at,
      value: [0.01, 0.02, 0.04, 0.05][i]!,
      ease: 'smooth' as const,
    }));
    const how = recipe({ keys });
    for (const time of [0, 0.5, 0.999, 1, 1.001, 1.5, 2])
      expect(recipeAt(how, time).blur.radius, `${time}`).toSatisfy(Number.isFinite);
    expect(recipeAt(how, 1).blur.radius).toBeCloseTo(0.04);
  });

  it('a threshold of 1 still finds what is white', async () => {
    const [width, height] = [80, 60];
    const picture: Picture = {
      width,
      height,
      channels: 3,
      data: new Uint8Array(width * height * 3).fill(20),
    };
    picture.data.fill(255, (30 * width + 40) * 3, (30 * width + 40) * 3 + 3);
    const drawn = (threshold: number, stops: number) =>
      renderPicture(
        picture,
        recipe({
          focus: { rest: 1 },
          blur: { kind: 'lens', radius: 0.05, lens: { highlights: { threshold, stops } } },
        }),
      );
    const [none, some, full] = [await drawn(1, 0), await drawn(1, 3), await drawn(0.98, 3)];
    const at = (30 * width + 42) * 3;
    expect(some[at]! - none[at]!).toBeGreaterThan(10);
    expect(Math.abs(some[at]! - full[at]!)).toBeLessThanOrEqual(2);
  });

  it('a squeezed aperture blurs at the right and lower edges as at the others', async () => {
    const [width, height] = [300, 220];
    const picture = testPicture(width, height);
    const turned: Picture = { ...picture, data: new Uint8Array(picture.data.length) };
    const count = width * height;
    for (let i = 0; i < count; i++)
      for (let c = 0; c < 3; c++) turned.data[(count - 1 - i) * 3 + c] = picture.data[i * 3 + c]!;
    const how = recipe({
      focus: { rest: 1 },
      blur: { kind: 'lens', radius: 36 / diagonal(picture), lens: { squeeze: 3 } },
    });
    const [one, other] = [await renderPicture(picture, how), await renderPicture(turned, how)];
    const back = new Uint8Array(one.length);
    for (let i = 0; i < count; i++)
      for (let c = 0; c < 3; c++) back[(count - 1 - i) * 3 + c] = other[i * 3 + c]!;
    // Half a turn changes nothing but the dither.
    expect(most(one, back)).toBeLessThanOrEqual(2);
  });

  it('a raster of odd sides is halved without moving', () => {
    const [width, height] = [255, 129];
    const ramp = Uint16Array.from({ length: width * height }, (_, i) => ((i % width) + 0.5) * 257);
    const { levels } = makeRaster('r', width, height, ramp);
    const [full, half] = levels;
    for (let x = 0; x < half!.width; x++) {
      const middle = ((x + 0.5) / half!.width) * full.width;
      expect(half!.samples[10 * half!.width + x]! / 257).toBeCloseTo(middle, 1);
    }
  });

  it.each(['gaussian', 'lens', 'motion', 'spin', 'zoom'] as const)(
    '120 megapixels of 16 bits fit under each blur, and 75 transparent ones: %s',
    (kind) => {
      const how = recipe({ focus: { rest: 1 }, blur: { kind, radius: 0.05 } });
      const deep: PixelFormat = { channels: 4, bytes: 2 };
      const view = wholeView({ width: 13_000, height: 9230 }, how, { input: deep, output: deep });
      const transparent = wholeView({ width: 10_600, height: 7070 }, how, {
        input: { covered: 'parts' },
        output: { covered: 'straight16' },
      });
      for (const one of [view, { ...view, hasDepth: true }, transparent])
        expect(planRender(one, 8).bytes).toBeLessThanOrEqual(2 ** 32);
    },
  );

  it('paths are the same where memory is short', async () => {
    const picture = testPicture(120, 80);
    const how = recipe({ focus: { rest: 1 }, blur: { kind: 'motion', radius: 0.1, motion: { angle: 25 } } });
    const whole = await renderPicture(picture, how);
    const renderer = new SharedRenderer(testThreads(1));
    const view = wholeView(picture, how, { input: formatOf(picture), output: formatOf(picture) });
    const memory = createMemory(40 << 20);
    await renderer.openAs(planRender(view, 1, undefined, 0), memory);
    renderer.input(0).set(bytesOf(picture.data));
    const look: RenderSettings = resolveRecipe(how, picture);
    const tight = (await renderer.render({ slot: 0, source: 'a', look, content: 'picture' })).slice();
    expect(psnr(whole, tight)).toBeGreaterThan(44);
  });
});

describe('chroma of frames', () => {
  it('goes on from run to run', async () => {
    const [width, height] = [1100, 4];
    const data = new Uint8Array(width * height * 3);
    for (let i = 0; i < width * height; i++) {
      const x = i % width;
      // A step of colour just before the second run begins.
      data.set(x < 512 ? [200, 60, 60] : [60, 60, 200], i * 3);
    }
    const picture: Picture = { width, height, channels: 3, data };
    const yuv = { matrix: 'bt709', range: 'limited' } as const;
    const how = recipe({ colour: { exposure: 0.001 } });
    const renderer = new SharedRenderer(testThreads(1));
    await renderer.open(wholeView(picture, how, { input: formatOf(picture), output: yuv }));
    renderer.input(0).set(data);
    const bytes = (
      await renderer.render({ slot: 0, source: 'a', look: resolveRecipe(how, picture), content: 'picture' })
    ).slice();
    const chroma = (x: number): number => bytes[width * height + x / 2]!;
    // Weighed 1 2 1: a quarter of the colour before, three quarters of that after.
    const between = chroma(510) * 0.25 + chroma(514) * 0.75;
    expect(Math.abs(chroma(512) - between)).toBeLessThanOrEqual(1.5);
  });
});
