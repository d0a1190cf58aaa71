import 'fake-indexeddb/auto';
import { neutralRecipe, parseRecipe, RecipeError } from '@hazy-lens/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Database } from '../src/app/storage/database';
import { Projects, asDocument, isStorageFull } from '../src/app/storage/projects';

const source = (id: string) => ({
  id,
  fileName: 'kites.png',
  type: 'png',
  bytes: 3,
  width: 30,
  height: 20,
  date: null,
});

describe('projects', () => {
  let projects: Projects;

  beforeEach(async () => {
    const database = new Database();
    await Promise.all(database.tables.map((table) => table.clear()));
    database.close();
    projects = new Projects();
  });

  const create = (name: string) =>
    projects.create(name, source(`picture of ${name}`), new Blob(['abc']), neutralRecipe());

  it('come back as they were saved, the last changed first', async () => {
    const first = await create('Kites');
    vi.spyOn(Date, 'now').mockReturnValue(first.changed + 1000);
    await create('Lamps');
    vi.spyOn(Date, 'now').mockReturnValue(first.changed + 2000);
    const document = asDocument(first);
    await projects.save({
      ...document,
      name: 'Kites at noon',
      recipe: { ...document.recipe, colour: { on: true, saturation: 0.4 } },
    });
    vi.restoreAllMocks();
    const all = await projects.list();
    expect(all.map(({ name }) => name)).toEqual(['Kites at noon', 'Lamps']);
    expect(asDocument(all[0]!).recipe.colour.saturation).toBe(0.4);
    expect(await (await projects.picture(all[0]!.source))!.text()).toBe('abc');
  });

  it('can be deleted and put back; a copy shares the picture; tidying keeps what is needed', async () => {
    const one = await create('Kites');
    const copy = await projects.duplicate(one.id);
    await projects.remove(one.id);
    expect((await projects.list()).map(({ name }) => name)).toEqual(['Kites copy']);
    await projects.tidy();
    await projects.restore(one.id);
    expect(await projects.list()).toHaveLength(2);
    const later = Date.now() + 48 * 3600 * 1000;
    await projects.remove(one.id);
    vi.spyOn(Date, 'now').mockReturnValue(later);
    await projects.tidy();
    expect(await projects.get(one.id)).toBeUndefined();
    expect(await projects.picture(copy!.source)).not.toBeNull();
    await projects.remove(copy!.id);
    vi.spyOn(Date, 'now').mockReturnValue(later * 2);
    await projects.tidy();
    expect(await projects.picture(copy!.source)).toBeNull();
    vi.restoreAllMocks();
  });

  it('with a damaged recipe say so', async () => {
    const project = await create('Kites');
    expect(() => asDocument({ ...project, recipe: { ...project.recipe, version: 9 as never } })).toThrow(
      RecipeError,
    );
  });

  it('know a full storage by its name, however it is wrapped', () => {
    expect(isStorageFull(new DOMException('full', 'QuotaExceededError'))).toBe(true);
    expect(isStorageFull({ name: 'AbortError', inner: { name: 'QuotaExceededError' } })).toBe(true);
    expect(isStorageFull(new Error('other'))).toBe(false);
  });

  it('keep the pictures that a recipe names, or named before a step back, and no others', async () => {
    for (const name of ['now.png', 'before.png', 'stray.png'])
      await projects.saveAsset(name, new Blob([name]));
    const one = await create('Kites');
    const document = asDocument(one);
    const recipe = parseRecipe({ ...document.recipe, focus: { depthMap: { image: 'now.png' } } });
    const undo = [{ op: 'replace' as const, path: '/focus/depthMap/image', value: 'before.png' }];
    const past = [{ label: 'map', gesture: null, undo, redo: [] }];
    await projects.save({ ...document, recipe, history: { past, future: [] } });
    await projects.tidy();
    expect(await (await projects.asset('now.png'))!.text()).toBe('now.png');
    expect(await projects.asset('before.png')).not.toBeNull();
    expect(await projects.asset('stray.png')).toBeNull();
  });
});
