// What a renderer keeps between pictures must never show: the same recipe gives the same bytes, fresh or not.
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  type FocusPictures,
  type Recipe,
  RenderWorker,
  SharedRenderer,
  hazeRamp,
  keepMaskFrom,
  makeRaster,
  resolveRecipe,
} from '../src/index';
import { NO_PICTURES, focusField } from '../src/focus/field';
import { createMemory } from '../src/memory';
import { planRender } from '../src/render/plan';
import { band, stroke, unit } from './arbitraries';
import { bytesOf, kernelModule, recipe, renderPicture, testPicture, testThreads, viewOf } from './harness';

const picture = testPicture(72, 48);
const size = { width: 72, height: 48 };

/** A renderer that stays open, as on the stage: its worker keeps the whole picture as one strip. */
async function keptOpen() {
  const renderer = new SharedRenderer(testThreads(1));
  await renderer.open({ ...viewOf(picture, recipe({})), most: 6, stripRows: 48 });
  renderer.input(0).set(bytesOf(picture.data));
  return async (how: Recipe, pictures: FocusPictures = NO_PICTURES, source = 'a'): Promise<Uint8Array> => {
    const look = resolveRecipe(how, picture, pictures);
    return (await renderer.render({ slot: 0, source, look, content: 'picture' })).slice();
  };
}

const same = (a: ArrayLike<number>, b: ArrayLike<number>): boolean =>
  a.length === b.length && Array.prototype.every.call(a, (v, i) => v === b[i]);

describe('a renderer that stays open', () => {
  it('gives what a fresh one gives, whatever was drawn before', async () => {
    const draw = await keptOpen();
    const parts = fc.record({
      bands: fc.array(band, { maxLength: 3 }),
      strokes: fc.array(stroke, { maxLength: 3 }),
      soundings: fc.array(fc.record({ at: fc.tuple(unit, unit), haze: unit }), { maxLength: 3 }),
      radius: fc.constantFrom(0, 0.05, 0.1),
      saturation: fc.constantFrom(0, 0.4),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(parts, { minLength: 2, maxLength: 4 }), async (list) => {
        for (const { bands, strokes, soundings, radius, saturation } of list) {
          const how = recipe({
            focus: { soundings, strokes, bands: bands.map((one, i) => ({ ...one, id: `b${i}` })) },
            blur: { radius },
            colour: { saturation },
          });
          expect(same(await draw(how), await renderPicture(picture, how, { stripRows: 13 }))).toBe(true);
        }
      }),
      { numRuns: 12 },
    );
  });

  it('follows one number that moves to and fro', async () => {
    const draw = await keptOpen();
    for (const clear of [0.1, 0.2, 0.2, 0.05, 0.3, 0.1]) {
      const how = recipe({
        focus: { bands: [{ id: 'a', kind: 'planar', near: { clear }, far: { clear: 0.1 } }] },
        blur: { radius: 0.08 },
      });
      expect(same(await draw(how), await renderPicture(picture, how))).toBe(true);
    }
  });
});

