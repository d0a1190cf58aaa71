import 'fake-indexeddb/auto';
import { computed, signal } from '@angular/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { StageRenderLoop } from '../../src/app/engine/stage-render-loop';
import { MediaLoader } from '../../src/app/engine/load';
import type { MediaSource } from '../../src/app/engine/media-source';
import type { Picture } from '../../src/app/engine/picture';
import { Rasters } from '../../src/app/engine/rasters';
import { NO_PROJECT } from '../../src/app/model/project';
import { startingRecipe } from '../../src/app/model/starting-recipe';
import { MatteCutter } from '../../src/app/project/subjects/matte-cutter';
import { Autosave } from '../../src/app/project/saving/autosave';
import { Notices } from '../../src/app/project/session/notices';
import { OpenProject } from '../../src/app/project/session/open-project';
import { Openings } from '../../src/app/project/session/openings';
import { ProjectNotices } from '../../src/app/project/session/project-notices';
import { ProjectScope } from '../../src/app/project/session/scope';
import { Thumbnails } from '../../src/app/project/saving/thumbnails';
import { ProjectLock } from '../../src/app/project/saving/project-lock';
import { ProjectOpener } from '../../src/app/project/session/project-opener';
import { Database } from '../../src/app/storage/database';
import { Projects } from '../../src/app/storage/projects';
import { fakeStorage, services } from '../services';

vi.mock('../../src/app/engine/load', () => ({ MediaLoader: class {} }));
vi.mock('../../src/app/engine/rasters', () => ({ Rasters: class {} }));
vi.mock('../../src/app/project/subjects/matte-cutter', () => ({ MatteCutter: class {} }));

const about = { type: 'png', bits: 8, profile: null, pages: 1 };

/** Decodes files when it is told to; counts who holds what it gave. */
class FakeLoader {
  readonly waiting = new Map<string, { done: () => void; fail: (reason: Error) => void }>();
  readonly holders = new Map<string, number>();

  private readonly files = new WeakMap<object, Blob>();

  load = (file: Blob, name: string) =>
    new Promise((resolve, reject) =>
      this.waiting.set(name, {
        done: () => {
          const material = this.material(name);
          this.files.set(material, file);
          resolve({ material, about });
        },
        fail: reject,
      }),
    );

  fileOf = (material: object): Blob | null => this.files.get(material) ?? null;

  private material(name: string) {
    const size = { width: 30, height: 20 };
    const count = (by: number): void => void this.holders.set(name, (this.holders.get(name) ?? 0) + by);
    return {
      name,
      ...size,
      footage: null,
      frame: async () => ({ ...size, name, format: { channels: 4, bytes: 1 } }),
      hold: () => {
        count(1);
        return () => count(-1);
      },
    };
  }

  /** Names of what is held by somebody. */
  held = (): string[] => [...this.holders].filter(([, count]) => count > 0).map(([name]) => name);
}

/** The stage of a project, without anything that renders. */
class FakeEngine {
  private readonly opened = signal<{ material: MediaSource; first: Picture } | null>(null);
  readonly material = computed(() => this.opened()?.material ?? null);
  readonly guide = computed(() => this.opened()?.first ?? null);
  readonly picture = this.guide;
  private letGo: (() => void) | null = null;
  open(material: MediaSource, first: Picture): void {
    this.opened.set({ material, first });
    this.letGo = material.hold();
  }
  ngOnDestroy(): void {
    this.letGo?.();
  }
}

