// What a renderer keeps between pictures must never show: the same recipe gives the same bytes, fresh or not.
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  type FocusPictures,
  NO_PICTURES,
  type Recipe,
  RenderWorker,
  buildOctaves,
  createMemory,
  hazeField,
  makeRaster,
  openRender,
  planRender,
  recipeLook,
  renderStrips,
} from '../src/index';
import { band, stroke, unit } from './arbitraries';
import { kernelModule, recipe, renderPicture, testPicture } from './harness';

const picture = testPicture(72, 48);
const size = { width: 72, height: 48 };

/** A renderer that stays open, as on the stage: its worker keeps the whole picture as one strip. */
async function keptOpen() {
  const region = { x: 0, y: 0, ...size, picture: size };
  const plan = planRender({
    region,
    format: { channels: 3, bytes: 1 },
    maxSigma: 6,
    workers: 1,
    stripRows: 48,
  });
  const memory = createMemory(plan.bytes);
  const worker = new RenderWorker();
  const render = { slot: 'kept', plan, memory, runners: [worker.run.bind(worker)] };
  await openRender(kernelModule, render);
  new Uint8Array(memory.buffer, plan.source, picture.data.length).set(picture.data);
  await buildOctaves(render);
  return async (how: Recipe, pictures: FocusPictures = NO_PICTURES): Promise<Uint8Array> => {
    await renderStrips(render, recipeLook(how, pictures), 'picture');
    return new Uint8Array(memory.buffer, plan.output, picture.data.length).slice();
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

describe('what stays clear', () => {
  const keep = makeRaster('keep', 6, 1, Uint16Array.from([65535, 65535, 65535, 0, 0, 0]));
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
      expect(isKept).toBe(pictures.keep !== null);
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
    const haze = hazeField(how.focus, size);
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
      pictures: { depth: ramp, keep: null },
    });
    expect(same(rows(bytes, 0, 20), rows(picture.data, 0, 20))).toBe(true);
    expect(same(rows(bytes, 50, 72), rows(picture.data, 50, 72))).toBe(false);
  });
});
