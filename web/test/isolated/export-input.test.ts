import { signal } from '@angular/core';
import {
  type Recipe,
  type Scribble,
  evenTimes,
  flickerGains,
  neutralRecipe,
  timelineOf,
} from '@hazy-lens/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { StageRenderLoop } from '../../src/app/engine/stage-render-loop';
import { Brightness } from '../../src/app/engine/footage/brightness';
import { StillMender } from '../../src/app/engine/still-mender';
import { Rasters } from '../../src/app/engine/rasters';
import { RecipeAssetLoader } from '../../src/app/engine/recipe-asset-loader';
import { ExportInputs } from '../../src/app/project/session/export-input';
import { Footage } from '../../src/app/project/footage/footage';
import { MatteCutter } from '../../src/app/project/subjects/matte-cutter';
import { OpenProject } from '../../src/app/project/session/open-project';
import { Projects } from '../../src/app/storage/projects';
import { openOne, services } from '../services';

vi.mock('../../src/app/engine/stage-render-loop', () => ({ StageRenderLoop: class {} }));
vi.mock('../../src/app/engine/rasters', () => ({ Rasters: class {}, BLANK_MATTE: 'matte-blank.png' }));
vi.mock('../../src/app/engine/recipe-asset-loader', () => ({ RecipeAssetLoader: class {} }));
vi.mock('../../src/app/engine/still-mender', () => ({ StillMender: class {} }));
vi.mock('../../src/app/engine/footage/brightness', () => ({ Brightness: class {} }));
vi.mock('../../src/app/project/footage/footage', () => ({ Footage: class {} }));

const size = { width: 900, height: 200 };
const times = evenTimes(40, 30);
const scribbles: Scribble[] = [{ inside: true, radius: 0.01, points: [[0.5, 0.5]] }];

