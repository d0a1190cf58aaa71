import 'fake-indexeddb/auto';
import { neutralRecipe, parseRecipe } from '@hazy-lens/core';
import Dexie from 'dexie';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Project } from '../../src/app/model/project';
import { ProjectActions, projectReducer } from '../../src/app/project/session/project.reducer';
import { DamagedProjects } from '../../src/app/storage/quarantine';
import { Database } from '../../src/app/storage/database';
import { Housekeeping } from '../../src/app/storage/housekeeping';
import { isStorageFull } from '../../src/app/model/causes';
import { Projects } from '../../src/app/storage/projects';
import { firstOf } from '../services';

const source = (id: string) => ({
  id,
  fileName: 'kites.png',
  type: 'png',
  bytes: 3,
  width: 30,
  height: 20,
  date: null,
});

const plain = { recipe: neutralRecipe() };

/** One step: a saturation in percent. */
const saturated = (state: Project, percent: number): Project => {
  const work = {
    recipe: { ...state.work.recipe, colour: { ...state.work.recipe.colour, saturation: percent / 100 } },
  };
  return projectReducer(
    state,
    ProjectActions.edited({ work, label: `saturation ${percent}`, gesture: null }),
  );
};
const undone = (state: Project): Project => projectReducer(state, ProjectActions.undone());

