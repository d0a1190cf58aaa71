import 'fake-indexeddb/auto';
import { NO_ASSETS, evenTimes, neutralRecipe, timelineOf, CLIP_FORMATS } from '@hazy-lens/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { MediaLoader } from '../../src/app/engine/load';
import type { FilmSource } from '../../src/app/engine/footage/render-frames';
import { RecipeAssetLoader } from '../../src/app/engine/recipe-asset-loader';
import { JobQueue } from '../../src/app/jobs/job-queue';
import { ClipExports } from '../../src/app/jobs/clip-exports';
import type { FilmInput } from '../../src/app/jobs/film';
import { FilmRenderer } from '../../src/app/jobs/film-renderer';
import { type Held, held } from '../../src/app/jobs/held';
import { Database } from '../../src/app/storage/database';
import { ClipRepository } from '../../src/app/storage/clip-repository';
import { Projects } from '../../src/app/storage/projects';
import { openOne, services } from '../services';

vi.mock('../../src/app/engine/load', () => ({ MediaLoader: class {} }));
vi.mock('../../src/app/engine/recipe-asset-loader', () => ({ RecipeAssetLoader: class {} }));
const saved = vi.hoisted(() => [] as string[]);
vi.mock('browser-fs-access', () => ({
  fileSave: async (file: Blob) => void saved.push(await file.text()),
}));
/** Renders pictures that are their numbers; breaks down before one of them. */
const render = vi.hoisted(() => ({ breaksAt: Infinity, made: [] as number[] }));
vi.mock('../../src/app/engine/footage/render-frames', () => ({
  encodedFormat: () => ({ matrix: 'bt709', range: 'limited' }),
  isTransparent: () => false,
  unreadNote: () => '',
  async *renderFrames({ timeline }: FilmSource, ...more: unknown[]) {
    for (let index = more[5] as number; index < timeline.frames; index++) {
      await (more[4] as { waitWhilePaused(): Promise<void> }).waitWhilePaused();
      if (index === render.breaksAt) throw new Error('The machine is off');
      render.made.push(index);
      yield { index, bytes: new Uint8Array([index]) };
    }
  },
}));
/** Writes each picture as its number, parts of four in brackets. */
vi.mock('../../src/app/engine/footage/writers', async () => ({
  pictureName: (await import('../../src/app/engine/footage/writers/frames-writer')).pictureName,
  filmWriter: async () => {
    let part = '';
    return {
      format: { channels: 4, bytes: 1 },
      partLength: 4,
      add: async ([number]: Uint8Array) => void (part += ` ${number}`),
      endPart: async () => {
        const file = new Blob([`[${part} ]`]);
        part = '';
        return file;
      },
      join: async (parts: Blob[]) => new Blob(parts),
      cancel: async () => undefined,
    };
  },
}));

const FRAMES = 10;
const times = evenTimes(FRAMES, 30);
const recipe = neutralRecipe();
const wish = {
  width: 40,
  height: 20,
  bitrate: 1e6,
  holds: 'bitrate' as const,
  quality: 0.8,
  repeatsUnread: false,
  kind: CLIP_FORMATS[0]!,
  fileName: 'kites.mp4',
};

