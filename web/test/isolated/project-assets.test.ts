import {
  type ColourLut,
  type Recipe,
  identityLut,
  formatCube,
  parseRecipe,
  parseCube,
} from '@hazy-lens/core';
import { signal } from '@angular/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Assets } from '../../src/app/engine/assets';
import { StageRenderLoop } from '../../src/app/engine/stage-render-loop';
import { LutCache } from '../../src/app/engine/lut-cache';
import { Rasters } from '../../src/app/engine/rasters';
import { RecipeAssetLoader } from '../../src/app/engine/recipe-asset-loader';
import { ProjectAssets } from '../../src/app/project/session/project-assets';
import { Notices } from '../../src/app/project/session/notices';
import { OpenProject } from '../../src/app/project/session/open-project';
import { RecipeImport } from '../../src/app/project/recipes/recipe-import';
import { Projects } from '../../src/app/storage/projects';
import { openOne, services } from '../services';

vi.mock('../../src/app/engine/stage-render-loop', () => ({ StageRenderLoop: class {} }));
vi.mock('../../src/app/engine/rasters', () => ({ Rasters: class {} }));
vi.mock('../../src/app/engine/recipe-asset-loader', () => ({ RecipeAssetLoader: class {} }));

const cube = formatCube('grid', 2, identityLut(2).samples);
const recipe = (parts: object): Recipe => parseRecipe({ format: 'hazy-lens-recipe', version: 1, ...parts });

let kept: Map<string, Blob>;
let grey: string[];
let here: ReturnType<typeof services>;
let project: OpenProject;
let said: () => string[];

beforeEach(() => {
  kept = new Map();
  grey = [];
  here = services(
    openOne,
    {
      provide: Projects,
      useValue: {
        asset: async (name: string) => kept.get(name) ?? null,
        saveAsset: async (name: string, file: Blob) => void kept.set(name, file),
      },
    },
    {
      provide: StageRenderLoop,
      useValue: { guide: signal({ width: 90, height: 20 }), picture: signal(null) },
    },
    {
      provide: Rasters,
      useValue: {
        replaced: signal(0),
        remote: { table: async (text: string, id: string): Promise<ColourLut> => parseCube(text, id) },
        has: async (name: string) => kept.has(name),
        read: async (id: string) => ({ id }),
        put: async (name: string, _: object, file: Blob) => {
          grey.push(name);
          kept.set(name, file);
        },
      },
    },
    {
      provide: RecipeAssetLoader,
      useValue: { depth: async (image: string) => ({ id: image }), keep: async () => [] },
    },
  );
  project = here.injector.get(OpenProject);
  const notices = here.injector.get(Notices);
  said = () => notices.all().map(({ text }) => text);
});

describe('what lies beside the open recipe', () => {
  const look = (image: string): void =>
    project.edit('look', ({ colour }) => void (colour.look = { image, amount: 1 }));

  it('is there when all of it is read', async () => {
    kept.set('own.cube', new Blob([cube]));
    const source = here.injector.get(ProjectAssets);
    here.runEffects();
    expect(source.now()).toEqual({
      depth: null,
      keep: [],
      table: null,
      images: new Map(),
      lifted: new Map(),
    });
    look('own.cube');
    here.runEffects();
    await vi.waitFor(() =>
      expect(source.now()).toMatchObject({ depth: null, table: { id: 'own.cube', size: 2 } }),
    );
    project.edit('depth', ({ focus }) => void (focus.depthMap = { image: 'deep.png', align: 0 } as never));
    here.runEffects();
    await vi.waitFor(() =>
      expect(source.now()).toMatchObject({ depth: { id: 'deep.png' }, table: { id: 'own.cube' } }),
    );
  });

  it('stays the same object while other tables are read; its field knows nothing of tables', async () => {
    for (const name of ['own.cube', 'other.cube']) kept.set(name, new Blob([cube]));
    const [source, tables] = [here.injector.get(ProjectAssets), here.injector.get(LutCache)];
    const field = source.ofFocus();
    look('own.cube');
    here.runEffects();
    await vi.waitFor(() => expect(source.now().table).not.toBeNull());
    const now = source.now();
    await tables.get('other.cube');
    expect(source.now()).toBe(now);
    expect(source.ofFocus()).toBe(field);
  });

  it('that cannot be had is told, and the rest is there', async () => {
    const source = here.injector.get(ProjectAssets);
    look('gone.cube');
    here.runEffects();
    await vi.waitFor(() => expect(said()).toHaveLength(1));
    expect(source.now().table).toBeNull();
    expect(said()).toEqual([expect.stringContaining('The recipe needs “gone.cube”')]);
  });
});

describe('a recipe from files', () => {
  const open = (how: Recipe, ...files: [string, string][]): Promise<void> =>
    here.injector
      .get(RecipeImport)
      .open([
        new File([JSON.stringify(how)], 'look.json'),
        ...files.map(([name, text]) => new File([text], name)),
      ]);
  const named = recipe({
    focus: { depthMap: { image: 'deep.png' } },
    colour: { look: { image: 'tables/own.cube', amount: 0.5 } },
  });

  it('brings what it names, under names of its own, and is one step back', async () => {
    await open(named, ['deep.png', 'grey'], ['own.cube', cube]);
    const { focus, colour } = project.recipe();
    expect(colour.look).toEqual({ image: expect.stringMatching(/^look-.+\.cube$/), amount: 0.5 });
    expect(focus.depthMap!.image).toMatch(/^map-.+\.png$/);
    expect(grey).toEqual([focus.depthMap!.image]);
    expect([...kept.keys()].sort()).toEqual([colour.look!.image, focus.depthMap!.image].sort());
    expect(await (await here.injector.get(Assets).file(colour.look!.image!)).text()).toBe(cube);
    expect(project.undoLabel()).toBe('recipe “look.json”');
    expect(said()).toEqual([]);
  });

  it('changes nothing where a file is missing, or is no table', async () => {
    await open(named, ['deep.png', 'grey']);
    expect(said().at(-1)).toContain('“look.json” can’t be applied. The recipe needs “tables/own.cube”');
    await open(named, ['deep.png', 'grey'], ['own.cube', 'no table']);
    expect(said().at(-1)).toContain('“tables/own.cube” can’t be used as a look');
    expect(project.undoLabel()).toBeNull();
    expect(project.recipe().colour.look).toBeUndefined();
  });
});
