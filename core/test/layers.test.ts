import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  type LayerImage,
  type Recipe,
  SharedRenderer,
  diagonal,
  fromLinear,
  greyTiff,
  layerCorners,
  layerImage,
  layerSamples,
  linearisePremultiplied,
  neutralRecipe,
  parseRecipe,
  recipeAt,
  resolveRecipe,
  renderTransparent,
  splitAlpha,
  resolveTidiedRecipe,
  toLinear,
  wholeView,
  withLayerSheet,
} from '../src/index';
import { elementLayers } from '../src/layers/elements';
import { focusField } from '../src/focus/field';
import { bytesOf, recipe, renderPicture, testPicture, testThreads, viewOf } from './harness';

const size = { width: 96, height: 64 };
const D = diagonal(size);
const picture = testPicture(96, 64);
/** A kite of 24 x 16: half of it is there in full, a quarter half, a quarter not at all. */
const kite = (() => {
  const [width, height] = [24, 16];
  const rgba = new Uint8Array(4 * width * height);
  for (let i = 0; i < width * height; i++) {
    const [x, y] = [i % width, Math.floor(i / width)];
    const share = x < 12 ? 255 : y < 8 ? 128 : 0;
    rgba.set([240 - 4 * x, 20 + 10 * y, 60, share], 4 * i);
  }
  return { width, height, rgba };
})();
const images: ReadonlyMap<string, LayerImage> = new Map([
  ['kite.png', layerImage('kite', kite, { samples: kite.rgba, channels: 4, top: 255 })],
]);

const element = (parts: object): object => ({ id: 'k', image: 'kite.png', width: 24 / D, ...parts });
const withElements = (elements: object[], parts: object = {}): Recipe => recipe({ elements, ...parts });
const render = (how: Recipe, options: object = {}): Promise<Uint8Array> =>
  renderPicture(picture, how, { pictures: { images }, ...options }) as Promise<Uint8Array>;

/** A picture by 8-bit samples as light, laid over another by the formula. */
const laid = (over: number, share: number, under: number): number =>
  255 * fromLinear(toLinear(over / 255) * share + (1 - share) * toLinear(under / 255));

