import type { Recipe } from '@hazy-lens/core';
import Dexie, { type EntityTable, type Table } from 'dexie';
import type { SourceInfo } from '../state/document.reducer';
import type { HistoryEntry } from '../state/history';

export interface StoredProject {
  id: string;
  name: string;
  created: number;
  changed: number;
  source: SourceInfo;
  recipe: Recipe;
  /** `seq` of the newest step that is done, -1 for none; steps after it were taken back. */
  done: number;
  thumbnail: Blob | null;
  /** Set while a deleted project can still be brought back. */
  deleted?: number;
}

/** One step of a project's history: each is written when it is made, and the others stay as they lie. */
export interface StoredStep extends Pick<HistoryEntry, 'seq' | 'label' | 'undo' | 'redo'> {
  project: string;
}

/** A source picture as it came, byte for byte; several projects may share one. */
export interface StoredPicture {
  id: string;
  file: Blob;
}

/** A picture that recipes name: a depth map or a matte, as PNG. Projects may share it. */
export interface StoredAsset {
  name: string;
  file: Blob;
  /** True while a finer one of the same name is still to come. */
  draft?: boolean;
}

/** What could not be read any more, as it was. */
export interface StoredRemains {
  id: string;
  found: number;
  project: unknown;
  steps: unknown[];
}

export class Database extends Dexie {
  readonly projects!: EntityTable<StoredProject, 'id'>;
  readonly steps!: Table<StoredStep, [string, number]>;
  readonly pictures!: EntityTable<StoredPicture, 'id'>;
  readonly assets!: EntityTable<StoredAsset, 'name'>;
  readonly remains!: EntityTable<StoredRemains, 'id'>;

  constructor(name = 'hazy-lens') {
    // What is said to be saved is on the disk.
    super(name, { chromeTransactionDurability: 'strict' });
    this.version(1).stores({ projects: 'id, changed', pictures: 'id' });
    this.version(2).stores({ assets: 'name' });
    this.version(3)
      .stores({ steps: '[project+seq], project', remains: 'id' })
      .upgrade(async (transaction) => {
        type Old = StoredProject & { history?: { past: HistoryEntry[]; future: HistoryEntry[] } };
        const steps: StoredStep[] = [];
        await transaction
          .table<Old>('projects')
          .toCollection()
          .modify((project) => {
            const { past, future } = project.history ?? { past: [], future: [] };
            [...past, ...future].forEach(({ label, undo, redo }, seq) =>
              steps.push({ project: project.id, seq, label, undo, redo }),
            );
            project.done = past.length - 1;
            delete project.history;
          });
        await transaction.table('steps').bulkPut(steps);
      });
  }
}