describe('every kind of blur beside every kind of field, colour and format', () => {
  const size = { width: 64, height: 40 };
  const { width, height } = size;
  const ramp = Uint16Array.from({ length: width * height }, (_, i) => ((i % width) / width) * 65535);
  const blob = Uint16Array.from({ length: width * height }, (_, i) => {
    const [x, y] = [i % width, Math.floor(i / width)];
    return Math.hypot(x - 30, y - 20) < 12 ? 65535 : 0;
  });
  const depth = makeRaster('d', width, height, ramp);
  const keep = keepMaskFrom(makeRaster('k', width, height, blob));
  const three = testPicture(width, height);
  const four = testPicture(width, height, 4);
  const formats = {
    rgb8: three,
    rgba8: four,
    rgb16: { ...three, data: Uint16Array.from(three.data, (v) => v * 257) },
  };
  const parts = fc.record({
    kind: fc.constantFrom('gaussian', 'lens', 'motion', 'spin', 'zoom'),
    rest: unit,
    hasDepth: fc.boolean(),
    invert: fc.boolean(),
    hasMatte: fc.boolean(),
    strokes: fc.array(stroke, { maxLength: 2 }),
    colour: fc.constantFrom(
      {},
      { saturation: 0.5 },
      { clarity: 0.6, contrast: 0.3 },
      { mono: { on: true } },
      { exposure: 0.7, warmth: 0.4 },
    ),
    finish: fc.constantFrom({}, { vignette: { amount: -0.6 } }, { grain: { match: 1, amount: 0.2 } }),
    focus: fc.double({ min: 0, max: 1, noNaN: true }),
  });

  it.each(Object.keys(formats) as (keyof typeof formats)[])(
    'gives what a fresh one gives, in %s',
    async (name) => {
      const from = formats[name];
      await fc.assert(
        fc.asyncProperty(fc.array(parts, { minLength: 2, maxLength: 3 }), async (list) => {
          const looks = list.map((one) => {
            const depthMap = { image: 'd.png', focus: one.focus, invert: one.invert, align: 0 };
            const how = recipe({
              focus: {
                rest: one.rest,
                strokes: one.strokes,
                ...(one.hasDepth && { depthMap }),
                ...(one.hasMatte && { mattes: [{ id: 'm', image: 'k.png' }] }),
              },
              blur: { kind: list[0]!.kind, radius: 0.06 },
              colour: one.colour,
              finish: one.finish,
            });
            const pictures = { depth: one.hasDepth ? depth : null, keep: one.hasMatte ? keep : [] };
            return { how, pictures };
          });
          const renderer = new SharedRenderer(testThreads(2));
          const hasDepth = list.some((one) => one.hasDepth);
          await renderer.open({ ...viewOf(from, looks[0]!.how), hasDepth, stripRows: 40 });
          renderer.input(0).set(bytesOf(from.data));
          for (const { how, pictures } of looks) {
            const look = resolveRecipe(how, from, pictures);
            const drawn = (await renderer.render({ slot: 0, source: 'a', look, content: 'picture' })).slice();
            const fresh = new SharedRenderer(testThreads(1));
            await fresh.open({ ...viewOf(from, how), hasDepth, stripRows: 14 });
            fresh.input(0).set(bytesOf(from.data));
            const again = await fresh.render({ slot: 0, source: 'b', look, content: 'picture' });
            expect(same(drawn, again), JSON.stringify(how)).toBe(true);
          }
        }),
        { numRuns: 14 },
      );
    },
  );
});

describe('another picture in the same memory', () => {
  it('is rendered, and the first again after it', async () => {
    const how = recipe({ focus: { rest: 1 }, blur: { radius: 0.05 }, colour: { saturation: 0.2 } });
    const renderer = new SharedRenderer(testThreads(2));
    await renderer.open({ ...viewOf(picture, how), stripRows: 24, slots: 2 });
    const other = { ...picture, data: picture.data.map((v) => 255 - v) };
    const look = resolveRecipe(how, picture);
    for (const [slot, one] of [picture, other].entries()) renderer.input(slot).set(bytesOf(one.data));
    const draw = async (slot: number, source: string): Promise<Uint8Array> =>
      (await renderer.render({ slot, source, look, content: 'picture' })).slice();
    const [first, second] = [await renderPicture(picture, how), await renderPicture(other, how)];
    expect(same(await draw(0, 'first'), first)).toBe(true);
    expect(same(await draw(1, 'second'), second)).toBe(true);
    renderer.input(0).set(bytesOf(other.data));
    expect(same(await draw(0, 'second'), second)).toBe(true);
    renderer.input(0).set(bytesOf(picture.data));
    expect(same(await draw(0, 'first'), first)).toBe(true);
  });

  it('of another size finds nothing of what was there: odd widths, mattes, memory full of anything', async () => {
    const renderer = new SharedRenderer(testThreads(1));
    const samples = Uint16Array.from({ length: 15 }, (_, i) => i * 4000);
    const keep = keepMaskFrom(makeRaster('k', 5, 3, samples));
    const how = recipe({
      focus: { rest: 0.7, mattes: [{ id: 'm', image: 'm.png' }], bands: [{ id: 'a', kind: 'iris' }] },
      blur: { radius: 0.06 },
    });
    for (const [width, height] of [
      [301, 120],
      [67, 45],
      [5, 3],
      [1, 1],
      [130, 7],
    ] as const) {
      // prettier-ignore
      const one = testPicture(width, height);
      await renderer.open({ ...viewOf(one, how), stripRows: height });
      // What lay there before may be anything: here it is no number at all.
      new Uint8Array(renderer.input(0).buffer).fill(255, renderer.output(0).byteOffset);
      await renderer.open({ ...viewOf(one, how), stripRows: height });
      renderer.input(0).set(bytesOf(one.data));
      const look = resolveRecipe(how, one, { depth: null, keep });
      const drawn = (await renderer.render({ slot: 0, source: 'a', look, content: 'picture' })).slice();
      const fresh = await renderPicture(one, how, { pictures: { depth: null, keep } });
      expect(same(drawn, fresh)).toBe(true);
    }
  });

  it('lies anywhere below 4 GiB', async () => {
    const how = recipe({ focus: { rest: 1 }, blur: { radius: 0.08 }, colour: { saturation: 0.3 } });
    const view = viewOf(picture, how);
    const plan = planRender(view, 1, 2.625 * 2 ** 30);
    const memory = createMemory(plan.bytes);
    const worker = new RenderWorker();
    const far = new SharedRenderer({ module: kernelModule, runners: [worker.run.bind(worker)] });
    await far.openAs(plan, memory);
    far.input(0).set(bytesOf(picture.data));
    const look = resolveRecipe(how, picture);
    const drawn = await far.render({ slot: 0, source: 'a', look, content: 'picture' });
    expect(drawn.byteOffset).toBeGreaterThan(2 ** 31);
    expect(same(drawn, await renderPicture(picture, how))).toBe(true);
  });

  it('is rendered by more workers than it has rows', async () => {
    const one = testPicture(40, 3);
    const how = recipe({ focus: { rest: 1 }, blur: { radius: 0.1 } });
    const many = await renderPicture(one, how, { workers: 6, stripRows: 1 });
    expect(same(many, await renderPicture(one, how))).toBe(true);
  });

  it('comes out in another format than it came in', async () => {
    const how = recipe({ focus: { bands: [{ id: 'a', kind: 'planar' }] }, blur: { radius: 0.03 } });
    const four = testPicture(72, 48, 4);
    const deep = { ...four, data: Uint16Array.from(four.data, (v) => v * 257) };
    const eight = await renderPicture(deep, how, { output: { channels: 4, bytes: 1 } });
    const plain = await renderPicture(four, how);
    const apart = plain.map((v, i) => Math.abs(v - eight[i]!));
    expect(Math.max(...apart)).toBeLessThanOrEqual(1);
  });

  it('is drawn as a haze map in three channels and in four', async () => {
    const how = recipe({ focus: { bands: [{ id: 'a', kind: 'planar' }] } });
    const ramp = hazeRamp();
    for (const channels of [3, 4] as const) {
      const map = await renderPicture(testPicture(72, 48, channels), how, { content: 'haze-map' });
      const field = focusField(how.focus, size);
      for (let i = 0; i < 72 * 48; i += 101) {
        const entry = Math.round(field((i % 72) + 0.5, Math.floor(i / 72) + 0.5) * 1023) * 4;
        for (let c = 0; c < 3; c++)
          expect(Math.abs(map[i * channels + c]! - ramp[entry + c]!)).toBeLessThanOrEqual(1);
      }
    }
  });
});

