import { Injectable } from '@angular/core';
import { type Recipe, parseRecipe } from '@hazy-lens/core';
import type { DocumentState, SourceInfo } from '../state/document.reducer';
import { EMPTY_HISTORY } from '../state/history';
import { Database, type StoredProject } from './database';

/** The projects that this browser keeps. */
@Injectable({ providedIn: 'root' })
export class Projects {
  private readonly database = new Database();

  /** All projects, the last changed first. */
  async list(): Promise<StoredProject[]> {
    const all = await this.database.projects.orderBy('changed').reverse().toArray();
    return all.filter((project) => project.deleted === undefined);
  }

  get(id: string): Promise<StoredProject | undefined> {
    return this.database.projects.get(id);
  }

  async picture(source: SourceInfo): Promise<Blob | null> {
    return (await this.database.pictures.get(source.id))?.file ?? null;
  }

  /** A picture that a recipe names, or null. */
  async asset(name: string): Promise<Blob | null> {
    return (await this.database.assets.get(name))?.file ?? null;
  }

  async saveAsset(name: string, file: Blob): Promise<void> {
    await this.database.assets.put({ name, file });
  }

  async create(name: string, source: SourceInfo, file: Blob, recipe: Recipe): Promise<StoredProject> {
    const now = Date.now();
    const project: StoredProject = {
      id: crypto.randomUUID(),
      name,
      created: now,
      changed: now,
      source,
      recipe,
      history: EMPTY_HISTORY,
      thumbnail: null,
    };
    await this.database.transaction('rw', this.database.projects, this.database.pictures, async () => {
      await this.database.pictures.put({ id: source.id, file });
      await this.database.projects.put(project);
    });
    return project;
  }

  /** Writes what changed in the open project. */
  async save(document: DocumentState): Promise<void> {
    const { projectId, name, recipe, history } = document;
    if (projectId)
      await this.database.projects.update(projectId, { name, recipe, history, changed: Date.now() });
  }

  async saveThumbnail(id: string, thumbnail: Blob): Promise<void> {
    await this.database.projects.update(id, { thumbnail });
  }

  async rename(id: string, name: string): Promise<void> {
    await this.database.projects.update(id, { name, changed: Date.now() });
  }

  async duplicate(id: string): Promise<StoredProject | null> {
    const original = await this.get(id);
    if (!original) return null;
    const now = Date.now();
    const copy: StoredProject = {
      ...original,
      id: crypto.randomUUID(),
      name: `${original.name} copy`,
      created: now,
      changed: now,
    };
    await this.database.projects.put(copy);
    return copy;
  }

  /** Takes a project off the shelf; `restore` brings it back until the next start. */
  async remove(id: string): Promise<void> {
    await this.database.projects.update(id, { deleted: Date.now() });
  }

  async restore(id: string): Promise<void> {
    await this.database.projects
      .where('id')
      .equals(id)
      .modify((project) => {
        delete project.deleted;
      });
  }

  /** Clears away what was deleted before, and pictures that no project needs any more. */
  async tidy(): Promise<void> {
    const { projects, pictures: files, assets } = this.database;
    await this.database.transaction('rw', projects, files, assets, async () => {
      const all = await this.database.projects.toArray();
      const dayAgo = Date.now() - 24 * 3600 * 1000;
      const gone = all.filter((project) => project.deleted !== undefined && project.deleted < dayAgo);
      await this.database.projects.bulkDelete(gone.map((project) => project.id));
      const kept = all.filter((project) => !gone.includes(project));
      const needed = new Set(kept.map((project) => project.source.id));
      // Steps back may bring a picture back that the recipe no longer names.
      const named = kept.map(({ recipe, history }) => JSON.stringify([recipe.focus, history])).join();
      const names = await assets.toCollection().primaryKeys();
      await assets.bulkDelete(names.filter((name) => !named.includes(JSON.stringify(name))));
      const pictures = await this.database.pictures.toCollection().primaryKeys();
      await this.database.pictures.bulkDelete(pictures.filter((id) => !needed.has(id)));
    });
  }
}

/** A stored project as the open document. @throws RecipeError where what is stored is no recipe any more. */
export function asDocument(project: StoredProject): DocumentState {
  const { id, name, source, recipe, history } = project;
  return { projectId: id, name, source, recipe: parseRecipe(recipe), history };
}

/** True for an error that says the browser has no room left. */
export function isStorageFull(error: unknown): boolean {
  const names = [error, (error as { inner?: unknown })?.inner].map((one) => (one as { name?: string })?.name);
  return names.includes('QuotaExceededError');
}
