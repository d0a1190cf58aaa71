import { Injectable, inject, signal } from '@angular/core';
import { type Recipe } from '@hazy-lens/core';
import { Store } from '@ngrx/store';
import type { Subscription } from 'dexie';
import { Engine } from '../engine/engine';
import { MatteCutter } from '../engine/matte-cutter';
import type { Picture } from '../engine/picture';
import { Rasters } from '../engine/rasters';
import { Projects, isStorageFull } from '../storage/projects';
import { Autosave } from './autosave';
import { DEMO_PICTURES, type DemoPicture, startingRecipe } from './demo';
import { Document } from './document';
import { DocumentActions, type DocumentState, type SourceInfo } from './document.reducer';
import { EMPTY_HISTORY } from './history';
import { Notices } from './notices';
import { ProjectLock } from './project-lock';
import { isRecipeFile, namedPictures, renamedPictures, unpackRecipe } from './recipe-files';
import { takenAt } from './taken-at';

const LAST_KEY = 'hazy-lens-last-project';
/** What notices about the open project are about: they go with it. */
const ABOUT = 'open project';

/** Opens pictures, projects and recipes, and says plainly where that fails; what is open stays open then. */
@Injectable({ providedIn: 'root' })
export class Session {
  private readonly store = inject(Store);
  private readonly engine = inject(Engine);
  private readonly projects = inject(Projects);
  private readonly document = inject(Document);
  private readonly autosave = inject(Autosave);
  private readonly notices = inject(Notices);
  private readonly lock = inject(ProjectLock);
  private readonly rasters = inject(Rasters);
  private readonly cutter = inject(MatteCutter);
  /** What is being opened just now, or null. */
  readonly opening = signal<string | null>(null);
  /** Counts what was asked for: only the newest is shown. */
  private turn = 0;
  private watched: Subscription | null = null;

  /** Opens the project of last time, or the demo on the first start. */
  async start(): Promise<void> {
    // Without this the browser may clear projects away when the disk fills up.
    void navigator.storage?.persist?.();
    try {
      const all = await this.projects.list();
      const last = all.find((project) => project.id === localStorage.getItem(LAST_KEY)) ?? all[0];
      if (last) await this.openProject(last.id);
      if (!this.document.isOpen()) await this.openDemo(DEMO_PICTURES[0]!);
      await this.projects.tidy();
    } catch (error) {
      this.notices.error(
        `The saved projects cannot be reached (${(error as Error).message}). You can work on, but nothing will be kept.`,
      );
      if (!this.document.isOpen()) await this.openDemo(DEMO_PICTURES[0]!);
    }
  }

  async openDemo(demo: DemoPicture): Promise<void> {
    const response = await fetch(`demo/${demo.file}`).catch(() => null);
    if (!response?.ok)
      return this.notices.error(
        `The demo picture “${demo.name}” cannot be reached. Please start Hazy Lens again; your projects are safe.`,
      );
    const file = new File([await response.blob()], demo.file, { type: 'image/jpeg' });
    await this.openFile(file, demo.name, demo.recipe);
  }

  /** A picture becomes a project; a recipe, with the pictures it names, is laid over the open one. */
  async openDropped(files: readonly File[]): Promise<void> {
    if (files.some(isRecipeFile)) await this.openRecipe(files);
    else if (files[0]) await this.openFile(files[0]);
  }

  async openFile(
    file: File,
    name = file.name.replace(/\.[^.]+$/, '') || 'Picture',
    recipe: Recipe = startingRecipe(),
  ): Promise<void> {
    await this.inTurn(file.name, async (isNewest) => {
      const { picture, about } = await this.engine.load(file, file.name);
      if (!isNewest()) return;
      const { width, height } = picture;
      const source: SourceInfo = {
        id: crypto.randomUUID(),
        fileName: file.name,
        bytes: file.size,
        width,
        height,
        date: await takenAt(file),
        ...about,
      };
      let document: DocumentState = { projectId: null, name, source, recipe, history: EMPTY_HISTORY };
      try {
        const { id } = await this.projects.create(name, source, file, recipe);
        document = { ...document, projectId: id };
      } catch (error) {
        this.notices.error(
          isStorageFull(error)
            ? `The browser has no room left to keep “${file.name}”. You can work on it and export it, but it will not be here next time. Delete projects on the shelf to make room.`
            : `“${file.name}” could not be kept in this browser (${(error as Error).message}). You can work on it and export it.`,
        );
      }
      if (isNewest()) await this.show(document, picture);
    });
  }

  async openProject(id: string): Promise<void> {
    const stored = await this.projects.get(id);
    if (!stored) return;
    await this.inTurn(stored.name, async (isNewest) => {
      // What the open project still has to write comes first: it may be the same one.
      await this.autosave.save();
      try {
        const found = await this.projects.open(id, startingRecipe());
        const file = await this.projects.picture(stored.source);
        if (!found || !file)
          throw new Error('its picture is no longer in this browser. Please open the picture again.');
        const { picture } = await this.engine.load(file, stored.source.fileName);
        if (!isNewest()) return;
        await this.show(found.document, picture);
        if (found.isLost)
          this.notices.error(
            `What was done in “${stored.name}” is damaged and cannot be read. Its picture is open with a plain band; what was stored is put aside as it is.`,
            ABOUT,
          );
        else if (found.stepsBack > 0)
          this.notices.error(
            `The last ${found.stepsBack === 1 ? 'step' : `${found.stepsBack} steps`} of “${stored.name}” cannot be read. It is open as it was before that; nothing else is lost.`,
            ABOUT,
          );
        void this.cutter.finishDrafts();
      } catch (error) {
        throw new Error(`“${stored.name}” could not be opened: ${(error as Error).message}`, {
          cause: error,
        });
      }
    });
  }