describe('an element where nothing is hazy', () => {
  it('lies over the picture by its coverage, pixel on pixel, and changes nothing beside it', async () => {
    // Its upper left pixel at (36, 24).
    const out = await render(withElements([element({ centre: [48 / 96, 32 / 64] })]));
    for (let y = 0; y < 64; y++)
      for (let x = 0; x < 96; x++) {
        const [u, v] = [x - 36, y - 24];
        const isIn = u >= 0 && u < 24 && v >= 0 && v < 16;
        const at = 4 * (v * 24 + u);
        const share = isIn ? kite.rgba[at + 3]! / 255 : 0;
        for (let c = 0; c < 3; c++) {
          const i = (y * 96 + x) * picture.channels + c;
          if (share === 0) expect(out[i]).toBe(picture.data[i]);
          else
            expect(Math.abs(out[i]! - laid(kite.rgba[at + c]!, share, picture.data[i]!))).toBeLessThan(1.6);
        }
      }
  });

  it('is turned clockwise about its middle, and mirrored before', async () => {
    const quarter = await render(withElements([element({ turn: 90 })]));
    const mirrored = await render(withElements([element({ flip: true })]));
    // Its own upper left corner is to the upper right of the middle, and with a mirror, too.
    const opaque = kite.rgba.subarray(4 * (1 * 24 + 2), 4 * (1 * 24 + 2) + 3);
    const at = (out: Uint8Array, x: number, y: number): number[] => [
      ...out.subarray((y * 96 + x) * picture.channels, (y * 96 + x) * picture.channels + 3),
    ];
    const quarterPlace: [number, number] = [48 + (8 - 1) - 1, 32 - 12 + 2];
    const mirroredPlace: [number, number] = [48 + 12 - 2 - 1, 32 - 8 + 1];
    opaque.forEach((v, c) => {
      expect(Math.abs(at(quarter, ...quarterPlace)[c]! - v)).toBeLessThan(3);
      expect(Math.abs(at(mirrored, ...mirroredPlace)[c]! - v)).toBeLessThan(3);
    });
  });

  it('keeps its light where it is made smaller, however small', async () => {
    const dark = { ...picture, data: new Uint8Array(picture.data.length) };
    for (const smaller of [0.9, 0.61, 0.5, 0.3]) {
      const how = withElements([element({ width: (24 * smaller) / D, centre: [0.503, 0.48], turn: 20 })]);
      const out = (await renderPicture(dark, how, { pictures: { images } })) as Uint8Array;
      let [sum, due] = [0, 0];
      for (let i = 0; i < out.length; i += picture.channels) sum += toLinear(out[i]! / 255);
      for (let i = 0; i < kite.rgba.length; i += 4)
        due += (toLinear(kite.rgba[i]! / 255) * kite.rgba[i + 3]!) / 255;
      expect(sum / (due * smaller ** 2), `${smaller}`).toBeGreaterThan(0.96);
      expect(sum / (due * smaller ** 2), `${smaller}`).toBeLessThan(1.04);
    }
  });

  it('shows as much as its opacity, and the later element lies over the earlier', async () => {
    const how = withElements([
      element({ id: 'a', opacity: 0.5 }),
      element({ id: 'b', opacity: 0.25, flip: true }),
    ]);
    const out = await render(how);
    const i = (32 * 96 + 38) * picture.channels;
    const [first, second] = [4 * (8 * 24 + 2), 4 * (8 * 24 + 21)];
    const after = laid(kite.rgba[first]!, (0.5 * kite.rgba[first + 3]!) / 255, picture.data[i]!);
    const both = laid(kite.rgba[second]!, (0.25 * kite.rgba[second + 3]!) / 255, after);
    expect(Math.abs(out[i]! - both)).toBeLessThan(1.6);
  });

  it('has its corners where it is drawn', () => {
    const corners = layerCorners({ centre: [0.5, 0.5], width: 24 / D, turn: 90, flip: false }, size, kite);
    [[56, 20], [56, 44], [40, 44], [40, 20]].forEach(([x, y], k) => {
      expect(corners[k]![0]).toBeCloseTo(x!, 9);
      expect(corners[k]![1]).toBeCloseTo(y!, 9);
    }); // prettier-ignore
  });
});

