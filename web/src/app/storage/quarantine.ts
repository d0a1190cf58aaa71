import { Injectable } from '@angular/core';
import { type Observable, liveQuery } from 'dexie';
import { Database } from './database';
import { readProject } from './rows';

/** A project that cannot be read any more, as far as it tells of itself. */
export interface DamagedProject {
  id: string;
  name: string;
  /** It stands where projects do; else it was put aside when it was opened. */
  isInPlace: boolean;
}

const nameOf = (row: unknown): string => {
  const name = (row as { name?: unknown } | null)?.name;
  return typeof name === 'string' && name ? name.slice(0, 120) : 'Project';
};

/** Projects that cannot be read any more: what is left of them can be saved as files, and deleted. */
@Injectable({ providedIn: 'root' })
export class DamagedProjects {
  private readonly database = new Database();

  /** All of them, whenever that changes. */
  watch(): Observable<DamagedProject[]> {
    return liveQuery(async () => {
      const { projects, remains } = this.database;
      const inPlace = (await projects.toArray()).filter((row) => readProject(row) === null);
      return [
        ...inPlace.map((row) => ({ id: String(row.id), name: nameOf(row), isInPlace: true })),
        ...(await remains.toArray()).map(({ id, project }) => ({
          id,
          name: nameOf(project),
          isInPlace: false,
        })),
      ];
    });
  }

  /** What is left of one as files: what was stored, and its source where that is there. */
  async files({ id, isInPlace }: DamagedProject): Promise<{ name: string; file: Blob }[]> {
    const { projects, steps, remains, pictures } = this.database;
    const aside = isInPlace ? null : await remains.get(id);
    const project: unknown = isInPlace ? await projects.get(id) : aside?.project;
    const history = isInPlace ? await steps.where('project').equals(id).toArray() : aside?.steps;
    const source = (project as { source?: { id?: unknown; fileName?: unknown } | null } | null)?.source;
    const picture = typeof source?.id === 'string' ? await pictures.get(source.id) : null;
    const text = JSON.stringify({ project, steps: history }, null, 2);
    const name = typeof source?.fileName === 'string' ? source.fileName : 'picture';
    return [
      { name: 'project.json', file: new Blob([text], { type: 'application/json' }) },
      ...(picture?.file ? [{ name, file: picture.file }] : []),
    ];
  }

  async remove({ id, isInPlace }: DamagedProject): Promise<void> {
    const { projects, steps, remains } = this.database;
    if (!isInPlace) return remains.delete(id);
    await this.database.transaction('rw', projects, steps, async () => {
      await projects.delete(id);
      await steps.where('project').equals(id).delete();
    });
  }
}
