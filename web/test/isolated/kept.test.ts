import 'fake-indexeddb/auto';
import { defaultExportSettings, neutralRecipe } from '@hazy-lens/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import {
  BatchRepository,
  type StoredBatch,
  type StoredBatchPicture,
} from '../../src/app/storage/batch-repository';
import { Database } from '../../src/app/storage/database';
import { Housekeeping } from '../../src/app/storage/housekeeping';
import { OwnLooks } from '../../src/app/storage/own-looks';
import { Projects } from '../../src/app/storage/projects';
import { Recipes } from '../../src/app/storage/recipes';
import { firstOf } from '../services';

const DAY = 24 * 3600 * 1000;

let database: Database;
beforeEach(async () => {
  database = new Database();
  await Promise.all(database.tables.map((table) => table.clear()));
});

describe('recipes on the shelf', () => {
  let recipes: Recipes;
  beforeEach(() => {
    recipes = new Recipes();
    return () => void vi.restoreAllMocks();
  });
  const shelf = () => firstOf(recipes.shelf());
  const names = async (): Promise<string[]> => (await shelf()).all.map(({ name }) => name);

  it('are kept under their names, in the order of these', async () => {
    for (const name of ['tin', 'enamel', 'noon']) await recipes.keep(name, neutralRecipe(), null);
    expect(await names()).toEqual(['enamel', 'noon', 'tin']);
    const [enamel] = (await shelf()).all;
    expect(enamel!.recipe).toEqual(neutralRecipe());
    await recipes.rename(enamel!.id, 'zinc');
    expect(await names()).toEqual(['noon', 'tin', 'zinc']);
  });

  it('that are taken off can be put back for a day, and are gone after it', async () => {
    await recipes.keep('tin', neutralRecipe(), null);
    await recipes.keep('noon', neutralRecipe(), null);
    const tin = (await shelf()).all[1]!;
    await recipes.remove(tin.id);
    expect(await names()).toEqual(['noon']);
    expect((await shelf()).removed.map(({ name }) => name)).toEqual(['tin']);
    await recipes.restore(tin.id);
    expect(await names()).toEqual(['noon', 'tin']);
    await recipes.remove(tin.id);
    const now = Date.now();
    vi.spyOn(Date, 'now').mockReturnValue(now + DAY + 1000);
    expect((await shelf()).removed).toEqual([]);
    await recipes.remove((await shelf()).all[0]!.id);
    expect(await database.recipes.count()).toBe(1);
  });

  it('keep the pictures that they name; what is damaged is passed over', async () => {
    const projects = new Projects();
    await projects.saveAsset('map-1.png', new Blob(['a']));
    await projects.saveAsset('map-2.png', new Blob(['b']));
    const recipe = neutralRecipe();
    recipe.focus.depthMap = { image: 'map-1.png' } as NonNullable<typeof recipe.focus.depthMap>;
    await recipes.keep('deep', recipe, null);
    await database.recipes.put({ id: 'broken', recipe: 7 } as never);
    const start = Date.now();
    for (const hours of [0, 25]) {
      vi.spyOn(Date, 'now').mockReturnValue(start + hours * 3600 * 1000);
      await new Housekeeping().tidy();
    }
    vi.restoreAllMocks();
    expect(await projects.asset('map-1.png')).not.toBeNull();
    expect(await projects.asset('map-2.png')).toBeNull();
    expect(await names()).toEqual(['deep']);
  });
});

describe('looks of one’s own', () => {
  it('keep the files of their tables, also while they can still be put back', async () => {
    const [looks, projects] = [new OwnLooks(), new Projects()];
    for (const name of ['wet.cube', 'dry.cube', 'stray.cube'])
      await projects.saveAsset(name, new Blob([name]));
    await looks.keep('Wet slate', 'wet.cube');
    await looks.keep('Dry slate', 'dry.cube');
    await looks.remove((await firstOf(looks.shelf())).all[0]!.id);
    const start = Date.now();
    for (const hours of [0, 25]) {
      vi.spyOn(Date, 'now').mockReturnValue(start + hours * 3600 * 1000);
      await new Housekeeping().tidy();
    }
    vi.restoreAllMocks();
    const { all, removed } = await firstOf(looks.shelf());
    expect([...all, ...removed].map(({ name, image }) => [name, image])).toEqual([
      ['Wet slate', 'wet.cube'],
      ['Dry slate', 'dry.cube'],
    ]);
    expect(await projects.asset('dry.cube')).not.toBeNull();
    expect(await projects.asset('stray.cube')).toBeNull();
  });
});

describe('a batch', () => {
  let batch: BatchRepository;
  beforeEach(() => {
    batch = new BatchRepository();
  });
  const stored: StoredBatch = {
    id: 'batch',
    name: 'noon',
    recipeId: null,
    recipe: neutralRecipe(),
    wish: {
      settings: { ...defaultExportSettings(), kind: 'png' },
      presets: [],
      parts: ['colour'],
    },
    isRunning: true,
  };
  const files = (...names: string[]): File[] => names.map((name) => new File(['x'], name));

  it('keeps its pictures in the order in which they came, across what is taken out', async () => {
    await batch.put(stored);
    await batch.add(files('a.png', 'b.png'));
    await batch.add(files('c.png'));
    await batch.removePicture(1);
    await batch.add(files('d.png'));
    expect((await batch.pictures()).map(({ index, name }) => [index, name])).toEqual([
      [0, 'a.png'],
      [2, 'c.png'],
      [3, 'd.png'],
    ]);
    expect(await batch.picture(1)).toBeNull();
  });

  it('remembers how far each is, and what was made', async () => {
    await batch.put(stored);
    await batch.add(files('a.png'));
    await batch.changePicture(0, {
      state: 'done',
      outs: [{ preset: '', file: new Blob(['made']) }],
      madeOf: 'k',
    });
    const [picture] = await firstOf(batch.watchPictures());
    expect(picture).toMatchObject({ state: 'done', madeOf: 'k', projectId: null });
    expect(await picture!.outs[0]!.file.text()).toBe('made');
    await batch.change({ isRunning: false });
    expect(await firstOf(batch.watch())).toEqual({ ...stored, isRunning: false });
  });

  it('shows what did not change as it was', async () => {
    await batch.put(stored);
    await batch.add(files('a.png', 'b.png'));
    const seen: StoredBatchPicture[][] = [];
    const watched = batch.watchPictures().subscribe((pictures) => void seen.push(pictures));
    await vi.waitFor(() => expect(seen).toHaveLength(1));
    await batch.changePicture(1, { thumbnail: new Blob(['small']), thumbnailOf: 'k' });
    await vi.waitFor(() => expect(seen).toHaveLength(2));
    watched.unsubscribe();
    expect(seen[1]![0]).toBe(seen[0]![0]);
    expect(seen[1]![1]).not.toBe(seen[0]![1]);
    expect(seen[1]![1]).toMatchObject({ name: 'b.png', thumbnailOf: 'k' });
  });

  it('that is let go of has no pictures, and does not run', async () => {
    await batch.put(stored);
    await batch.add(files('a.png', 'b.png'));
    await batch.clear();
    expect(await batch.pictures()).toEqual([]);
    expect(await batch.get()).toMatchObject({ name: 'noon', isRunning: false });
  });

  it('is null where there is none, or where what is stored is none', async () => {
    expect(await batch.get()).toBeNull();
    await database.batch.put({ id: 'batch', wish: 'nonsense' } as never);
    expect(await batch.get()).toBeNull();
  });
});
