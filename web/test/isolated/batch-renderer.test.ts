import 'fake-indexeddb/auto';
import {
  type ExportPreset,
  LOOK_PARTS,
  NO_ASSETS,
  type Recipe,
  defaultExportSettings,
  neutralRecipe,
} from '@hazy-lens/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { MediaLoader } from '../../src/app/engine/load';
import { Exporter } from '../../src/app/engine/export';
import { StillMender } from '../../src/app/engine/still-mender';
import { RecipeAssetLoader } from '../../src/app/engine/recipe-asset-loader';
import { JobQueue } from '../../src/app/jobs/job-queue';
import { BatchRenderer } from '../../src/app/jobs/batch-renderer';
import { BatchRepository, type BatchWish } from '../../src/app/storage/batch-repository';
import { Database } from '../../src/app/storage/database';
import { FakeLocks, openOne, services } from '../services';

vi.mock('../../src/app/engine/load', () => ({ MediaLoader: class {} }));
vi.mock('../../src/app/engine/export', () => ({ Exporter: class {} }));
vi.mock('../../src/app/engine/still-mender', () => ({ StillMender: class {} }));
vi.mock('../../src/app/engine/recipe-asset-loader', () => ({ RecipeAssetLoader: class {} }));
vi.mock('../../src/app/engine/thumbnail', () => ({
  renderThumbnail: async (_: unknown, { recipe }: { recipe: { colour: { contrast: number } } }) =>
    new Blob([`small ${recipe.colour.contrast}`]),
}));

const picture = { width: 40, height: 20 };

