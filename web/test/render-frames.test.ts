import { readFileSync } from 'node:fs';
import {
  FootageNoise,
  type FrameFormat,
  PART_FORMAT,
  type PixelFormat,
  type Recipe,
  RenderWorker,
  evenTimes,
  parseRecipe,
  splitAlpha,
  timelineOf,
  NO_ASSETS,
} from '@hazy-lens/core';
import { describe, expect, it } from 'vitest';
import { type FilmSource, renderFrames, unreadNote } from '../src/app/engine/footage/render-frames';
import { type MediaSource, onLoan } from '../src/app/engine/media-source';
import { Picture } from '../src/app/engine/picture';
import type { RenderPool } from '../src/app/engine/pool';

const module = new WebAssembly.Module(readFileSync(new URL('../../core/dist/kernels.wasm', import.meta.url)));
const runners = [0, 1].map(() => {
  const worker = new RenderWorker();
  return worker.run.bind(worker);
});
const pool = { runners, module: Promise.resolve(module) } as unknown as RenderPool;
const SIZE = { width: 32, height: 20 };
const RGB: PixelFormat = { channels: 3, bytes: 1 };
const open = { waitWhilePaused: () => Promise.resolve() };

const OPAQUE = { format: RGB, hasAlpha: false };

/** Frame i is grey, 10 i bright. */
function material(frames: number): MediaSource {
  const times = evenTimes(frames, 10);
  return {
    ...SIZE,
    frames,
    keeps: 1,
    footage: {
      ...SIZE,
      format: RGB,
      times,
      codec: 'test',
      sound: null,
      isTransparent: false,
      missingFrom: null,
      notes: [],
    },
    unread: new Map(),
    parts: async () => null,
    hold: () => () => undefined,
    async frame(index) {
      const pixels = new SharedArrayBuffer(SIZE.width * SIZE.height * 3);
      new Uint8Array(pixels).fill(10 * index);
      return Picture.ofFrame({ ...SIZE, format: RGB, pixels }, `frame ${index}`);
    },
    // Whoever reads a frame that was given back reads white.
    async borrow(index) {
      const picture = await this.frame(index);
      return onLoan(picture, () => new Uint8Array(picture.rawPixels).fill(255));
    },
  };
}

function source(parts: object, frames = 8): FilmSource {
  const recipe: Recipe = parseRecipe({ format: 'hazy-lens-recipe', version: 1, ...parts });
  const clip = material(frames);
  return {
    material: clip,
    recipe,
    timeline: timelineOf(recipe.pace, clip.footage!.times),
    companions: NO_ASSETS,
    times: clip.footage!.times,
    lights: null,
    noise: new FootageNoise(() => Promise.reject(new Error('No step asks for noise.'))),
    sound: null,
    repeatsUnread: false,
  };
}

async function levels(from: FilmSource, size = SIZE): Promise<number[]> {
  const made: number[] = [];
  for await (const { bytes, index } of renderFrames(
    from,
    size,
    OPAQUE,
    pool,
    new AbortController().signal,
    open,
  )) {
    expect(index).toBe(made.length);
    made.push(bytes.reduce((a, b) => a + b, 0) / bytes.length);
  }
  return made;
}