describe('films', () => {
  let films: ClipExports;
  let renderer: FilmRenderer;
  let exports: JobQueue;
  let stored: ClipRepository;
  let projects: Projects;
  let projectId: string;
  let letGo: number;
  let locks: Set<string>;
  const material = () => ({
    footage: { times, sound: null },
    unread: new Map(),
    frame: async () => ({}),
    hold: () => () => void letGo++,
  });
  const input = (frames = FRAMES): FilmInput => ({
    source: {
      material: material(),
      recipe,
      times: evenTimes(frames, 30),
      timeline: timelineOf(recipe.pace, evenTimes(frames, 30)),
      companions: NO_ASSETS,
      lights: null,
      sound: null,
    } as unknown as FilmSource,
    projectId,
    rate: null,
  });

  const hold = (of: FilmInput): Held<FilmInput> => held(Promise.resolve(of), of.source.material.hold());

  beforeEach(async () => {
    const database = new Database();
    await Promise.all(database.tables.map((table) => table.clear()));
    Object.assign(render, { breaksAt: Infinity, made: [] });
    saved.length = 0;
    letGo = 0;
    locks = new Set();
    vi.stubGlobal('addEventListener', () => undefined);
    vi.stubGlobal('window', {});
    vi.stubGlobal('navigator', {
      locks: {
        query: async () => ({ held: [...locks].map((name) => ({ name })) }),
        request: async (name: string, _: object, work: (lock: object | null) => Promise<unknown>) => {
          if (locks.has(name)) return work(null);
          locks.add(name);
          return work({}).finally(() => locks.delete(name));
        },
      },
    });
    const { injector } = services(
      openOne,
      { provide: MediaLoader, useValue: { load: async () => ({ material: material() }) } },
      { provide: RecipeAssetLoader, useValue: { of: async () => NO_ASSETS } },
    );
    films = injector.get(ClipExports);
    renderer = injector.get(FilmRenderer);
    exports = injector.get(JobQueue);
    stored = injector.get(ClipRepository);
    const source = { ...openOne.source!, fileName: 'kites.mp4' };
    projects = injector.get(Projects);
    projectId = (await projects.create('Kites', source, new Blob(['clip']), openOne.work)).id;
  });

  const whole = '[ 0 1 2 3 ][ 4 5 6 7 ][ 8 9 ]';
  const run = () => exports.run(films.order(wish, hold(input())));
  /** As a window that goes away leaves it: nothing hears of its end. */
  const runAndBreakAt = async (index: number): Promise<void> => {
    render.breaksAt = index;
    expect(await run()).toEqual({ kind: 'failed', reason: 'The machine is off' });
    Object.assign(render, { breaksAt: Infinity, made: [] });
  };

  it('are estimated from pictures out of their middle, which leave nothing behind', async () => {
    vi.spyOn(performance, 'now').mockImplementation(() => 100 * render.made.length);
    const frames = 60;
    const { ms, bytes } = await renderer.estimate(wish, input(frames), new AbortController().signal);
    expect(render.made).toEqual([25, 26, 27, 28, 29, 30, 31, 32, 33, 34]);
    expect(ms).toBeCloseTo(100 * frames);
    // Parts of four, four and two.
    const written = '[ 25 26 27 28 ][ 29 30 31 32 ][ 33 34 ]'.length;
    expect(bytes).toBeCloseTo((written / render.made.length) * frames);
    expect(await stored.list()).toEqual([]);
  });

  it('are estimated no longer than that is wanted', async () => {
    const abort = new AbortController();
    abort.abort(new Error('Something changed'));
    await expect(renderer.estimate(wish, input(), abort.signal)).rejects.toThrow('Something changed');
  });

  it('are made of parts, and leave nothing behind', async () => {
    expect(await run()).toEqual({ kind: 'written', bytes: whole.length });
    expect(saved).toEqual([whole]);
    expect(films.unfinished()).toEqual([]);
    expect(await stored.list()).toEqual([]);
    expect(letGo).toBe(1);
  });

  it('that broke off go on from the last whole part', async () => {
    await runAndBreakAt(7);
    const [left] = films.unfinished();
    expect(left).toMatchObject({ fileName: 'kites.mp4', made: 4, frames: FRAMES });
    expect(await exports.run(await films.goOn(left!.id))).toMatchObject({ kind: 'written' });
    expect(render.made).toEqual([4, 5, 6, 7, 8, 9]);
    expect(saved).toEqual([whole]);
    expect(films.unfinished()).toEqual([]);
    expect(letGo).toBe(2);
  });

  it('can break off again, and be saved as far as they are', async () => {
    await runAndBreakAt(5);
    render.breaksAt = 8;
    const { id } = films.unfinished()[0]!;
    expect(await exports.run(await films.goOn(id))).toMatchObject({ kind: 'failed' });
    expect(films.unfinished()[0]).toMatchObject({ id, made: 8 });
    expect(await exports.run(await films.asItIs(id))).toMatchObject({ kind: 'written' });
    expect(saved).toEqual(['[ 0 1 2 3 ][ 4 5 6 7 ]']);
    // They can be gone on with all the same, until they are let go.
    expect(films.unfinished()).toHaveLength(1);
    await films.letGo(id);
    expect(films.unfinished()).toEqual([]);
    await expect(films.goOn(id)).rejects.toThrow('no longer in this browser');
  });

  it('of which no part is whole, or the first is missing, are not offered', async () => {
    await runAndBreakAt(3);
    expect(films.unfinished()).toEqual([]);
    expect(await stored.list()).toEqual([]);
    await runAndBreakAt(9);
    const { id } = films.unfinished()[0]!;
    expect(films.unfinished()[0]!.made).toBe(8);
    await new Database().filmParts.delete([id, 0]);
    await films.refresh();
    expect(films.unfinished()).toEqual([]);
  });

  it('that another window works on are left to it', async () => {
    await runAndBreakAt(5);
    locks.add(`hazy-lens-film-${films.unfinished()[0]!.id}`);
    await films.refresh();
    expect(films.unfinished()).toEqual([]);
    const [film] = await stored.list();
    expect(await exports.run(await films.goOn(film!.id))).toEqual({ kind: 'failed', reason: expect.stringContaining('another window') }); // prettier-ignore
    locks.clear();
    await films.refresh();
    expect(films.unfinished()).toHaveLength(1);
  });

  it('whose footage lies outside of the browser ask for it as they go on', async () => {
    await runAndBreakAt(6);
    const { id } = films.unfinished()[0]!;
    let isAllowed = false;
    const place = { requestPermission: async () => void (isAllowed = answer) };
    vi.spyOn(projects, 'placeOf').mockResolvedValue(place as never);
    vi.spyOn(projects, 'picture').mockImplementation(async () => (isAllowed ? new Blob(['clip']) : null));
    let answer = false;
    const refused = await exports.run(await films.goOn(id));
    expect(refused).toEqual({
      kind: 'failed',
      reason: expect.stringContaining('needs your permission'),
    });
    answer = true;
    expect(await exports.run(await films.goOn(id))).toMatchObject({ kind: 'written' });
    expect(saved).toEqual([whole]);
  });

  it('whose footage is gone are told of, and can still be saved as they are', async () => {
    await runAndBreakAt(6);
    const { id } = films.unfinished()[0]!;
    await new Database().projects.clear();
    const outcome = await exports.run(await films.goOn(id));
    expect(outcome).toEqual({ kind: 'failed', reason: expect.stringContaining('no longer in this browser') });
    expect(await exports.run(await films.asItIs(id))).toMatchObject({ kind: 'written' });
    expect(saved).toEqual(['[ 0 1 2 3 ]']);
  });

  it('are made where the browser has no room for parts, or the project is not kept', async () => {
    const full = vi
      .spyOn(stored, 'putPart')
      .mockRejectedValue(new DOMException('full', 'QuotaExceededError'));
    expect(await run()).toMatchObject({ kind: 'written' });
    expect(full).toHaveBeenCalledTimes(1);
    const order = films.order(wish, hold({ ...input(), projectId: null }));
    expect(await exports.run(order)).toMatchObject({ kind: 'written' });
    expect(saved).toEqual([whole, whole]);
  });

  it('of single pictures are written into a folder as they are made', async () => {
    const written: string[] = [];
    let isFull = false;
    const folder = {
      name: 'frames',
      getFileHandle: async (name: string) => ({
        createWritable: async () => ({
          write: async (file: Blob) => {
            if (isFull) throw new DOMException('full', 'QuotaExceededError');
            written.push(`${name} ${await file.text()}`);
          },
          close: async () => undefined,
        }),
      }),
    } as unknown as FileSystemDirectoryHandle;
    const jpeg = { ...wish, kind: CLIP_FORMATS.find(({ id }) => id === 'jpeg')!, fileName: 'kites.zip' };
    const work = () => {
      const own = hold(input());
      return exports.work(films.intoFolder(jpeg, own, folder)).finally(own.letGo);
    };
    expect(await work()).toEqual({ count: FRAMES, note: '' });
    expect(written).toEqual([
      'kites-0001.jpg [ 0 1 2 3 ]',
      'kites-0005.jpg [ 4 5 6 7 ]',
      'kites-0009.jpg [ 8 9 ]',
    ]);
    expect(letGo).toBe(1);
    isFull = true;
    await expect(work()).rejects.toThrow('full');
    expect(letGo).toBe(2);
    const clip = films.intoFolder(wish, hold(input()), folder);
    await expect(exports.work(clip)).rejects.toThrow('Only frames exported as pictures');
    expect(await stored.list()).toEqual([]);
  });

  it('that are called off leave nothing', async () => {
    const order = films.order(wish, hold(input()));
    const running = exports.run(order);
    exports.cancel(exports.jobs()[0]!);
    expect(await running).toEqual({ kind: 'cancelled' });
    expect(await stored.list()).toEqual([]);
    expect(films.unfinished()).toEqual([]);
  });
});