describe('many pictures', () => {
  let many: BatchRenderer;
  let batch: BatchRepository;
  let exports: JobQueue;
  /** Files that were decoded, and those that were rendered with their contrast. */
  let decoded: string[];
  let rendered: string[];
  /** Turns of the crops that they were rendered with. */
  let turns: number[];
  /** Files whose memory was given away. */
  let given: string[];
  let locks: FakeLocks;
  /** Held back until it is let go. */
  let gate: Promise<void>;
  /** Files of this kind cannot be read. */
  let broken: boolean;

  beforeEach(async () => {
    const database = new Database();
    await Promise.all(database.tables.map((table) => table.clear()));
    [decoded, rendered, turns, given, gate, broken] = [[], [], [], [], Promise.resolve(), true];
    vi.stubGlobal('addEventListener', () => undefined);
    locks = new FakeLocks();
    vi.stubGlobal('navigator', { locks });
    const loader = {
      load: async (_: Blob, name: string) => {
        decoded.push(name);
        if (broken && name.startsWith('bad')) throw new Error(`“${name}” is no picture.`);
        const footage = name.endsWith('.mp4') ? {} : null;
        return {
          material: {
            footage,
            hold: () => () => undefined,
            frame: async () => ({ ...picture, name, releaseTo: () => given.push(name) }),
          },
        };
      },
    };
    const exporter = {
      export: async (
        source: { picture: { name: string }; recipe: Recipe },
        options: { type: string; width: number; height: number },
        _: unknown,
        signal: AbortSignal,
      ) => {
        await gate;
        signal.throwIfAborted();
        rendered.push(`${source.picture.name} ${source.recipe.colour.contrast} ${options.width}`);
        turns.push(source.recipe.tidy.crop.turn);
        return new Blob([`made of ${source.picture.name}`], { type: options.type });
      },
    };
    const { injector } = services(
      openOne,
      { provide: MediaLoader, useValue: loader },
      { provide: Exporter, useValue: exporter },
      { provide: StillMender, useValue: { of: async (one: unknown) => one } },
      { provide: RecipeAssetLoader, useValue: { of: async () => NO_ASSETS } },
    );
    many = injector.get(BatchRenderer);
    batch = injector.get(BatchRepository);
    exports = injector.get(JobQueue);
  });

  const begin = async (...names: string[]): Promise<void> => {
    const wish: BatchWish = {
      settings: { ...defaultExportSettings(), kind: 'png' },
      presets: [],
      parts: [...LOOK_PARTS],
    };
    const recipe = neutralRecipe();
    await batch.put({ id: 'batch', name: 'noon', recipeId: null, recipe, wish, isRunning: false });
    await batch.add(names.map((name) => new File(['x'], name)));
  };
  const states = async (): Promise<string[]> => (await batch.pictures()).map(({ state }) => state);

  it('are rendered one after the other; what cannot be read is noted, and the others go on', async () => {
    await begin('a.png', 'bad.png', 'clip.mp4', 'b.png');
    await many.render();
    expect(await states()).toEqual(['done', 'failed', 'failed', 'done']);
    const reasons = (await batch.pictures()).map(({ reason }) => reason);
    expect(reasons[1]).toBe('“bad.png” is no picture.');
    expect(reasons[2]).toContain('is footage');
    expect(rendered).toEqual(['a.png 0 40', 'b.png 0 40']);
    expect(given).toEqual(['a.png', 'b.png']);
    expect((await many.made()).map(({ name }) => name)).toEqual(['a edit.png', 'b edit.png']);
    expect((await batch.get())!.isRunning).toBe(false);
  });

  it('get their small pictures while they are rendered, each decoded once', async () => {
    await begin('a.png', 'b.png', 'c.png');
    let letGo = (): void => undefined;
    gate = new Promise((resolve) => (letGo = resolve));
    const rendering = many.render();
    await vi.waitFor(() => expect(decoded).toEqual(['a.png']));
    const shown = many.showAll(new AbortController().signal);
    letGo();
    await Promise.all([rendering, shown]);
    expect(decoded).toEqual(['a.png', 'b.png', 'c.png']);
    const pictures = await batch.pictures();
    expect(await Promise.all(pictures.map(({ thumbnail }) => thumbnail!.text()))).toEqual(
      Array(3).fill('small 0'),
    );
    // Cancelled, the rest get theirs as before.
    await batch.add([new File(['x'], 'd.png')]);
    gate = new Promise((resolve) => (letGo = resolve));
    const cancelled = many.render();
    await vi.waitFor(() => expect(decoded).toContain('d.png'));
    const rest = many.showAll(new AbortController().signal);
    exports.cancel(exports.jobs()[0]!);
    letGo();
    await expect(cancelled).rejects.toThrow();
    await rest;
    expect((await batch.pictures()).at(-1)!.thumbnail).not.toBeNull();
  });

  it('that are made as they are wanted are not made again; another recipe or size makes them anew', async () => {
    await begin('a.png', 'b.png');
    await many.render();
    await many.render();
    expect(rendered).toHaveLength(2);
    const now = (await batch.get())!;
    await batch.put({
      ...now,
      wish: { ...now.wish, settings: { ...now.wish.settings, size: { by: 'long-edge', px: 16 } } },
    });
    await many.render();
    expect(rendered.slice(2)).toEqual(['a.png 0 16', 'b.png 0 16']);
    const recipe = neutralRecipe();
    recipe.colour.contrast = 0.5;
    await batch.change({ recipe });
    await batch.removePicture(1);
    await many.render();
    expect(rendered.slice(4)).toEqual(['a.png 0.5 16']);
  });

  it('that failed are tried again when all are rendered once more', async () => {
    await begin('a.png', 'bad.png');
    await many.render();
    broken = false;
    await many.render();
    expect(await batch.picture(1)).toMatchObject({ state: 'done', reason: null });
    expect(rendered).toEqual(['a.png 0 40', 'bad.png 0 40']);
  });

  it('have names for what they are, also once another kind of file is wanted', async () => {
    await begin('a.png', 'b.png');
    await many.render();
    const { wish } = (await batch.get())!;
    await batch.change({ wish: { ...wish, settings: { ...wish.settings, kind: 'jpeg' } } });
    expect((await many.made()).map(({ name }) => name)).toEqual(['a edit.png', 'b edit.png']);
    await many.render();
    expect((await many.made()).map(({ name }) => name)).toEqual(['a edit.jpg', 'b edit.jpg']);
  });

  it('go on where they were after a reload, and only then', async () => {
    await begin('a.png', 'b.png');
    await many.resume();
    expect(rendered).toEqual([]);
    await batch.change({ isRunning: true });
    await batch.changePicture(0, { state: 'done' });
    await many.resume();
    expect(rendered).toContain('b.png 0 40');
    expect(await states()).toEqual(['done', 'done']);
  });

  it('can be cancelled: what is made stays, and the rest waits', async () => {
    await begin('a.png', 'b.png', 'c.png');
    let let1 = (): void => undefined;
    gate = new Promise((resolve) => (let1 = resolve));
    const work = many.render();
    await vi.waitFor(() => expect(exports.jobs()).toHaveLength(1));
    await vi.waitFor(() => expect(decoded).toEqual(['a.png']));
    exports.cancel(exports.jobs()[0]!);
    let1();
    await expect(work).rejects.toThrow();
    expect(await states()).toEqual(['waiting', 'waiting', 'waiting']);
    expect(exports.jobs()).toEqual([]);
    await many.render();
    expect(await states()).toEqual(['done', 'done', 'done']);
  });

  it('wait for room on the disk where that is full: what is made is written then, and made once', async () => {
    await begin('a.png', 'b.png');
    const { changePicture } = batch;
    let isFull = false;
    vi.spyOn(batch, 'changePicture').mockImplementation((index, change) => {
      if (isFull && change.state === 'done')
        return Promise.reject(new DOMException('full', 'QuotaExceededError'));
      isFull = change.state === 'done';
      return changePicture.call(batch, index, change);
    });
    const rendering = many.render();
    await vi.waitFor(() => expect(exports.jobs()[0]?.says).toBe('Waiting for room on the disk'));
    expect(await states()).toEqual(['done', 'waiting']);
    isFull = false;
    await rendering;
    expect(await states()).toEqual(['done', 'done']);
    expect(rendered).toEqual(['a.png 0 40', 'b.png 0 40']);
  });

  it('have small pictures of each under the recipe, drawn again when it changes', async () => {
    await begin('a.png', 'bad.png');
    const signal = new AbortController().signal;
    await many.showAll(signal);
    const small = async (): Promise<string[]> =>
      Promise.all((await batch.pictures()).map(async ({ thumbnail }) => (thumbnail ? thumbnail.text() : '')));
    expect(await small()).toEqual(['small 0', '']);
    expect(await states()).toEqual(['waiting', 'failed']);
    const recipe = neutralRecipe();
    recipe.colour.contrast = 0.5;
    await batch.change({ recipe });
    await many.showAll(signal);
    expect(await small()).toEqual(['small 0.5', '']);
    const count = decoded.length;
    await many.showAll(signal);
    expect(decoded).toHaveLength(count);
    // One look that broke off does not keep the next from showing what is missing.
    vi.spyOn(batch, 'pictures').mockRejectedValueOnce(new Error('no storage'));
    await expect(many.showAll(signal)).rejects.toThrow('no storage');
    await batch.add([new File(['x'], 'late.png')]);
    await many.showAll(signal);
    expect((await small()).at(-1)).toBe('small 0.5');
  });

  it('get the look of a recipe alone, and its crop only where that is asked for', async () => {
    await begin('a.png');
    const recipe = neutralRecipe();
    recipe.tidy.crop.turn = 3;
    recipe.colour.contrast = 0.5;
    await batch.change({ recipe });
    await many.render();
    const { wish } = (await batch.get())!;
    await batch.change({ wish: { ...wish, parts: [...LOOK_PARTS, 'tidy'] } });
    await many.render();
    expect(rendered.map((one) => one.split(' ')[1])).toEqual(['0.5', '0.5']);
    expect(turns).toEqual([0, 3]);
  });

  it('are made with several recipes, each with its own name; a whole one with all that it has', async () => {
    await begin('a.png');
    const now = (await batch.get())!;
    const own = structuredClone(now.recipe);
    own.colour.contrast = -0.25;
    own.tidy.crop.turn = 7;
    const file = new File(['x'], 'a.png');
    await batch.addRows([
      { name: 'a.png', file, own: { name: 'dusk', recipe: own, isWhole: false } },
      { name: 'a.png', file, own: { name: 'Variant 2', recipe: own, isWhole: true } },
    ]);
    await many.render();
    expect(rendered.slice(1).map((one) => one.split(' ')[1])).toEqual(['-0.25', '-0.25']);
    expect(turns.slice(1)).toEqual([0, 7]);
    await batch.put({
      ...now,
      wish: { ...now.wish, settings: { ...now.wish.settings, pattern: '{name} {recipe}' } },
    });
    const names = (await many.made()).map(({ name }) => name.replace(/\.[^.]+$/, ''));
    expect(names).toEqual([`a ${now.name}`, 'a dusk', 'a Variant 2']);
  });

  it('are written with several presets at once, each to a folder of its own', async () => {
    await begin('a.png', 'b.png');
    const { wish } = (await batch.get())!;
    const preset = (name: string, parts: Partial<ExportPreset>): ExportPreset => ({
      ...defaultExportSettings(),
      name,
      clip: null,
      ...parts,
    });
    const web = preset('web', { size: { by: 'percent', percent: 50 }, pattern: '{number}' });
    const presets = [web, preset('Print', { kind: 'tiff', bits: 16 })];
    await batch.change({ wish: { ...wish, presets } });
    await many.render();
    expect(rendered).toEqual(['a.png 0 20', 'a.png 0 40', 'b.png 0 20', 'b.png 0 40']);
    expect(decoded).toEqual(['a.png', 'b.png']);
    expect((await many.made()).map(({ name }) => name)).toEqual([
      'web/01.jpg',
      'web/02.jpg',
      'Print/a edit.tif',
      'Print/b edit.tif',
    ]);
    // A new pattern needs no new files.
    await batch.change({ wish: { ...wish, presets: [{ ...web, pattern: '{name} web' }, presets[1]!] } });
    await many.render();
    expect(rendered).toHaveLength(4);
    expect((await many.made())[0]!.name).toBe('web/a web.jpg');
  });

  it('are rendered by one window at a time; another goes on where that one is closed', async () => {
    await begin('a.png', 'b.png');
    const close = locks.holdElsewhere('hazy-lens-batch');
    await expect(many.render()).rejects.toThrow('another window is rendering them');
    await batch.change({ isRunning: true });
    const resumed = many.resume();
    await Promise.resolve();
    expect(rendered).toEqual([]);
    await batch.changePicture(0, { state: 'done' });
    close();
    await resumed;
    expect(await states()).toEqual(['done', 'done']);
    expect(rendered).toContain('b.png 0 40');
    expect((await batch.get())!.isRunning).toBe(false);
  });
});