describe('a film', () => {
  it('has the pictures of the pace in their order, untouched where nothing is done', async () => {
    expect(await levels(source({}))).toEqual([0, 10, 20, 30, 40, 50, 60, 70]);
    expect(await levels(source({ pace: { speed: 2, direction: 'reverse' } }))).toEqual([60, 40, 20, 0]);
    expect(await levels(source({ pace: { trim: [0.2, 0.5] } }))).toEqual([20, 30, 40]);
  });

  it('keeps transparent places, as RGBA or as planes with one of coverage behind them', async () => {
    const from = source({}, 2);
    const area = SIZE.width * SIZE.height;
    // The second half of each row lets half of the light through; the second frame is opaque.
    const rgba = Uint8Array.from({ length: 4 * area }, (_, i) =>
      i % 4 < 3 ? 100 : (i >> 2) % SIZE.width < SIZE.width / 2 ? 255 : 128,
    );
    const of = (samples: Uint16Array): Picture => {
      const pixels = new SharedArrayBuffer(samples.byteLength);
      new Uint16Array(pixels).set(samples);
      return Picture.ofFrame({ ...SIZE, format: PART_FORMAT, pixels }, crypto.randomUUID());
    };
    const { premultiplied, alpha } = splitAlpha(rgba, 255)!;
    from.material = {
      ...from.material,
      parts: async (index) => (index === 0 ? { premultiplied: of(premultiplied), alpha: of(alpha) } : null),
    };
    const made = async (format: FrameFormat): Promise<Uint8Array[]> => {
      const frames: Uint8Array[] = [];
      const how = { format, hasAlpha: true };
      for await (const { bytes } of renderFrames(from, SIZE, how, pool, new AbortController().signal, open))
        frames.push(bytes.slice());
      return frames;
    };
    const [first, second] = await made({ channels: 4, bytes: 1 });
    expect([...first!.subarray(0, 4)]).toEqual([100, 100, 100, 255]);
    expect([...first!.subarray(4 * (SIZE.width - 1), 4 * SIZE.width)]).toEqual([100, 100, 100, 128]);
    expect([...second!.subarray(0, 4)]).toEqual([10, 10, 10, 255]);
    const planes = await made({ matrix: 'bt709', range: 'limited' });
    expect(planes.map(({ length }) => length)).toEqual([2.5 * area, 2.5 * area]);
    expect([planes[0]![1.5 * area], planes[0]!.at(-1), planes[1]!.at(-1)]).toEqual([255, 128, 255]);
    expect(Math.abs(planes[0]![0]! - (16 + (219 * 100) / 255))).toBeLessThanOrEqual(1);
  });

  it('averages what a longer shutter sees, in linear light', async () => {
    const made = await levels(source({ pace: { speed: 4, blend: 0.5 } }));
    const linear = (v: number): number => ((v / 255 + 0.055) / 1.055) ** 2.4;
    const mean = (a: number, b: number): number =>
      255 * (1.055 * ((linear(a) + linear(b)) / 2) ** (1 / 2.4) - 0.055);
    expect(made[1]).toBeCloseTo(mean(40, 50), 0);
  });

  it('begins at any picture as if those before it had been made', async () => {
    const from = source({ pace: { speed: 2, blend: 0.5 }, finish: { grain: { amount: 0.6 } } });
    const bytesFrom = async (first: number): Promise<Uint8Array[]> => {
      const made: Uint8Array[] = [];
      const { signal } = new AbortController();
      for await (const { bytes, index } of renderFrames(from, SIZE, OPAQUE, pool, signal, open, first)) {
        expect(index).toBe(first + made.length);
        made.push(bytes.slice());
      }
      return made;
    };
    const all = await bytesFrom(0);
    expect(all).toHaveLength(4);
    expect(await bytesFrom(2)).toEqual(all.slice(2));
  });

  it('is made smaller where that is wanted', async () => {
    const made = await levels(source({}, 3), { width: 16, height: 10 });
    made.forEach((level, i) => expect(level).toBeCloseTo(10 * i, 0));
  });

  it('takes its light and its keys at the time of each picture', async () => {
    const how = source({
      keys: [
        { of: 'blur/radius', at: 0, value: 0 },
        { of: 'blur/radius', at: 0.7, value: 0.1 },
      ],
      focus: { rest: 1 },
    });
    const lit = { ...how, lights: [1, 1, 1, 1, 4, 4, 4, 4] };
    const made = await levels(lit);
    expect(made[3]).toBeCloseTo(30, 0);
    expect(made[4]).toBeGreaterThan(70);
  });

  it('ends where a frame cannot be read, unless the one before is to be repeated, and names those', async () => {
    const from = source({ pace: { trim: [0.2, 0.8] } });
    const unread = from.material.unread as Map<number, string>;
    for (const frame of [0, 4, 5, 7]) unread.set(frame, `Frame ${frame + 1} of “a.mp4” can’t be read.`);
    await expect(levels(from)).rejects.toThrow(/^Frame 5 of “a\.mp4” can’t be read: trim that part away/);
    expect(await levels({ ...from, repeatsUnread: true })).toHaveLength(6);
    expect(unreadNote(from)).toMatch(/^Couldn’t read frames 5 to 6, 8: /);
    expect(unreadNote(source({}))).toBe('');
  });

  it('ends where it is cancelled, and waits where it is paused', async () => {
    const abort = new AbortController();
    const made: number[] = [];
    const run = async (): Promise<void> => {
      for await (const { index } of renderFrames(source({}), SIZE, OPAQUE, pool, abort.signal, open)) {
        made.push(index);
        if (index === 2) abort.abort(new Error('enough'));
      }
    };
    await expect(run()).rejects.toThrow('enough');
    expect(made).toEqual([0, 1, 2]);
    let goOn = (): void => undefined;
    const paused = { waitWhilePaused: () => new Promise<void>((resolve) => (goOn = resolve)) };
    const next = renderFrames(source({}), SIZE, OPAQUE, pool, new AbortController().signal, paused).next();
    expect(await Promise.race([next, new Promise((resolve) => setTimeout(resolve, 60, 'waits'))])).toBe(
      'waits',
    );
    goOn();
    expect((await next).value!.index).toBe(0);
  });
});