describe('what files of a project are made of', () => {
  let here: ReturnType<typeof services>;
  let inputs: ExportInputs;
  let cutter: MatteCutter;
  let project: OpenProject;
  let held: number;
  /** Work of the workers, done when it is told to be. */
  let works: Record<'cut' | 'refine' | 'brightness', ((value?: unknown) => void)[]>;
  let stopped: string[];
  let recipes: Recipe[];
  let frame: number;

  const worker = (signal?: AbortSignal) => {
    const work = (name: 'cut' | 'refine') => () =>
      new Promise((resolve, reject) => {
        works[name].push(resolve);
        signal?.addEventListener('abort', () => {
          stopped.push(name);
          reject(signal.reason as Error);
        });
      });
    return { cut: work('cut'), refine: work('refine'), encode: async () => new Blob(['png']) };
  };

  beforeEach(() => {
    [held, frame, stopped, recipes] = [0, 3, [], []];
    works = { cut: [], refine: [], brightness: [] };
    vi.stubGlobal('document', new EventTarget());
    vi.stubGlobal('addEventListener', () => undefined);
    const picture = {
      ...size,
      name: 'first',
      pixels: async () => ({ width: 90, height: 20, data: new Uint8Array(4) }),
    };
    const material = {
      ...size,
      footage: null as object | null,
      frames: 40,
      frame: async (index: number) => ({ ...picture, name: `frame ${index}` }),
      hold: () => (held++, () => void held--),
    };
    const footage = {
      material: signal({ ...material, footage: { times, sound: null } }),
      frame: () => frame,
      timeline: () => timelineOf(neutralRecipe().pace, times),
      times: () => times,
      isNumbered: () => false,
    };
    here = services(
      openOne,
      {
        provide: StageRenderLoop,
        useValue: {
          material: signal(material),
          guide: signal(picture),
          picture: signal(picture),
          pool: {},
        },
      },
      { provide: Footage, useValue: footage },
      {
        provide: Rasters,
        useValue: { remote: worker(), until: worker, put: async () => undefined },
      },
      {
        provide: RecipeAssetLoader,
        useValue: {
          of: async (recipe: Recipe) => (recipes.push(recipe), { depth: null, keep: [], table: null }),
        },
      },
      { provide: StillMender, useValue: { of: async (one: object) => one } },
      {
        provide: Brightness,
        useValue: {
          of: () =>
            new Promise((resolve) =>
              works.brightness.push(() => resolve(Float64Array.from({ length: 40 }, (_, i) => i % 2))),
            ),
        },
      },
      { provide: Projects, useValue: { picture: async () => null, isDraft: async () => false } },
    );
    inputs = here.injector.get(ExportInputs);
    cutter = here.injector.get(MatteCutter);
    project = here.injector.get(OpenProject);
  });

  /** The workers cut the subject, as a draft and at full size. */
  const cutThrough = async (): Promise<void> => {
    await vi.waitFor(() => expect(works.cut).toHaveLength(1));
    works.cut[0]!({ width: 90, height: 20, values: new Float32Array(1800) });
    for (const nth of [1, 2]) {
      await vi.waitFor(() => expect(works.refine).toHaveLength(nth));
      works.refine[nth - 1]!({
        id: 'r',
        levels: [{ width: 90, height: 20, samples: new Uint16Array(1800) }],
      });
    }
  };
  /** As another project takes its place. */
  const close = (): void => here.injector.destroy();
  const scribbled = (): void =>
    project.edit('subject', ({ focus }) => {
      focus.mattes.push({
        id: 'm',
        image: 'matte-blank.png',
        on: true,
        combine: 'add',
        invert: false,
        grow: 0,
        feather: 0,
        scribbles: structuredClone(scribbles),
        carry: { shift: [0, 0], turn: 0, scale: 1 },
      } as never);
    });

  it('are those of the moment they are asked for, whatever is changed meanwhile', async () => {
    const { ready, letGo } = inputs.film();
    project.edit('saturation', ({ colour }) => void (colour.saturation = 0.9));
    frame = 20;
    const { source } = await ready;
    expect(source.recipe.colour.saturation).not.toBe(0.9);
    letGo();
    letGo();
    expect(held).toBe(0);
  });

  it('hold the material from then on until they are let go of, also where another project is opened', async () => {
    project.edit('deflicker', ({ pace }) => void (pace.deflicker.amount = 1));
    const input = inputs.film();
    expect(held).toBe(1);
    close();
    expect(held).toBe(1);
    await vi.waitFor(() => expect(works.brightness).toHaveLength(1));
    works.brightness[0]!();
    const { source } = await input.ready;
    // Evened out as it was ordered, though the project is closed.
    const stops = Float64Array.from({ length: 40 }, (_, i) => i % 2);
    expect(source.lights).toEqual([...flickerGains(stops, times, source.recipe.pace.deflicker)]);
    input.letGo();
    expect(held).toBe(0);
  });

  it('wait for a subject that is being cut, and get it though the project closes', async () => {
    scribbled();
    const matte = project.recipe().focus.mattes[0]!;
    const cutting = cutter.cut('m', matte.scribbles, 'scribble', 'g');
    const source = inputs.take();
    close();
    await cutThrough();
    await cutting;
    const { recipe } = await source.ready;
    expect(stopped).toEqual([]);
    expect(recipe.focus.mattes[0]!.image).toMatch(/^matte-.+\.png$/);
    expect(recipes.at(-1)!.focus.mattes[0]!.image).toBe(recipe.focus.mattes[0]!.image);
    source.letGo();
  });

  it('that nobody asked for are no longer made when the project closes', async () => {
    scribbled();
    const cutting = cutter.cut('m', project.recipe().focus.mattes[0]!.scribbles, 'scribble', 'g');
    await vi.waitFor(() => expect(works.cut).toHaveLength(1));
    close();
    await cutting;
    expect(stopped).toEqual(['cut']);
    expect(here.state().work.recipe.focus.mattes[0]!.image).toBe('matte-blank.png');
  });

  it('whose subject was called off have neither that nor its scribble, until something comes after it', async () => {
    scribbled();
    const scribble = (gesture: string): Promise<void> => {
      const add = ({ focus }: Recipe) =>
        void focus.mattes[0]!.scribbles.push({ ...scribbles[0]!, inside: false });
      project.edit('scribble', add, gesture);
      return cutter.cut('m', project.recipe().focus.mattes[0]!.scribbles, 'scribble', gesture);
    };
    expect(cutter.canCancel()).toBe(false);
    const first = scribble('g');
    await vi.waitFor(() => expect(works.cut).toHaveLength(1));
    expect(cutter.canCancel()).toBe(true);
    cutter.cancel();
    await first;
    expect(stopped).toEqual(['cut']);
    expect(project.recipe().focus.mattes[0]).toMatchObject({ image: 'matte-blank.png', scribbles });
    expect(project.redoLabel()).toBeNull();
    // The draft of another one is there already: it goes, too.
    const second = scribble('h');
    await vi.waitFor(() => expect(works.cut).toHaveLength(2));
    works.cut[1]!({ width: 90, height: 20, values: new Float32Array(1800) });
    await vi.waitFor(() => expect(works.refine).toHaveLength(1));
    works.refine[0]!({ id: 'r', levels: [{ width: 90, height: 20, samples: new Uint16Array(1800) }] });
    await vi.waitFor(() => expect(project.recipe().focus.mattes[0]!.image).not.toBe('matte-blank.png'));
    project.edit('saturation', ({ colour }) => void (colour.saturation = 0.4));
    cutter.cancel();
    expect(cutter.canCancel()).toBe(false);
    project.undo();
    cutter.cancel();
    expect(project.recipe().focus.mattes[0]!.scribbles).toHaveLength(2);
    works.refine[1]?.({ id: 'r', levels: [{ width: 90, height: 20, samples: new Uint16Array(1800) }] });
    void second;
  });

  it('whose subject was not cut before its project closed get it when that is opened again', async () => {
    scribbled();
    const drawn = project.recipe().focus.mattes[0]!.scribbles;
    const finished = cutter.finishDrafts();
    await cutThrough();
    await finished;
    const [matte] = project.recipe().focus.mattes;
    expect(matte!.image).toMatch(/^matte-.+-[0-9a-f]{8}\.png$/);
    // What is cut from its scribbles is left as it is; once there are others, it is cut anew.
    await cutter.finishDrafts();
    expect(works.cut).toHaveLength(1);
    project.edit(
      'scribble',
      ({ focus }) => void focus.mattes[0]!.scribbles.push({ ...drawn[0]!, inside: false }),
    );
    void cutter.finishDrafts();
    await vi.waitFor(() => expect(works.cut).toHaveLength(2));
  });

  it('say so where nothing is open', () => {
    const nothing = services(
      openOne,
      { provide: StageRenderLoop, useValue: { guide: () => null, material: () => null } },
      { provide: Footage, useValue: { material: () => null } },
    ).injector.get(ExportInputs);
    expect(() => nothing.take()).toThrow('There is no picture open.');
    expect(() => nothing.film()).toThrow('There is no footage open.');
  });
});
