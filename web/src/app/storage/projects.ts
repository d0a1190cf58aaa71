import { Injectable } from '@angular/core';
import { Dexie, type Observable, liveQuery } from 'dexie';
import type { Project, SourceInfo, ProjectDocument } from '../model/project';
import type { History, HistoryEntry } from '../model/history';
import { Database, type StoredStep } from './database';
import { readHandle, canRead } from './file-handles';
import { type Restored, restored } from './restore';
import { type StoredProject, readProject } from './rows';

const DAY_MS = 24 * 3600 * 1000;
const LONGEST_NAME = 120;

/** The projects that this browser keeps. */
@Injectable({ providedIn: 'root' })
export class Projects {
  private readonly database = new Database();

  /** All projects, the last changed first. */
  async list(): Promise<StoredProject[]> {
    return (await this.rows())
      .filter(({ deleted }) => deleted === undefined)
      .sort((a, b) => b.changed - a.changed);
  }

  /** What was deleted less than a day ago, the last first. */
  async deleted(): Promise<StoredProject[]> {
    return (await this.rows())
      .filter(({ deleted }) => deleted !== undefined && deleted > Date.now() - DAY_MS)
      .sort((a, b) => b.deleted! - a.deleted!);
  }

  /** The shelf whenever it changes, here or in another tab: what stands on it, and what was taken off today. */
  shelf(): Observable<{ all: StoredProject[]; removed: StoredProject[] }> {
    return liveQuery(async () => ({ all: await this.list(), removed: await this.deleted() }));
  }

  private async rows(): Promise<StoredProject[]> {
    const all = await this.database.projects.toArray();
    return all.map(readProject).filter((row) => row !== null);
  }

  /** A project's row, or null where there is none. */
  async get(id: string): Promise<StoredProject | null> {
    return readProject(await this.database.projects.get(id));
  }

  /** A project's row whenever it changes, here or in another tab; null where it is gone. */
  watch(id: string): Observable<StoredProject | null> {
    return liveQuery(() => this.get(id));
  }

  /**
   * A project as it is open, at its newest step that can be read. What cannot be read at all is put aside as it
   * is. @param otherwise the work where none can be read.
   */
  async open(id: string, otherwise: ProjectDocument): Promise<Restored | null> {
    const stored = await this.get(id);
    if (!stored) return null;
    const steps = await this.stepsOf(id).toArray();
    const found = restored(stored, steps, otherwise);
    if (found.isLost)
      await this.database.remains.put({ id: crypto.randomUUID(), found: Date.now(), project: stored, steps });
    return found;
  }

  private stepsOf(id: string) {
    return this.database.steps.where('[project+seq]').between([id, Dexie.minKey], [id, Dexie.maxKey]);
  }

  /** A source as it came; null where it is not there, or lies outside of this browser and may not be read. */
  async picture(source: SourceInfo): Promise<Blob | null> {
    const row = await this.database.pictures.get(source.id);
    if (row?.file) return row.file;
    return row?.handle && (await canRead(row.handle)) ? readHandle(row.handle) : null;
  }

  /** The place of a source that lies outside of this browser; null where it lies within. */
  async placeOf(source: SourceInfo): Promise<FileSystemFileHandle | null> {
    return (await this.database.pictures.get(source.id))?.handle ?? null;
  }

  /** A file that a recipe names, or null. */
  async asset(name: string): Promise<Blob | null> {
    return (await this.database.assets.get(name))?.file ?? null;
  }

  async saveAsset(name: string, file: Blob, draft = false): Promise<void> {
    await this.database.assets.put(draft ? { name, file, draft } : { name, file });
  }

  /** True where a finer picture of a name was still to come when the window was closed. */
  async isDraft(name: string): Promise<boolean> {
    return (await this.database.assets.get(name))?.draft === true;
  }