describe('what stays clear', () => {
  const keep = keepMaskFrom(makeRaster('keep', 6, 1, Uint16Array.from([65535, 65535, 65535, 0, 0, 0])));
  const blurred = { blur: { radius: 0.06 } };
  const rows = (bytes: ArrayLike<number>, from: number, to: number): number[] => {
    const found: number[] = [];
    for (let y = 0; y < 48; y++) for (let i = from * 3; i < to * 3; i++) found.push(bytes[y * 72 * 3 + i]!);
    return found;
  };

  it('under a matte has the very bytes of the source, and the rest is blurred', async () => {
    const draw = await keptOpen();
    const how = recipe({ ...blurred, focus: { mattes: [{ id: 'm', image: 'm.png' }] } });
    for (const pictures of [{ depth: null, keep }, NO_PICTURES, { depth: null, keep }]) {
      const bytes = await draw(how, pictures);
      const isKept = same(rows(bytes, 0, 28), rows(picture.data, 0, 28));
      expect(isKept).toBe(pictures.keep.length > 0);
      expect(same(rows(bytes, 44, 72), rows(picture.data, 44, 72))).toBe(false);
    }
  });

  it('under a brush stroke too', async () => {
    const how = recipe({
      ...blurred,
      focus: { strokes: [{ mode: 'clear', radius: 0.3, softness: 0, points: [[0, 0.5], [0.2, 0.5]] }] }, // prettier-ignore
    });
    const bytes = await renderPicture(picture, how);
    expect(same(rows(bytes, 0, 14), rows(picture.data, 0, 14))).toBe(true);
    const haze = focusField(how.focus, size);
    expect([haze(10, 24), haze(70, 24)]).toEqual([0, 1]);
  });

  it('by a depth map is what has the depth in focus', async () => {
    const ramp = makeRaster(
      'ramp',
      72,
      1,
      Uint16Array.from({ length: 72 }, (_, i) => (i / 71) * 65535),
    );
    const depthMap = { image: 'd.png', focus: 0, clear: 0.3, falloff: 0.4 };
    const bytes = await renderPicture(picture, recipe({ ...blurred, focus: { depthMap } }), {
      pictures: { depth: ramp, keep: [] },
    });
    expect(same(rows(bytes, 0, 20), rows(picture.data, 0, 20))).toBe(true);
    expect(same(rows(bytes, 50, 72), rows(picture.data, 50, 72))).toBe(false);
  });
});
