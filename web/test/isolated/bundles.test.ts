import 'fake-indexeddb/auto';
import { neutralRecipe } from '@hazy-lens/core';
import fc from 'fast-check';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { EMPTY_HISTORY, recordEdit } from '../../src/app/model/history';
import { newMatte } from '../../src/app/model/mattes';
import type { Project, ProjectDocument, SourceInfo } from '../../src/app/model/project';
import { BUNDLE_INDEX, ProjectBundles } from '../../src/app/storage/bundles';
import { Database } from '../../src/app/storage/database';
import { Projects } from '../../src/app/storage/projects';
import { StorageUsage } from '../../src/app/storage/usage';

const info: SourceInfo = {
  id: 'source-1',
  fileName: 'kites/over.jpg',
  type: 'jpeg',
  bytes: 7,
  width: 300,
  height: 200,
  date: null,
};

describe('a project as a file', () => {
  let projects: Projects;
  let bundles: ProjectBundles;
  let project: Project;

  beforeEach(async () => {
    const database = new Database();
    await Promise.all(database.tables.map((table) => table.clear()));
    [projects, bundles] = [new Projects(), new ProjectBundles()];
    const first: ProjectDocument = { recipe: neutralRecipe() };
    const { id } = await projects.create('Kites', info, new Blob(['picture']), first);
    await projects.saveAsset('matte-1.png', new Blob(['now']));
    await projects.saveAsset('matte-0.png', new Blob(['before']));
    await projects.saveAsset('other.png', new Blob(['of another project']));
    const work = structuredClone(first);
    work.recipe.focus.mattes.push(newMatte('m', 'matte-0.png'));
    let history = recordEdit(EMPTY_HISTORY, first, work, 'new subject', null);
    const last = structuredClone(work);
    last.recipe.focus.mattes[0]!.image = 'matte-1.png';
    history = recordEdit(history, work, last, 'scribble', null);
    project = { projectId: id, name: 'Kites', source: info, work: last, history };
    await projects.save(project, null);
  });

  const packed = async (): Promise<Map<string, Blob>> =>
    new Map((await bundles.files(project.projectId!)).map(({ name, file }) => [name, file]));

  it('holds its source and all that its steps name, and nothing else', async () => {
    expect([...(await packed()).keys()].toSorted()).toEqual([
      'files/matte-0.png',
      'files/matte-1.png',
      BUNDLE_INDEX,
      'source/kites_over.jpg',
    ]);
  });

  it('comes back in another browser with work, history, source and pictures', async () => {
    const files = await packed();
    const database = new Database();
    await Promise.all(database.tables.map((table) => table.clear()));
    const id = await bundles.add(files);
    expect(id).not.toBe(project.projectId);
    const found = (await projects.open(id, { recipe: neutralRecipe() }))!;
    expect(found).toMatchObject({ isLost: false, stepsBack: 0 });
    expect(found.project.name).toBe('Kites');
    expect(found.project.work.recipe.focus.mattes[0]!.image).toBe('matte-1.png');
    expect(found.project.history.past.map(({ label }) => label)).toEqual(['new subject', 'scribble']);
    expect(await (await projects.picture(found.project.source!))!.text()).toBe('picture');
    expect(await (await projects.asset('matte-0.png'))!.text()).toBe('before');
    // Beside the one that it was made of it is a project of its own.
    expect(await bundles.add(files)).not.toBe(id);
    expect(await projects.list()).toHaveLength(2);
  });

  it('that is damaged, incomplete or hostile adds nothing, or only what can be read', async () => {
    const files = await packed();
    const index = JSON.parse(await files.get(BUNDLE_INDEX)!.text()) as Record<string, unknown>;
    const withIndex = (text: string): Map<string, Blob> =>
      new Map([...files, [BUNDLE_INDEX, new Blob([text])]]);
    await expect(bundles.add(withIndex('{'))).rejects.toThrow('Save it once more');
    await expect(bundles.add(withIndex(JSON.stringify({ ...index, version: 2 })))).rejects.toThrow('newer');
    await expect(bundles.add(new Map([[BUNDLE_INDEX, files.get(BUNDLE_INDEX)!]]))).rejects.toThrow(
      'incomplete',
    );
    expect(await projects.list()).toHaveLength(1);
    await fc.assert(
      fc.asyncProperty(fc.json(), fc.constantFrom('project', 'steps', 'format'), async (value, field) => {
        const spoiled = JSON.stringify({ ...index, [field]: JSON.parse(value) as unknown });
        const id = await bundles.add(withIndex(spoiled)).catch(() => null);
        if (id) await projects.open(id, { recipe: neutralRecipe() });
      }),
      { numRuns: 60 },
    );
    // A name that leaves its folder is no asset, and one that is there stays as it is.
    await bundles.add(
      new Map([
        ...files,
        ['files/../evil.png', new Blob(['x'])],
        ['files/matte-1.png', new Blob(['forged'])],
      ]),
    );
    expect(await projects.asset('../evil.png')).toBeNull();
    expect(await (await projects.asset('matte-1.png'))!.text()).toBe('now');
  });

  it('is counted with all else that takes room', async () => {
    vi.stubGlobal('navigator', { storage: { estimate: async () => ({ quota: 1000, usage: 400 }) } });
    expect(await new StorageUsage().read()).toEqual({
      uses: [
        { label: 'Depth maps and subjects', bytes: 27 },
        { label: 'Pictures and clips', bytes: 7 },
      ],
      free: 600,
    });
  });
});