describe('an element with a haze of its own', () => {
  const kinds = [
    ['gaussian', {}],
    ['lens', { lens: { blades: 6, highlights: { stops: 2, threshold: 0.8 } } }],
    ['motion', { motion: { angle: 30 } }],
    ['spin', {}],
    ['zoom', {}],
  ] as const;

  /** The element alone on a sheet of the picture's size, rendered as a transparent picture is. */
  async function alone(how: Recipe): Promise<Uint16Array> {
    const straight = new Uint8Array(4 * size.width * size.height);
    for (let v = 0; v < 16; v++)
      straight.set(kite.rgba.subarray(96 * v, 96 * (v + 1)), 4 * ((24 + v) * 96 + 36));
    const parts = splitAlpha(straight, 255)!;
    const look = { ...resolveRecipe(how, size), layers: [] };
    const rgba = await renderTransparent(testThreads(2), size, look, { bytes: 2 }, (part, target) =>
      target.set(new Uint8Array(parts[part].buffer)),
    );
    return new Uint16Array(rgba.buffer);
  }

  it.each(kinds)(
    'is blurred with its coverage by the same weights, and laid over what is clear: %s',
    async (kind, more) => {
      const blur = { kind, radius: 0.05, ...more };
      const focus = { rest: 1, bands: [] };
      const out = await render(withElements([element({ focus })], { focus: { rest: 0 }, blur }));
      const own = await alone(recipe({ focus, blur }));
      let laidPixels = 0;
      for (let p = 0; p < size.width * size.height; p++) {
        const share = own[4 * p + 3]! / 65535;
        for (let c = 0; c < 3; c++) {
          const i = p * picture.channels + c;
          if (share < 1e-6) expect(Math.abs(out[i]! - picture.data[i]!), `${p}`).toBeLessThanOrEqual(1);
          else {
            laidPixels++;
            const light =
              toLinear(own[4 * p + c]! / 65535) * share + (1 - share) * toLinear(picture.data[i]! / 255);
            // What is brighter than white was cut off in the one, and is not in the other.
            const due = 255 * fromLinear(Math.min(1, light));
            if (own[4 * p + c]! < 65500) expect(Math.abs(out[i]! - due), `${p}`).toBeLessThan(2.1);
          }
        }
      }
      expect(laidPixels).toBeGreaterThan(1000);
    },
  );

  it.each(kinds)(
    'stays as it is over a hazy picture, and the picture is as it was beside it: %s',
    async (kind) => {
      const parts = { focus: { rest: 0.8 }, blur: { kind, radius: 0.02 } };
      const bare = await render(recipe(parts));
      const out = await render(withElements([element({})], parts));
      for (let p = 0; p < size.width * size.height; p++) {
        const [u, v] = [(p % 96) - 36, Math.floor(p / 96) - 24];
        const isIn = u >= 0 && u < 24 && v >= 0 && v < 16;
        const share = isIn ? kite.rgba[4 * (v * 24 + u) + 3]! / 255 : 0;
        const i = p * picture.channels;
        if (share === 0) expect(out[i], `${p}`).toBe(bare[i]);
        if (share === 1) expect(Math.abs(out[i]! - kite.rgba[4 * (v * 24 + u)]!)).toBeLessThan(1.6);
      }
    },
  );

  it('takes on the haze of the picture where it stands, without strokes and mattes', () => {
    const how = withElements([element({ foot: [0.4, 0.9], focus: { rest: 0.3 } })], {
      focus: {
        bands: [{ id: 'p', kind: 'planar' }],
        strokes: [{ mode: 'haze', points: [[0.4, 0.9]], radius: 0.2 }],
      },
    });
    const [layer] = elementLayers(how, size, images, resolveRecipe(how, size).field);
    const bands = { ...how.focus, strokes: [] };
    expect(layer!.field.rest).toBeCloseTo(focusField(bands, size)(0.4 * 96, 0.9 * 64), 6);
    expect(layer!.field.bands).toEqual([]);
  });

  it('is the same in a part of the picture as in all of it', async () => {
    const how = withElements([element({ centre: [0.45, 0.6], turn: 33, focus: { rest: 0.7 } })], {
      focus: { rest: 0.2 },
      blur: { radius: 0.04, kind: 'lens' },
      finish: { grain: { amount: 0.2 } },
    });
    const all = await render(how);
    // What the picture itself is mirrored at needs some room.
    const region = { x: 24, y: 16, width: 72, height: 48, picture: size };
    const cut = new Uint8Array(72 * 48 * picture.channels);
    for (let y = 0; y < 48; y++)
      cut.set(
        picture.data.subarray(((y + 16) * 96 + 24) * picture.channels, (y + 17) * 96 * picture.channels),
        y * 72 * picture.channels,
      );
    const part = (await renderPicture({ ...picture, width: 72, height: 48, data: cut }, how, {
      region,
      look: resolveRecipe(how, size, { images }),
    })) as Uint8Array;
    for (let y = 20; y < 64 - 16; y++)
      for (let x = 40; x < 88; x++) {
        const i = (y * 96 + x) * picture.channels;
        const k = ((y - 16) * 72 + x - 24) * picture.channels;
        expect(Math.abs(all[i]! - part[k]!), `${x} ${y}`).toBeLessThanOrEqual(1);
      }
  });
});

