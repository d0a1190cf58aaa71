import { Injectable } from '@angular/core';
import { Dexie, type Table } from 'dexie';
import { assetNames } from './asset-names';
import { Database } from './database';

const DAY_MS = 24 * 3600 * 1000;
/** Rows that are read at a time: who saves meanwhile waits no longer than for these. */
const PART = 50;

/** Clears away what nobody needs any more, in parts, beside the work. */
@Injectable({ providedIn: 'root' })
export class Housekeeping {
  private readonly database = new Database();

  /** @throws what the storage throws; whatever was not done is done the next time. */
  async tidy(): Promise<void> {
    await this.removeDeleted();
    await this.removeAssets();
    await this.removePictures();
  }

  /** Projects that were deleted more than a day ago. */
  private async removeDeleted(): Promise<void> {
    const { projects, steps } = this.database;
    for await (const { id, deleted } of rowsOf(projects))
      if (typeof deleted === 'number' && deleted < Date.now() - DAY_MS)
        await this.database.transaction('rw', projects, steps, async () => {
          // It may have been put back meanwhile.
          if ((await projects.get(id))?.deleted !== deleted) return;
          await projects.delete(id);
          await steps.where('project').equals(id).delete();
        });
  }

  /**
   * Files that nobody names: projects and their variants, their steps back and forth, saved recipes and looks, the batch,
   * unfinished films. One may be named soon, as a subject is that is just being cut: it goes a day after it was first seen
   * to be unnamed.
   */
  private async removeAssets(): Promise<void> {
    const { projects, steps, recipes, looks, batch, batchPictures, films, assets } = this.database;
    const named = new Set<string>();
    const tables = [
      projects,
      steps,
      recipes,
      looks,
      batch,
      batchPictures,
      films,
    ] as unknown as Table<unknown>[];
    for (const table of tables)
      for await (const row of rowsOf(table)) for (const name of assetNames(row)) named.add(name);
    for (const name of await assets.toCollection().primaryKeys())
      await this.database.transaction('rw', assets, async () => {
        const row = await assets.get(name);
        if (!row) return;
        if (named.has(name)) {
          if (row.unnamedSince !== undefined)
            await assets
              .where('name')
              .equals(name)
              .modify((one) => void delete one.unnamedSince);
        } else if (row.unnamedSince === undefined) await assets.update(name, { unnamedSince: Date.now() });
        else if (row.unnamedSince < Date.now() - DAY_MS) await assets.delete(name);
      });
  }

  /** Sources of no project, also of none that is damaged. */
  private async removePictures(): Promise<void> {
    const { projects, remains, pictures } = this.database;
    const needed = new Set<unknown>();
    const note = (project: unknown): void =>
      void needed.add((project as { source?: { id?: unknown } | null } | null)?.source?.id);
    for await (const row of rowsOf(projects)) note(row);
    for await (const row of rowsOf(remains)) note(row.project);
    for (const id of await pictures.toCollection().primaryKeys())
      if (!needed.has(id)) await pictures.delete(id);
  }
}

/** All rows of a table, a few at a time. */
async function* rowsOf<Row, Key, Insert>(table: Table<Row, Key, Insert>): AsyncGenerator<Row, void> {
  const { keyPath } = table.schema.primKey;
  let last: unknown;
  for (;;) {
    const from = last === undefined ? table.toCollection() : table.where(':id').above(last);
    const rows = await from.limit(PART).toArray();
    yield* rows;
    if (rows.length < PART) return;
    last = Dexie.getByKeyPath(rows.at(-1)!, keyPath as string);
  }
}