describe('projects', () => {
  let projects: Projects;
  let database: Database;
  const housekeeping = new Housekeeping();

  beforeEach(async () => {
    database = new Database();
    await Promise.all(database.tables.map((table) => table.clear()));
    projects = new Projects();
  });

  const create = (name: string) =>
    projects.create(name, source(`picture of ${name}`), new Blob(['abc']), plain);
  const open = async (id: string): Promise<Project> => (await projects.open(id, plain))!.project;

  it('come back as they were saved, the last changed first', async () => {
    const first = await create('Kites');
    vi.spyOn(Date, 'now').mockReturnValue(first.changed + 1000);
    await create('Lamps');
    vi.spyOn(Date, 'now').mockReturnValue(first.changed + 2000);
    const project = { ...saturated(await open(first.id), 40), name: 'Kites at noon' };
    await projects.save(project, null);
    vi.restoreAllMocks();
    expect((await projects.list()).map(({ name }) => name)).toEqual(['Kites at noon', 'Lamps']);
    expect(await open(first.id)).toEqual(project);
    expect(await (await projects.picture(project.source!))!.text()).toBe('abc');
  });

  it('are saved step by step: what is there already is not written again', async () => {
    const { id } = await create('Kites');
    let before = await open(id);
    for (const percent of [10, 20, 30, 40]) {
      const now = saturated(before, percent);
      await projects.save(now, before);
      before = now;
    }
    expect(await database.steps.count()).toBe(4);
    // A row that is spoilt behind its back shows that later saves leave it alone.
    await database.steps.update([id, 0], { label: 'touched' });
    const back = undone(undone(before));
    await projects.save(back, before);
    expect((await open(id)).history.future.map(({ label }) => label)).toEqual([
      'saturation 30',
      'saturation 40',
    ]);
    const other = saturated(back, 90);
    await projects.save(other, back);
    const opened = await open(id);
    expect(opened.history.past.map(({ label }) => label)).toEqual([
      'touched',
      'saturation 20',
      'saturation 90',
    ]);
    expect(opened.history.future).toEqual([]);
    expect(undone(opened).work.recipe.colour.saturation).toBe(0.2);
  });

  it('that were taken over from an older version keep their steps', async () => {
    const name = 'older';
    const old = new Dexie(name);
    old.version(2).stores({ projects: 'id, changed', pictures: 'id', assets: 'name' });
    const to = (value: number) => [{ op: 'replace', path: '/blur/radius', value }];
    const step = (label: string) => ({ label, gesture: null, undo: to(0.01), redo: to(0.02) });
    await old.table('projects').put({
      id: 'p',
      name: 'Kites',
      changed: 1,
      created: 1,
      source: source('a'),
      recipe: plain.recipe,
      thumbnail: null,
      history: { past: [step('one'), step('two')], future: [step('three')] },
    });
    old.close();
    const now = new Database(name);
    expect(await now.projects.get('p')).toMatchObject({ done: 1 });
    expect((await now.steps.toArray()).map(({ seq, label }) => [seq, label])).toEqual([
      [0, 'one'],
      [1, 'two'],
      [2, 'three'],
    ]);
    expect(await now.projects.get('p')).toMatchObject({ work: plain });
    expect((await now.steps.get(['p', 1]))!.undo).toEqual([
      { op: 'replace', path: '/recipe/blur/radius', value: 0.01 },
    ]);
    now.close();
  });

  it('of an older version leave a batch that is written as it was', async () => {
    const name = 'older-batch';
    const old = new Dexie(name);
    old.version(8).stores({ projects: 'id, changed, opened', batch: 'id', batchPictures: 'index' });
    const wish = {
      type: 'image/webp',
      quality: 0.7,
      longEdge: 900,
      pattern: '{name}',
      metadata: 'none',
      parts: ['blur'],
    };
    await old.table('batch').put({ id: 'batch', name: 'noon', recipeId: null, recipe: plain.recipe, wish });
    const row = { name: 'a.png', file: new Blob(['a']), state: 'done' };
    await old.table('batchPictures').bulkPut([
      { ...row, index: 0, out: new Blob(['made']) },
      { ...row, index: 1, out: null },
    ]);
    old.close();
    const now = new Database(name);
    expect((await now.batch.get('batch'))!.wish).toEqual({
      settings: {
        kind: 'webp',
        quality: 70,
        size: { by: 'long-edge', px: 900 },
        pattern: '{name}',
        metadata: 'none',
      },
      presets: [],
      parts: ['blur'],
    });
    const pictures = await now.batchPictures.toArray();
    expect(pictures.map(({ outs }) => outs.length)).toEqual([1, 0]);
    expect(await pictures[0]!.outs[0]!.file.text()).toBe('made');
    now.close();
  });

  it('can be deleted and put back for a day; a copy shares the picture; tidying keeps what is needed', async () => {
    const one = await create('Kites');
    await projects.save(saturated(await open(one.id), 30), null);
    const copy = await projects.duplicate(one.id);
    expect((await open(copy!.id)).history.past).toHaveLength(1);
    await projects.remove(one.id);
    expect((await projects.list()).map(({ name }) => name)).toEqual(['Kites copy']);
    expect((await projects.deleted()).map(({ name }) => name)).toEqual(['Kites']);
    await housekeeping.tidy();
    await projects.restore(one.id);
    expect(await projects.list()).toHaveLength(2);
    await projects.remove(one.id);
    const later = Date.now() + 48 * 3600 * 1000;
    vi.spyOn(Date, 'now').mockReturnValue(later);
    await housekeeping.tidy();
    expect(await projects.get(one.id)).toBeNull();
    expect(await database.steps.where('project').equals(one.id).count()).toBe(0);
    expect(await projects.picture(copy!.source)).not.toBeNull();
    await projects.remove(copy!.id);
    vi.spyOn(Date, 'now').mockReturnValue(later * 2);
    await housekeeping.tidy();
    expect(await projects.picture(copy!.source)).toBeNull();
    vi.restoreAllMocks();
  });

  it('that are gone for good come back whole when who works on them saves', async () => {
    const { id } = await create('Kites');
    const before = await open(id);
    await database.projects.delete(id);
    await projects.save(saturated(before, 25), before);
    expect((await open(id)).work.recipe.colour.saturation).toBe(0.25);
  });

  it('with a damaged recipe open at the newest step that can be read, and the bad ones can be done again', async () => {
    const { id } = await create('Kites');
    let project = await open(id);
    for (const percent of [10, 20]) project = saturated(project, percent);
    await projects.save(project, null);
    await database.projects.update(id, {
      'work.recipe': { ...plain.recipe, colour: { ...plain.recipe.colour, saturation: 'much' as never } },
    });
    const found = (await projects.open(id, plain))!;
    expect(found).toMatchObject({ stepsBack: 1, isLost: false });
    expect(found.project.work.recipe.colour.saturation).toBe(0.1);
    expect(found.project.history.future.map(({ label }) => label)).toEqual(['saturation 20']);
  });

  it('whose numbers are only out of range lose nothing', async () => {
    const { id } = await create('Kites');
    await database.projects.update(id, {
      'work.recipe': { ...plain.recipe, blur: { ...plain.recipe.blur, radius: 3 } },
    });
    const found = (await projects.open(id, plain))!;
    expect(found).toMatchObject({ stepsBack: 0, isLost: false });
    expect(found.project.work.recipe.blur.radius).toBe(0.1);
  });

  it('of which nothing can be read open with another recipe, and what was stored is put aside', async () => {
    const { id } = await create('Kites');
    for (const work of [{ recipe: { version: 9 } }, null, 'gone', []]) {
      await database.projects.update(id, { work: work as never });
      const found = (await projects.open(id, plain))!;
      expect(found.isLost).toBe(true);
      expect(found.project.work).toEqual(plain);
    }
    const remains = await database.remains.toArray();
    expect(remains.map(({ project }) => (project as { work: unknown }).work)).toContainEqual({
      recipe: { version: 9 },
    });
  });

  it('know a full storage by its name, however it is wrapped', () => {
    expect(isStorageFull(new DOMException('full', 'QuotaExceededError'))).toBe(true);
    expect(isStorageFull({ name: 'AbortError', inner: { name: 'QuotaExceededError' } })).toBe(true);
    expect(isStorageFull(new Error('other'))).toBe(false);
  });

  it('keep the pictures that a recipe names, or named before a step back, and no others', async () => {
    for (const name of ['now.png', 'before.png', 'stray.png'])
      await projects.saveAsset(name, new Blob([name]), name === 'now.png');
    const one = await create('Kites');
    const project = await open(one.id);
    const recipe = parseRecipe({ ...project.work.recipe, focus: { depthMap: { image: 'now.png' } } });
    const undo = [{ op: 'replace' as const, path: '/recipe/focus/depthMap/image', value: 'before.png' }];
    const past = [{ seq: 0, label: 'map', gesture: null, undo, redo: [] }];
    await projects.save({ ...project, work: { recipe }, history: { past, future: [] } }, project);
    await housekeeping.tidy();
    expect(await (await projects.asset('now.png'))!.text()).toBe('now.png');
    expect(await projects.isDraft('now.png')).toBe(true);
    expect(await projects.asset('before.png')).not.toBeNull();
    expect(await projects.isDraft('before.png')).toBe(false);
    // It may be named soon: it goes a day later.
    expect(await projects.asset('stray.png')).not.toBeNull();
    const later = Date.now() + 25 * 3600 * 1000;
    vi.spyOn(Date, 'now').mockReturnValue(later);
    await housekeeping.tidy();
    vi.restoreAllMocks();
    expect(await projects.asset('stray.png')).toBeNull();
    expect(await projects.asset('before.png')).not.toBeNull();
  });

  it('keep what variants, batches, films and looks name; a name in a text is no need', async () => {
    const { recipe } = plain;
    const naming = (image: string) => parseRecipe({ ...recipe, focus: { depthMap: { image } } });
    const names = ['variant.png', 'batch.png', 'film.png', 'look.cube', 'text.png'];
    for (const name of names) await projects.saveAsset(name, new Blob([name]));
    const one = await create('"text.png"');
    const list = ['a', 'b'].map((id) => ({ id, name: id, recipe: naming('variant.png') }));
    await projects.save(
      { ...(await open(one.id)), work: { recipe, variants: { list, current: 'a' } } },
      null,
    );
    await database.batch.put({ id: 'batch', recipe: naming('batch.png') } as never);
    await database.films.put({ id: 'f', recipe: naming('film.png') } as never);
    await database.looks.put({ id: 'l', name: 'Slate', made: 0, image: 'look.cube' });
    const start = Date.now();
    for (const hours of [0, 25]) {
      vi.spyOn(Date, 'now').mockReturnValue(start + hours * 3600 * 1000);
      await housekeeping.tidy();
    }
    vi.restoreAllMocks();
    const left = await Promise.all(names.map(async (name) => (await projects.asset(name)) !== null));
    expect(left).toEqual([true, true, true, true, false]);
  });

  it('that cannot be read are listed, saved as files and deleted; the rest is as ever', async () => {
    const good = await create('Kites');
    const bad = await create('Roofs');
    await database.projects.update(bad.id, { source: null as never });
    await housekeeping.tidy();
    expect((await projects.list()).map(({ name }) => name)).toEqual(['Kites']);
    const damaged = new DamagedProjects();
    const [one] = await firstOf(damaged.watch());
    expect(one).toMatchObject({ id: bad.id, name: 'Roofs' });
    const [text] = await damaged.files(one!);
    expect(JSON.parse(await text!.file.text()).project).toMatchObject({ name: 'Roofs', source: null });
    await damaged.remove(one!);
    expect(await firstOf(damaged.watch())).toEqual([]);
    // What was put aside has its picture with it.
    await database.projects.update(good.id, { work: 'gone' as never });
    await projects.open(good.id, plain);
    await database.projects.delete(good.id);
    await housekeeping.tidy();
    const [aside] = await firstOf(damaged.watch());
    expect((await damaged.files(aside!)).map(({ name }) => name)).toHaveLength(2);
    await damaged.remove(aside!);
    expect(await database.remains.count()).toBe(0);
  });
});
