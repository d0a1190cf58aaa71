import { type ColourLut, CUBE_SIZE, identityLut, formatCube, parseCube } from '@hazy-lens/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Assets } from '../../src/app/engine/assets';
import { Exporter } from '../../src/app/engine/export';
import { LutCache } from '../../src/app/engine/lut-cache';
import { Rasters } from '../../src/app/engine/rasters';
import { LookShelf } from '../../src/app/project/recipes/look-shelf';
import { OpenProject } from '../../src/app/project/session/open-project';
import { OwnLooks } from '../../src/app/storage/own-looks';
import { Projects } from '../../src/app/storage/projects';
import { openOne, services } from '../services';

vi.mock('../../src/app/engine/rasters', () => ({ Rasters: class {} }));
vi.mock('../../src/app/engine/export', () => ({ Exporter: class {} }));

const text = (size: number): string => formatCube('grid', size, identityLut(size).samples);
const file = (content: string, name = 'warm.cube'): File => new File([content], name);

/** Storage that is nothing but a map; it may have no room. */
class FakeProjects {
  readonly kept = new Map<string, Blob>();
  hasRoom = true;
  asset = async (name: string): Promise<Blob | null> => this.kept.get(name) ?? null;
  saveAsset = async (name: string, blob: Blob): Promise<void> => {
    if (!this.hasRoom) throw new DOMException('full', 'QuotaExceededError');
    this.kept.set(name, blob);
  };
}

let projects: FakeProjects;
let read: string[];
let shelf: { name: string; image: string }[];
let exported: { colour: unknown; table: ColourLut | null }[];
let here: ReturnType<typeof services>;

beforeEach(() => {
  projects = new FakeProjects();
  [read, shelf, exported] = [[], [], []];
  here = services(
    openOne,
    { provide: Projects, useValue: projects },
    {
      provide: Rasters,
      useValue: {
        remote: {
          table: async (content: string, id: string) => {
            read.push(id);
            return parseCube(content, id);
          },
        },
      },
    },
    {
      provide: Exporter,
      useValue: {
        table: async (colour: unknown, table: ColourLut | null, size: number) => {
          exported.push({ colour, table });
          return new Uint16Array(identityLut(size).samples);
        },
      },
    },
    {
      provide: OwnLooks,
      useValue: { keep: async (name: string, image: string) => void shelf.push({ name, image }) },
    },
  );
});

describe('files that recipes name', () => {
  it('are kept, in this window also where the browser has no room', async () => {
    const assets = here.injector.get(Assets);
    await assets.put('a.cube', new Blob(['a']));
    projects.hasRoom = false;
    await assets.put('b.cube', new Blob(['b']));
    expect([...projects.kept.keys()]).toEqual(['a.cube']);
    expect(await (await assets.file('b.cube')).text()).toBe('b');
    expect([await assets.has('a.cube'), await assets.has('b.cube'), await assets.has('c.cube')]).toEqual([true, true, false]); // prettier-ignore
    await expect(assets.file('c.cube')).rejects.toThrow(/“c\.cube”, which isn’t stored here/);
  });
});

describe('tables that looks name', () => {
  it('are read once, however often they are asked for, and are there from then on', async () => {
    const tables = here.injector.get(LutCache);
    projects.kept.set('look.cube', new Blob([text(3)]));
    expect(tables.now('look.cube')).toBeNull();
    const [one, two] = await Promise.all([tables.get('look.cube'), tables.get('look.cube')]);
    expect(one).toBe(two);
    expect(read).toEqual(['look.cube']);
    expect(tables.now('look.cube')).toBe(one);
    expect(tables.now(undefined)).toBeNull();
  });

  it('that cannot be read are named, and may be tried again', async () => {
    const tables = here.injector.get(LutCache);
    await expect(tables.get('gone.cube')).rejects.toThrow(/“gone\.cube”, which isn’t stored here/);
    projects.kept.set('gone.cube', new Blob([text(2)]));
    expect((await tables.get('gone.cube')).size).toBe(2);
    await expect(tables.keep(file('LUT_3D_SIZE 2\n0 0 0'), 'cold.cube')).rejects.toThrow(
      /“cold\.cube” can’t be used as a look\. It holds 1 colours where 8 are wanted/,
    );
    expect([...projects.kept.keys()]).toEqual(['gone.cube']);
    const huge = Object.defineProperty(file(''), 'size', { value: 40_000_000 });
    await expect(tables.keep(huge, 'huge.cube')).rejects.toThrow(/“huge\.cube” is too large/);
  });
});

describe('the shelf of looks', () => {
  it('takes the table of a file, and gives it to the open picture as one step back', async () => {
    const [looks, project] = [here.injector.get(LookShelf), here.injector.get(OpenProject)];
    await looks.bringIn(file(text(4), 'Wet slate.CUBE'));
    expect(shelf).toEqual([{ name: 'Wet slate', image: expect.stringMatching(/^look-.+\.cube$/) }]);
    expect(project.recipe().colour.look).toEqual({ image: shelf[0]!.image, amount: 1 });
    expect(project.undoLabel()).toBe('look: Wet slate');
    expect(projects.kept.has(shelf[0]!.image)).toBe(true);
    project.undo();
    expect(project.recipe().colour.look).toBeUndefined();
  });

  it('keeps nothing of a file that is no table, and leaves the picture as it is', async () => {
    const [looks, project] = [here.injector.get(LookShelf), here.injector.get(OpenProject)];
    await expect(looks.bringIn(file('no table'))).rejects.toThrow(/“warm\.cube” can’t be used/);
    expect([shelf, [...projects.kept]]).toEqual([[], []]);
    expect(project.undoLabel()).toBeNull();
  });

  it('makes a look of the open picture’s colours, the table of its own look among them', async () => {
    const [looks, project] = [here.injector.get(LookShelf), here.injector.get(OpenProject)];
    projects.kept.set('own.cube', new Blob([text(2)]));
    project.edit('look', ({ colour }) => void (colour.look = { image: 'own.cube', amount: 1 }));
    await looks.keep('  ');
    await looks.keep('x'.repeat(200));
    expect(shelf.map(({ name }) => name.length)).toEqual([4, 80]);
    expect(shelf[0]!.name).toBe('Look');
    expect(exported[0]).toEqual({
      colour: project.recipe().colour,
      table: await here.injector.get(LutCache).get('own.cube'),
    });
    const cube = await looks.cube();
    expect(cube.name).toBe('Kites.cube');
    expect(parseCube(await cube.text(), 'back').size).toBe(CUBE_SIZE);
    // What is kept is what was seen: the picture itself is left alone.
    expect(project.undoLabel()).toBe('look');
  });
});