  /** @param kept the source itself, or its place where it is too large to be kept. */
  async create(
    name: string,
    source: SourceInfo,
    kept: Blob | FileSystemFileHandle,
    work: ProjectDocument,
  ): Promise<StoredProject> {
    const now = Date.now();
    const project: StoredProject = {
      id: crypto.randomUUID(),
      name,
      created: now,
      changed: now,
      source,
      work,
      done: -1,
      thumbnail: null,
    };
    await this.database.transaction('rw', this.database.projects, this.database.pictures, async () => {
      const { id } = source;
      await this.database.pictures.put(kept instanceof Blob ? { id, file: kept } : { id, handle: kept });
      await this.database.projects.put(project);
    });
    return project;
  }

  /**
   * Writes the open project: itself, and of its steps those that are not as in `before`, which is what was written last.
   * A project that was deleted for good meanwhile is put back: who works on it wants it.
   * @returns false where it was gone: the files that it stands on may be gone, too.
   */
  async save(project: Project, before: Project | null): Promise<boolean> {
    const { projectId: id, name, work, history, source } = project;
    if (!id || !source) return true;
    const steps = stepsIn(history);
    const isFirst = before?.projectId !== id;
    const written = new Set(isFirst ? [] : stepsIn(before.history));
    const seqs = new Set(steps.map(({ seq }) => seq));
    const gone = [...written]
      .filter(({ seq }) => !seqs.has(seq))
      .map(({ seq }): [string, number] => [id, seq]);
    const fresh = steps.filter((step) => !written.has(step)).map((step) => storedStep(id, step));
    const now = { name, work, done: history.past.at(-1)?.seq ?? -1, changed: Date.now() };
    const { projects, steps: table } = this.database;
    return this.database.transaction('rw', projects, table, async () => {
      const found = (await projects.update(id, now)) === 1;
      if (!found) await projects.put({ id, source, created: now.changed, thumbnail: null, ...now });
      if (isFirst) await this.stepsOf(id).delete();
      await table.bulkDelete(gone);
      await table.bulkPut(fresh);
      return found;
    });
  }

  /** Stores the file of a source, unless it is there. */
  async keepSource({ id }: SourceInfo, file: Blob): Promise<void> {
    if (!(await this.database.pictures.get(id))) await this.database.pictures.put({ id, file });
  }

  /** Remembers that a project was opened last. */
  async markOpened(id: string): Promise<void> {
    const { projects } = this.database;
    await this.database.transaction('rw', projects, async () => {
      const last = await projects.orderBy('opened').last();
      if (last?.id !== id) await projects.update(id, { opened: (last?.opened ?? 0) + 1 });
    });
  }

  async saveThumbnail(id: string, thumbnail: Blob): Promise<void> {
    await this.database.projects.update(id, { thumbnail });
  }

  async rename(id: string, name: string): Promise<void> {
    await this.database.projects.update(id, { name, changed: Date.now() });
  }

  async duplicate(id: string): Promise<StoredProject | null> {
    const { projects, steps } = this.database;
    return this.database.transaction('rw', projects, steps, async () => {
      const original = await projects.get(id);
      if (!original) return null;
      const now = Date.now();
      const copy: StoredProject = {
        ...original,
        id: crypto.randomUUID(),
        name: copyName(original.name),
        created: now,
        changed: now,
      };
      delete copy.deleted;
      await projects.put(copy);
      const own = await this.stepsOf(id).toArray();
      await steps.bulkPut(own.map((step) => ({ ...step, project: copy.id })));
      return copy;
    });
  }

  /** A project as it is in the window, as one of its own. */
  async saveAsCopy(project: Project): Promise<Project> {
    const copy = { ...project, projectId: crypto.randomUUID(), name: copyName(project.name) };
    await this.save(copy, null);
    return copy;
  }

  /** Takes a project off the shelf; `restore` brings it back for a day. */
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
}

const stepsIn = ({ past, future }: History): HistoryEntry[] => [...past, ...future];

const storedStep = (project: string, { seq, label, undo, redo }: HistoryEntry): StoredStep => ({
  project,
  seq,
  label,
  undo,
  redo,
});

/** What a copy is called; a long name makes room for that. */
function copyName(name: string): string {
  return `${name.slice(0, LONGEST_NAME - 5).trimEnd()} copy`;
}