describe('an element and what is done to the picture', () => {
  it('stays on its place when the picture is turned, mirrored and cropped', async () => {
    const tidy = { crop: { centre: [0.5, 0.5], size: [2 / 3, 1.5], turn: 90, flip: true } };
    const how = withElements([element({ centre: [0.4, 0.45], turn: 15 })], { tidy });
    const look = resolveTidiedRecipe(how, size, { images });
    const [layer] = look.layers;
    expect(layer!.flip).toBe(true);
    const plain = layerCorners(elementLayers(how, size, images, look.field)[0]!, size, kite);
    // A quarter turn and a mirror: x and y of the sheet are y and x of the picture.
    const onSheet = layerCorners(layer!, { width: 64, height: 96 * 1 }, kite);
    const span = (list: [number, number][], k: 0 | 1): number =>
      Math.max(...list.map((p) => p[k])) - Math.min(...list.map((p) => p[k]));
    expect(span(onSheet, 0)).toBeCloseTo(span(plain, 1), 6);
    expect(span(onSheet, 1)).toBeCloseTo(span(plain, 0), 6);
  });

  it('is not evened out with the light of a frame', async () => {
    const how = withElements([element({})]);
    const look = { ...resolveRecipe(how, size, { images }), light: 0.5 };
    const out = (await renderPicture(picture, how, { look })) as Uint8Array;
    const i = (32 * 96 + 40) * picture.channels;
    expect(Math.abs(out[i]! - kite.rgba[4 * (8 * 24 + 4)]!)).toBeLessThan(1.6);
  });

  it('lies over a picture with transparent places, and fills them', async () => {
    const straight = new Uint8Array(4 * size.width * size.height);
    for (let p = 0; p < straight.length; p += 4) straight.set([10, 200, 30, p % 384 < 192 ? 255 : 0], p);
    const parts = splitAlpha(straight, 255)!;
    const look = resolveRecipe(withElements([element({ opacity: 0.5 })]), size, { images });
    const out = await renderTransparent(testThreads(2), size, look, { bytes: 1 }, (part, target) =>
      target.set(new Uint8Array(parts[part].buffer)),
    );
    const at = (x: number, y: number): number[] => [...out.subarray(4 * (y * 96 + x), 4 * (y * 96 + x) + 4)];
    expect(at(10, 10)).toEqual([10, 200, 30, 255]);
    expect(at(90, 60)[3]).toBe(0);
    // Behind the opaque half of the kite lies the picture up to column 48, then nothing.
    expect(at(40, 30)[3]).toBe(255);
    expect(Math.abs(at(40, 30)[0]! - laid(kite.rgba[4 * (6 * 24 + 4)]!, 0.5, 10))).toBeLessThan(2);
    expect(Math.abs(at(50, 28)[3]! - 64)).toBeLessThan(1.5);
  });

  it('gives what a fresh renderer gives, wherever it was before', async () => {
    const renderer = new SharedRenderer(testThreads(2));
    await renderer.open({ ...viewOf(picture, neutralRecipe()), most: 6, stripRows: 32 });
    renderer.input(0).set(bytesOf(picture.data));
    const place = fc.record({
      centre: fc.tuple(fc.double({ min: -0.1, max: 1.1, noNaN: true }), fc.constantFrom(0.2, 0.5, 0.9)),
      turn: fc.constantFrom(0, 40),
      rest: fc.constantFrom(0, 0.6),
      opacity: fc.constantFrom(0, 0.5, 1),
      width: fc.constantFrom(0.05, 0.3),
      on: fc.boolean(),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(place, { maxLength: 3 }), fc.constantFrom(0, 1), async (list, rest) => {
        const elements = list.map(({ rest, ...one }, i) => element({ ...one, id: `e${i}`, focus: { rest } }));
        const how = withElements(elements, { focus: { rest }, blur: { radius: 0.05 } });
        const look = resolveRecipe(how, size, { images });
        const kept = await renderer.render({ slot: 0, source: 'a', look, content: 'picture' });
        const fresh = await render(how);
        expect(kept.every((v, i) => v === fresh[i])).toBe(true);
      }),
      { numRuns: 25 },
    );
    await renderer.close();
  });

  it('moves by keys', () => {
    const how = parseRecipe({
      ...withElements([element({})]),
      keys: [
        { of: 'elements/k/centre', at: 0, value: [0.2, 0.5], ease: 'linear' },
        { of: 'elements/k/centre', at: 2, value: [0.6, 0.7], ease: 'linear' },
        { of: 'elements/k/opacity', at: 0, value: 0.4 },
      ],
    });
    const [now] = recipeAt(how, 1).elements;
    expect(now!.centre[0]).toBeCloseTo(0.4, 9);
    expect(now!.opacity).toBe(0.4);
  });

  it('needs no more than its box', async () => {
    // An element far outside the picture has no sheet at all.
    const renderer = new SharedRenderer(testThreads(1));
    const how = withElements([element({ centre: [2, 2] })]);
    const look = resolveRecipe(how, size, { images });
    await renderer.open(
      wholeView(size, look, { input: { channels: 3, bytes: 1 }, output: { channels: 3, bytes: 1 } }),
    );
    const source = new Uint8Array(96 * 64 * 3).map((_, i) => (i * 7) % 256);
    renderer.input(0).set(source);
    expect(await renderer.render({ slot: 0, source: 'a', look, content: 'picture' })).toEqual(source);
    await renderer.close();
  });
});