  /** Opens something with its name shown; what is asked for later takes its place. Errors are told. */
  private async inTurn(name: string, open: (isNewest: () => boolean) => Promise<void>): Promise<void> {
    const turn = ++this.turn;
    const isNewest = (): boolean => turn === this.turn;
    this.opening.set(name);
    try {
      await open(isNewest);
    } catch (error) {
      if (isNewest()) this.notices.error((error as Error).message);
    } finally {
      if (isNewest()) this.opening.set(null);
    }
  }

  /** Lays a recipe over the open picture; one step back undoes it. */
  async openRecipe(files: readonly File[]): Promise<void> {
    const name = (files.find(isRecipeFile) ?? files[0])?.name ?? 'recipe';
    const { projectId } = this.document.state();
    try {
      const { recipe, pictures } = await unpackRecipe(files);
      const own = await this.takeIn(namedPictures(recipe), pictures);
      const renamed = renamedPictures(recipe, own);
      if (projectId !== this.document.state().projectId)
        throw new Error('Another project was opened meanwhile.');
      this.document.edit(`recipe “${name}”`, (draft) => Object.assign(draft, renamed));
    } catch (error) {
      this.notices.error(`“${name}” was not used. ${(error as Error).message} The project is as it was.`);
    }
  }

  /** Keeps the pictures of a recipe under names of their own; gives the new name of each. */
  private async takeIn(
    names: readonly string[],
    pictures: ReadonlyMap<string, Blob>,
  ): Promise<Map<string, string>> {
    const own = new Map<string, string>();
    for (const name of names) {
      const file = pictures.get(name) ?? pictures.get(name.split('/').at(-1)!);
      if (file) {
        const fresh = `${name.startsWith('matte') ? 'matte' : 'map'}-${crypto.randomUUID()}.png`;
        await this.rasters.put(fresh, await this.rasters.read(fresh, file, name), file);
        own.set(name, fresh);
      } else if (!(await this.rasters.has(name)))
        throw new Error(
          `It names the picture “${name}”, which is not among the files. Choose the recipe together with its pictures, or the zip that was saved.`,
        );
    }
    return own;
  }

  /** Shows what was opened; where the open project has changes that cannot be saved, only when that is wanted. */
  private async show(document: DocumentState, picture: Picture): Promise<void> {
    await this.autosave.save();
    if (!this.autosave.isBehind()) return this.change(document, picture);
    this.notices.show({
      kind: 'error',
      about: ABOUT,
      text: `“${this.document.state().name}” has changes that cannot be saved: they are lost when “${document.name}” takes its place.`,
      action: { label: 'Open it all the same', run: () => void this.change(document, picture) },
    });
  }

  private async change(document: DocumentState, picture: Picture): Promise<void> {
    this.notices.clear(ABOUT);
    this.watched?.unsubscribe();
    this.watched = null;
    this.engine.open(picture);
    this.store.dispatch(DocumentActions.opened({ document }));
    const { projectId } = document;
    if (!projectId) return this.lock.drop();
    localStorage.setItem(LAST_KEY, projectId);
    const isMine = await this.lock.take(projectId);
    if (projectId !== this.document.state().projectId) return;
    this.watch(projectId);
    if (isMine) return;
    this.notices.show({
      kind: 'info',
      about: ABOUT,
      text: `“${document.name}” is open in another tab, and that tab saves it. Changes made here are not kept unless you go on with a copy.`,
      action: { label: 'Go on with a copy', run: () => void this.continueAsCopy(projectId) },
    });
  }

  /** Follows what other tabs do to the open project: a new name, or taking it off the shelf. */
  private watch(projectId: string): void {
    let wasThere = true;
    this.watched = this.projects.watch(projectId).subscribe((stored) => {
      const { name } = this.document.state();
      const isThere = stored !== undefined && stored.deleted === undefined;
      if (wasThere && !isThere)
        this.notices.show({
          kind: 'info',
          about: ABOUT,
          text: `“${name}” was taken off the shelf in another tab. It is still open here; keep it, or it is gone in a day.`,
          action: { label: 'Keep it', run: () => void this.keep(projectId) },
        });
      wasThere = isThere;
      if (stored && stored.name !== name && !this.autosave.isBehind())
        this.store.dispatch(DocumentActions.renamed({ name: stored.name }));
    });
  }

  private async keep(projectId: string): Promise<void> {
    await this.projects.restore(projectId);
    this.notices.clear(ABOUT);
  }

  /** The project of an id, with what was changed in this tab since, as one of its own. */
  private async continueAsCopy(projectId: string): Promise<void> {
    const document = this.document.state();
    const picture = this.engine.picture();
    if (document.projectId !== projectId || !picture) return;
    try {
      await this.show(await this.projects.saveAsCopy(document), picture);
    } catch (error) {
      this.notices.error(`The copy could not be kept: ${(error as Error).message}`);
    }
  }
}
