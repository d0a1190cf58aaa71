import { Injectable, inject, signal } from '@angular/core';
import { type Recipe, RecipeError } from '@hazy-lens/core';
import { Store } from '@ngrx/store';
import { Engine } from '../engine/engine';
import type { Picture } from '../engine/picture';
import { Rasters } from '../engine/rasters';
import type { StoredProject } from '../storage/database';
import { Projects, asDocument, isStorageFull } from '../storage/projects';
import { DEMO_PICTURES, type DemoPicture, startingRecipe } from './demo';
import { Document } from './document';
import { DocumentActions, type DocumentState, type SourceInfo } from './document.reducer';
import { EMPTY_HISTORY } from './history';
import { Notices } from './notices';
import { ProjectLock } from './project-lock';
import { isRecipeFile, namedPictures, renamedPictures, unpackRecipe } from './recipe-files';
import { takenAt } from './taken-at';

const LAST_KEY = 'hazy-lens-last-project';

/** Opens pictures, projects and recipes, and says plainly where that fails; what is open stays open then. */
@Injectable({ providedIn: 'root' })
export class Session {
  private readonly store = inject(Store);
  private readonly engine = inject(Engine);
  private readonly projects = inject(Projects);
  private readonly document = inject(Document);
  private readonly notices = inject(Notices);
  private readonly lock = inject(ProjectLock);
  private readonly rasters = inject(Rasters);
  /** What is being opened just now, or null. */
  readonly opening = signal<string | null>(null);

  /** Opens the project of last time, or the demo on the first start. */
  async start(): Promise<void> {
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
    this.opening.set(file.name);
    try {
      const { picture, type } = await this.engine.load(file, file.name);
      const { width, height } = picture;
      const source: SourceInfo = {
        id: crypto.randomUUID(),
        fileName: file.name,
        type,
        bytes: file.size,
        width,
        height,
        date: await takenAt(file),
      };
      let document: DocumentState = { projectId: null, name, source, recipe, history: EMPTY_HISTORY };
      try {
        document = asDocument(await this.projects.create(name, source, file, recipe));
      } catch (error) {
        this.notices.error(
          isStorageFull(error)
            ? `The browser has no room left to keep “${file.name}”. You can work on it and export it, but it will not be here next time. Delete projects on the shelf to make room.`
            : `“${file.name}” could not be kept in this browser (${(error as Error).message}). You can work on it and export it.`,
        );
      }
      await this.show(document, picture);
    } catch (error) {
      this.notices.error((error as Error).message);
    } finally {
      this.opening.set(null);
    }
  }

  async openProject(id: string): Promise<void> {
    const project = await this.projects.get(id);
    if (!project) return;
    this.opening.set(project.name);
    try {
      await this.openStored(project);
    } catch (error) {
      const reason =
        error instanceof RecipeError ? `its recipe is damaged: ${error.message}` : (error as Error).message;
      this.notices.error(`“${project.name}” could not be opened: ${reason}`);
    } finally {
      this.opening.set(null);
    }
  }

  /** Lays a recipe over the open picture; one step back undoes it. */
  async openRecipe(files: readonly File[]): Promise<void> {
    const name = (files.find(isRecipeFile) ?? files[0])?.name ?? 'recipe';
    try {
      const { recipe, pictures } = await unpackRecipe(files);
      const own = await this.takeIn(namedPictures(recipe), pictures);
      const renamed = renamedPictures(recipe, own);
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
        await this.rasters.put(fresh, await this.rasters.remote.raster(fresh, file), file);
        own.set(name, fresh);
      } else if (!(await this.rasters.has(name)))
        throw new Error(
          `It names the picture “${name}”, which is not among the files. Choose the recipe together with its pictures, or the zip that was saved.`,
        );
    }
    return own;
  }

  private async openStored(project: StoredProject): Promise<void> {
    const document = asDocument(project);
    const file = await this.projects.picture(project.source);
    if (!file) throw new Error('its picture is no longer in this browser. Please open the picture again.');
    const { picture } = await this.engine.load(file, project.source.fileName);
    await this.show(document, picture);
  }

  private async show(document: DocumentState, picture: Picture): Promise<void> {
    this.engine.open(picture);
    this.store.dispatch(DocumentActions.opened({ document }));
    if (!document.projectId) return this.lock.drop();
    localStorage.setItem(LAST_KEY, document.projectId);
    if (await this.lock.take(document.projectId)) return;
    this.notices.show({
      kind: 'info',
      text: `“${document.name}” is open in another tab, and that tab saves it. Changes made here are not kept unless you go on with a copy.`,
      action: { label: 'Go on with a copy', run: () => void this.continueAsCopy(document) },
    });
  }

  /** The project with what was changed in this tab since, as one of its own. */
  private async continueAsCopy(opened: DocumentState): Promise<void> {
    const copy = opened.projectId && (await this.projects.duplicate(opened.projectId));
    if (!copy) return;
    const { recipe, history } = this.document.state();
    const document: DocumentState = { ...asDocument(copy), recipe, history };
    await this.projects.save(document);
    this.notices.dismiss();
    await this.show(document, this.engine.picture()!);
  }
}