describe('a session', () => {
  let loader: FakeLoader;
  let session: ProjectOpener;
  let openings: Openings;
  let scope: ProjectScope;
  /** The open project, whichever that is. */
  const project = {
    state: () => scope.get(OpenProject).state(),
    recipe: () => scope.get(OpenProject).recipe(),
    edit: (...args: Parameters<OpenProject['edit']>) => scope.get(OpenProject).edit(...args),
  };
  let notices: Notices;
  let projects: Projects;
  let isFull: boolean;
  let taken: Set<string>;
  /** The other tab lets go of what this one waits for. */
  let letGo: () => void;

  const file = (name: string): File => new File(['abc'], name, { type: 'image/png', lastModified: 1e12 });
  const said = (): string[] => notices.all().map(({ text }) => text);
  /** Waits until a file is about to be decoded, and decodes it. */
  const decode = async (name: string): Promise<void> => {
    await vi.waitFor(() => expect(loader.waiting.has(name)).toBe(true));
    loader.waiting.get(name)!.done();
    loader.waiting.delete(name);
  };
  const openWhole = async (name: string): Promise<string> => {
    const opening = session.openFile(file(name));
    await decode(name);
    await opening;
    return project.state().projectId!;
  };

  beforeEach(async () => {
    vi.stubGlobal('localStorage', fakeStorage());
    vi.stubGlobal('sessionStorage', fakeStorage());
    vi.stubGlobal('navigator', {});
    vi.stubGlobal('fetch', async () => ({ ok: true, blob: async () => new Blob(['demo']) }));
    const database = new Database();
    await Promise.all(database.tables.map((table) => table.clear()));
    loader = new FakeLoader();
    taken = new Set();
    isFull = false;
    vi.stubGlobal('document', new EventTarget());
    vi.stubGlobal('addEventListener', () => undefined);
    vi.stubGlobal('window', globalThis);
    const here = services(
      NO_PROJECT,
      { provide: MediaLoader, useValue: loader },
      { provide: StageRenderLoop, useClass: FakeEngine },
      { provide: Rasters, useValue: {} },
      { provide: MatteCutter, useValue: { finishDrafts: async () => undefined } },
      Thumbnails,
      {
        provide: ProjectLock,
        useValue: {
          take: async (id: string) => !taken.has(id),
          wait: (id: string) =>
            new Promise<boolean>((resolve) => {
              letGo = () => {
                taken.delete(id);
                resolve(true);
              };
            }),
          drop: () => undefined,
          isMine: (id: string | null) => id !== null && !taken.has(id),
        },
      },
    );
    session = here.injector.get(ProjectOpener);
    openings = here.injector.get(Openings);
    scope = here.injector.get(ProjectScope);
    notices = here.injector.get(Notices);
    projects = here.injector.get(Projects);
    const { save } = projects;
    vi.spyOn(projects, 'save').mockImplementation((...args) =>
      isFull ? Promise.reject(new DOMException('full', 'QuotaExceededError')) : save.apply(projects, args),
    );
  });

  it('makes a project of a picture, and takes it up again next time', async () => {
    const id = await openWhole('kites.png');
    expect(project.state()).toMatchObject({ name: 'kites', source: { width: 30, height: 20, type: 'png' } });
    expect(openings.opening()).toBeNull();
    await openWhole('lamps.png');
    sessionStorage.clear();
    await projects.markOpened(id);
    const starting = session.start();
    await decode('kites.png');
    await starting;
    expect(project.state().name).toBe('kites');
  });

  it('takes up the project of its own tab, whatever another tab has opened since', async () => {
    const id = await openWhole('kites.png');
    const other = await openWhole('lamps.png');
    sessionStorage.setItem('hazy-lens-last-project', id);
    await projects.markOpened(other);
    const starting = session.start();
    await decode('kites.png');
    await starting;
    expect(project.state().name).toBe('kites');
  });

  it('starts with the demo where there is nothing yet', async () => {
    const starting = session.start();
    await decode('tram-loop.jpg');
    await starting;
    expect(project.state().name).toBe('Tram loop');
    expect(project.recipe().focus.bands).toHaveLength(1);
    expect(said()).toEqual([]);
  });

  it('opens nothing by itself any more where something is asked for while it starts', async () => {
    const id = await openWhole('kites.png');
    sessionStorage.setItem('hazy-lens-last-project', id);
    const starting = session.start();
    const asked = session.openFile(file('lamps.png'));
    await decode('lamps.png');
    await Promise.all([asked, starting]);
    expect(project.state().name).toBe('lamps');
  });

  it('shows what was asked for last, however long the first takes', async () => {
    const first = session.openFile(file('slow.png'));
    const second = session.openFile(file('quick.png'));
    await decode('quick.png');
    await second;
    await decode('slow.png');
    await first;
    expect(project.state().name).toBe('quick');
    // Who was passed over leaves nothing on the shelf.
    expect((await projects.list()).map(({ name }) => name)).toEqual(['quick']);
  });

  it('leaves what is open as it is where a picture cannot be read', async () => {
    await openWhole('kites.png');
    const opening = session.openFile(file('broken.png'));
    await vi.waitFor(() => expect(loader.waiting.has('broken.png')).toBe(true));
    loader.waiting.get('broken.png')!.fail(new Error('“broken.png” is damaged.'));
    await opening;
    expect(project.state().name).toBe('kites');
    expect(said()).toEqual(['“broken.png” is damaged.']);
    expect(openings.opening()).toBeNull();
  });

  it('remembers where a source lies that is too large to be kept, or for which there is no room', async () => {
    const place = { kind: 'file', name: 'long.mp4' };
    for (const [name, isHuge] of [
      ['long.mp4', true],
      ['short.mp4', false],
    ] as const) {
      const picked = Object.assign(file(name), { handle: place });
      if (isHuge) Object.defineProperty(picked, 'size', { value: 2_000_000_000 });
      else vi.spyOn(projects, 'create').mockRejectedValueOnce(new DOMException('full', 'QuotaExceededError'));
      const opening = session.openFile(picked as unknown as File);
      await decode(name);
      await opening;
      expect(project.state().projectId).not.toBeNull();
      expect(await projects.placeOf(project.state().source!)).toEqual(place);
      expect(said().at(-1)).toContain(`“${name}” is too large to store here`);
    }
    // Without a place there is nothing to remember: it is kept, whatever its size.
    const dropped = Object.defineProperty(file('dropped.mp4'), 'size', { value: 2_000_000_000 });
    const opening = session.openFile(dropped);
    await decode('dropped.mp4');
    await opening;
    expect(await projects.placeOf(project.state().source!)).toBeNull();
  });

  it('asks before it reads what lies outside of the browser, and opens it when it may', async () => {
    const id = await openWhole('long.mp4');
    await openWhole('kites.png');
    let state: PermissionState = 'prompt';
    const requestPermission = vi.fn(async () => (state = 'granted'));
    const place = { name: 'long.mp4', requestPermission, queryPermission: async () => state };
    vi.spyOn(projects, 'placeOf').mockResolvedValue(place as never);
    vi.spyOn(projects, 'picture').mockImplementation(async () =>
      state === 'granted' ? new Blob(['abc']) : null,
    );
    await session.openProject(id);
    expect(project.state().name).toBe('kites');
    const notice = notices.all().at(-1)!;
    expect(notice.text).toContain('“long” uses “long.mp4” on disk');
    notice.action!.run();
    await decode('long.mp4');
    await vi.waitFor(() => expect(project.state().name).toBe('long'));
    expect(requestPermission).toHaveBeenCalledOnce();
    expect(said().some((text) => text.includes('lies outside'))).toBe(false);
  });

  it('starts with another project where the last lies outside, and asks until that is answered', async () => {
    const id = await openWhole('long.mp4');
    await openWhole('kites.png');
    const outside = project.state().source!.id;
    await openWhole('lamps.png');
    const place = { name: 'long.mp4', queryPermission: async () => 'prompt' };
    const last = (await projects.get(id))!;
    vi.spyOn(projects, 'placeOf').mockImplementation(async (source) =>
      [last.source.id, outside].includes(source.id) ? (place as never) : null,
    );
    sessionStorage.clear();
    await projects.markOpened(id);
    const starting = session.start();
    await decode('lamps.png');
    await starting;
    expect(project.state().name).toBe('lamps');
    expect(await projects.list()).toHaveLength(3);
    expect(said().at(-1)).toContain('“long” uses “long.mp4” on disk');
    expect(sessionStorage.getItem('hazy-lens-last-project')).toBe(id);
  });

  it('goes on without keeping where the browser has no room, and says so', async () => {
    vi.spyOn(projects, 'create').mockRejectedValue(new DOMException('full', 'QuotaExceededError'));
    await openWhole('kites.png');
    expect(project.state()).toMatchObject({ projectId: null, name: 'kites' });
    expect(said()).toEqual([expect.stringContaining('“kites.png” can’t be saved')]);
  });

  it('keeps what was opened without room as soon as there is some, with all that was done to it', async () => {
    const create = vi.spyOn(projects, 'create');
    create.mockRejectedValue(new DOMException('full', 'QuotaExceededError'));
    await openWhole('kites.png');
    project.edit('saturation', (draft) => (draft.colour.saturation = 0.7));
    create.mockRestore();
    await vi.waitFor(() => expect(scope.get(Autosave).isAtRisk()).toBe(false), 4000);
    expect(said()).toEqual([]);
    const { projectId } = project.state();
    expect(await projects.list()).toHaveLength(1);
    project.edit('saturation', (draft) => (draft.colour.saturation = 0.8));
    await scope.get(Autosave).save();
    await openWhole('lamps.png');
    const again = session.openProject(projectId!);
    await decode('kites.png');
    await again;
    expect(project.state()).toMatchObject({ projectId, name: 'kites' });
    expect(project.recipe().colour.saturation).toBe(0.8);
    expect(project.state().history.past).toHaveLength(2);
  });

  it('reaches its database again after that could not be opened', async () => {
    const open = vi.spyOn(indexedDB, 'open').mockImplementation(() => {
      throw new DOMException('Internal error opening backing store', 'UnknownError');
    });
    const fresh = new Database();
    await expect(fresh.projects.toArray()).rejects.toThrow();
    await expect(fresh.projects.toArray()).rejects.toThrow();
    open.mockRestore();
    expect(await fresh.projects.toArray()).toEqual([]);
    fresh.close();
  });

  it('does not keep late what is closed by then', async () => {
    const create = vi.spyOn(projects, 'create');
    create.mockRejectedValue(new DOMException('full', 'QuotaExceededError'));
    await openWhole('kites.png');
    await openWhole('lamps.png');
    notices
      .all()
      .find(({ action }) => action)!
      .action!.run();
    await vi.waitFor(() => expect(project.state().name).toBe('lamps'));
    create.mockRestore();
    await vi.waitFor(() => expect(scope.get(Autosave).isAtRisk()).toBe(false), 4000);
    expect((await projects.list()).map(({ name }) => name)).toEqual(['lamps']);
  });

  it('asks before changes are lost that cannot be saved', async () => {
    await openWhole('kites.png');
    isFull = true;
    project.edit('saturation', (draft) => (draft.colour.saturation = 0.7));
    await openWhole('lamps.png');
    expect(project.state().name).toBe('kites');
    const notice = notices.all().find(({ action }) => action)!;
    expect(notice.text).toContain('Opening “lamps” discards them');
    expect(loader.held()).toEqual(['kites.png', 'lamps.png']);
    notice.action!.run();
    await vi.waitFor(() => expect(project.state().name).toBe('lamps'));
    expect(notices.all()).toEqual([]);
    expect(loader.held()).toEqual(['lamps.png']);
  });

  it('lets go of what was to take its place when the question is put away, or something newer is opened', async () => {
    await openWhole('kites.png');
    isFull = true;
    project.edit('saturation', (draft) => (draft.colour.saturation = 0.7));
    await openWhole('lamps.png');
    const ask = () => notices.all().find(({ action }) => action)!;
    notices.dismiss(ask());
    expect(loader.held()).toEqual(['kites.png']);
    await openWhole('lamps.png');
    const late = ask().action!;
    isFull = false;
    await openWhole('roofs.png');
    expect(project.state().name).toBe('roofs');
    expect(notices.all()).toEqual([]);
    expect(loader.held()).toEqual(['roofs.png']);
    expect(late).toBeDefined();
  });

  it('asks before a project goes that is not kept at all', async () => {
    vi.spyOn(projects, 'create').mockRejectedValueOnce(new DOMException('full', 'QuotaExceededError'));
    await openWhole('kites.png');
    expect(scope.get(Autosave).isAtRisk()).toBe(true);
    await openWhole('lamps.png');
    expect(project.state().name).toBe('kites');
    expect(said().at(-1)).toContain('Opening “lamps” discards them');
  });

  it('gives each project services of its own, which can change nothing once it is closed', async () => {
    await openWhole('kites.png');
    const [first, engine] = [scope.get(OpenProject), scope.get(StageRenderLoop)];
    const notice = scope.get(ProjectNotices);
    notice.info('Of the kites.', 'kites');
    await openWhole('lamps.png');
    expect(scope.get(OpenProject)).not.toBe(first);
    expect(scope.get(StageRenderLoop)).not.toBe(engine);
    first.edit('saturation', (draft) => (draft.colour.saturation = 0.9));
    first.undo();
    first.rename('Gone');
    expect(project.state()).toMatchObject({ name: 'lamps', work: { recipe: startingRecipe() } });
    expect(first.state().name).toBe('kites');
    expect(said()).toEqual([]);
    expect(loader.held()).toEqual(['lamps.png']);
  });

  it('offers a copy of what another tab works on', async () => {
    const id = await openWhole('kites.png');
    await openWhole('lamps.png');
    taken.add(id);
    const opening = session.openProject(id);
    await decode('kites.png');
    await opening;
    const [notice] = notices.all();
    expect(notice!.text).toContain('“kites” is open in another tab');
    project.edit('saturation', (draft) => (draft.colour.saturation = 0.7));
    notice!.action!.run();
    await vi.waitFor(() => expect(project.state().name).toBe('kites copy'));
    expect(project.recipe().colour.saturation).toBe(0.7);
    const stored = await projects.get(project.state().projectId!);
    expect(stored?.work.recipe.colour.saturation).toBe(0.7);
    expect((await projects.get(id))?.work.recipe).toEqual(startingRecipe());
  });

  describe('takes over what another tab lets go of', () => {
    let id: string;
    const openTaken = async (): Promise<void> => {
      taken.add(id);
      const opening = session.openProject(id);
      await decode('kites.png');
      await opening;
      expect(said()).toEqual([expect.stringContaining('is open in another tab')]);
    };
    const edit = (value: number): void =>
      project.edit('saturation', (draft) => (draft.colour.saturation = value));
    /** The other tab writes to it. */
    const changeThere = async (saturation: number): Promise<void> => {
      const { work } = (await projects.get(id))!;
      const recipe = { ...work.recipe, colour: { ...work.recipe.colour, saturation } };
      await new Database().projects.update(id, { work: { ...work, recipe } });
    };
    const storedSaturation = async (of = id): Promise<number> =>
      (await projects.get(of))!.work.recipe.colour.saturation;

    beforeEach(async () => {
      id = await openWhole('kites.png');
      await openWhole('lamps.png');
      await openTaken();
    });

    it('with what was changed here, where nothing was there', async () => {
      edit(0.7);
      letGo();
      await vi.waitFor(async () => expect(await storedSaturation()).toBe(0.7));
      expect(said()).toEqual([expect.stringContaining('This tab saves it now')]);
      edit(0.8);
      await vi.waitFor(async () => expect(await storedSaturation()).toBe(0.8));
    });

    it('as it was left there, where nothing was changed here', async () => {
      await changeThere(0.6);
      letGo();
      await decode('kites.png');
      await vi.waitFor(() => expect(project.recipe().colour.saturation).toBe(0.6));
      expect(project.state().projectId).toBe(id);
      expect(said()).toEqual([]);
    });

    it('and keeps both, where both were changed', async () => {
      await changeThere(0.6);
      edit(0.7);
      letGo();
      await vi.waitFor(() => expect(project.state().name).toBe('kites copy'));
      expect(said()).toEqual([expect.stringContaining('continue in a copy')]);
      expect(await storedSaturation()).toBe(0.6);
      expect(await storedSaturation(project.state().projectId!)).toBe(0.7);
    });
  });

  it('says what of a damaged project is gone, and opens the rest', async () => {
    const id = await openWhole('kites.png');
    const database = new Database();
    await database.projects.update(id, { work: 'gone' as never });
    const opening = session.openProject(id);
    await decode('kites.png');
    await opening;
    expect(said()).toEqual([expect.stringContaining('are damaged')]);
    expect(project.recipe()).toEqual(startingRecipe());
    await database.pictures.clear();
    await session.openProject(id);
    expect(said().at(-1)).toContain('its picture is no longer in this browser');
  });

  it('keeps the picture, the steps and the last edit where the browser has lost all of it', async () => {
    const id = await openWhole('kites.png');
    project.edit('saturation', (draft) => (draft.colour.saturation = 0.7));
    await scope.get(Autosave).save();
    const database = new Database();
    await Promise.all(database.tables.map((table) => table.clear()));
    await vi.waitFor(() => expect(said()).toEqual([expect.stringContaining('was deleted in another tab')]));
    notices.all()[0]!.action!.run();
    await vi.waitFor(async () => expect(await projects.get(id)).not.toBeNull());
    project.edit('saturation', (draft) => (draft.colour.saturation = 0.8));
    await scope.get(Autosave).save();
    const stored = await projects.get(id);
    expect(stored!.work.recipe.colour.saturation).toBe(0.8);
    expect(await (await projects.picture(stored!.source))!.text()).toBe('abc');
    expect(await database.steps.count()).toBe(2);
    expect(said()).toEqual([]);
  });

  it('follows a new name from another tab, and says when the project is taken off the shelf there', async () => {
    const id = await openWhole('kites.png');
    await projects.rename(id, 'Kites at noon');
    await vi.waitFor(() => expect(project.state().name).toBe('Kites at noon'));
    await projects.remove(id);
    await vi.waitFor(() => expect(said()).toEqual([expect.stringContaining('was deleted in another tab')]));
    notices.all()[0]!.action!.run();
    await vi.waitFor(async () => expect((await projects.get(id))?.deleted).toBeUndefined());
  });
});