describe('an element through a thin lens', () => {
  const PLACES = 400;
  const RADIUS = 6;

  /** Places spread evenly over a disc (sunflower). */
  const places = Array.from({ length: PLACES }, (_, i): [number, number] => {
    const far = RADIUS * Math.sqrt((i + 0.5) / PLACES);
    const a = i * Math.PI * (3 - Math.sqrt(5));
    return [far * Math.cos(a), far * Math.sin(a)];
  });

  /** Premultiplied light and coverage of a disc of cloth with stripes at a place, between its samples. */
  const cloth = { width: 40, height: 40, rgba: new Uint8Array(4 * 40 * 40) };
  for (let i = 0; i < 1600; i++) {
    const [x, y] = [i % 40, Math.floor(i / 40)];
    const share = Math.min(1, Math.max(0, 17 - Math.hypot(x - 19.5, y - 19.5)));
    cloth.rgba.set(x % 14 < 7 ? [230, 90, 40, 255 * share] : [40, 60, 150, 255 * share], 4 * i);
  }
  const light = Float64Array.from(cloth.rgba, (v, i) =>
    i % 4 === 3 ? v / 255 : (toLinear(v / 255) * cloth.rgba[i | 3]!) / 255,
  );
  const sampled = (u: number, v: number, c: number): number => {
    const [x, y] = [Math.floor(u), Math.floor(v)];
    const at = (i: number, j: number): number =>
      i < 0 || j < 0 || i >= 40 || j >= 40 ? 0 : light[4 * (j * 40 + i) + c]!;
    const [fx, fy] = [u - x, v - y];
    return (
      (at(x, y) * (1 - fx) + at(x + 1, y) * fx) * (1 - fy) +
      (at(x, y + 1) * (1 - fx) + at(x + 1, y + 1) * fx) * fy
    );
  };

  it('is within 40 dB of the same view from 400 places in the aperture, and 34 dB about its outline', async () => {
    const how = withElements([{ id: 'c', image: 'cloth.png', width: 40 / D, focus: { rest: 1 } }], {
      focus: { rest: 0 },
      blur: { kind: 'lens', radius: RADIUS / D },
    });
    const own = layerImage('cloth', cloth, { samples: cloth.rgba, channels: 4, top: 255 });
    const out = (await renderPicture(picture, how, {
      pictures: { images: new Map([['cloth.png', own]]) },
    })) as Uint8Array;
    const [whole, rim] = [
      { sum: 0, count: 0 },
      { sum: 0, count: 0 },
    ];
    for (let y = 0; y < 64; y++)
      for (let x = 0; x < 96; x++)
        for (let c = 0; c < 3; c++) {
          // The ground is in focus: each place sees it alike, and the cloth a little aside before it.
          const i = (y * 96 + x) * picture.channels + c;
          const ground = toLinear(picture.data[i]! / 255);
          let seen = 0;
          for (const [dx, dy] of places) {
            const [u, v] = [x - 28 + dx, y - 12 + dy];
            seen += sampled(u, v, c) + (1 - sampled(u, v, 3)) * ground;
          }
          const off = (out[i]! - 255 * fromLinear(seen / PLACES)) ** 2;
          const far = Math.abs(Math.hypot(x - 47.5, y - 31.5) - 16.5);
          for (const one of far <= RADIUS ? [whole, rim] : [whole]) {
            one.sum += off;
            one.count++;
          }
        }
    const psnr = ({ sum, count }: typeof whole): number => 10 * Math.log10((255 * 255 * count) / sum);
    expect(psnr(whole)).toBeGreaterThan(40);
    expect(psnr(rim)).toBeGreaterThan(34);
  });
});

describe('layers for those who go on elsewhere', () => {
  const under = (how: Recipe) => resolveRecipe(how, size, { images });
  const sheetOf = (how: Recipe, i = 0): Promise<Uint16Array | null> => {
    const look = under(how);
    return withLayerSheet(testThreads(2), size, look, look.layers[i]!, 1, async (sheet) =>
      layerSamples(sheet, size, { primaries: 'srgb', gain: 1 }),
    );
  };

  it.each([
    ['clear', {}],
    ['hazy', { focus: { rest: 0.6 } }],
    ['half there', { opacity: 0.5 }],
  ])('make the picture again where they are laid over one another: %s', async (_, parts) => {
    const how = withElements([element(parts), element({ id: 'b', centre: [0.3, 0.4] })], {
      blur: { on: true, radius: 0.04 },
      focus: { rest: 0.3 },
    });
    const whole = (await renderPicture(picture, how, {
      pictures: { images },
      output: { channels: 4, bytes: 2 },
    })) as Uint16Array;
    const plain = { ...how, elements: [] };
    const base = (
      (await renderPicture(picture, plain, { output: { channels: 4, bytes: 2 } })) as Uint16Array
    ).slice();
    linearisePremultiplied(base);
    for (const i of [0, 1]) {
      const over = (await sheetOf(how, i))!;
      for (let p = 0; p < base.length; p += 4)
        for (let c = 0; c < 3; c++)
          base[p + c] = Math.min(65535, over[p + c]! + (1 - over[p + 3]! / 65535) * base[p + c]!);
    }
    let most = 0;
    for (let p = 0; p < base.length; p += 4)
      for (let c = 0; c < 3; c++)
        most = Math.max(most, Math.abs(fromLinear(base[p + c]! / 65535) - whole[p + c]! / 65535));
    expect(most).toBeLessThan(0.6 / 255);
  });

  it('are none where nothing of them lies on the picture, and convert what was cut out of a wide one', async () => {
    expect(await sheetOf(withElements([element({ centre: [-1, -1] })]))).toBeNull();
    const look = under(withElements([element({})]));
    const [plain, wide] = await withLayerSheet(
      testThreads(1),
      size,
      look,
      look.layers[0]!,
      1,
      async (sheet) => [
        layerSamples(sheet, size, { primaries: 'display-p3', gain: 1 }),
        layerSamples({ ...sheet, isOwn: true }, size, { primaries: 'display-p3', gain: 1 }),
      ],
    ).then((made) => made!);
    const at = 4 * (32 * 96 + 40);
    // Its red is stronger in P3, where the other channels have less than nothing in sRGB.
    expect(wide![at]!).toBeGreaterThan(plain![at]!);
    expect(wide![at + 3]).toBe(plain![at + 3]);
  });

  it('have maps beside them that are plain grey TIFFs', () => {
    const grey = Uint16Array.from({ length: 12 }, (_, i) => 5000 * i);
    const file = greyTiff({ width: 4, height: 3 }, grey);
    const view = new DataView(file.buffer);
    expect(view.getUint32(0)).toBe(0x49492a00);
    const directory = view.getUint32(4, true);
    const values = new Map(
      Array.from({ length: view.getUint16(directory, true) }, (_, i) => {
        const at = directory + 2 + 12 * i;
        const isShort = view.getUint16(at + 2, true) === 3;
        return [
          view.getUint16(at, true),
          isShort ? view.getUint16(at + 8, true) : view.getUint32(at + 8, true),
        ];
      }),
    );
    expect([256, 257, 258, 277, 279].map((tag) => values.get(tag))).toEqual([4, 3, 16, 1, 24]);
    expect(view.getUint16(values.get(273)! + 10, true)).toBe(25_000);
  });
});
