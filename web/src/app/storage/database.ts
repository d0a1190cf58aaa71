import type { Recipe } from '@hazy-lens/core';
import Dexie, { type EntityTable } from 'dexie';
import type { SourceInfo } from '../state/document.reducer';
import type { History } from '../state/history';

export interface StoredProject {
  id: string;
  name: string;
  created: number;
  changed: number;
  source: SourceInfo;
  recipe: Recipe;
  history: History;
  thumbnail: Blob | null;
  /** Set while a deleted project can still be brought back. */
  deleted?: number;
}

/** A source picture as it came, byte for byte; several projects may share one. */
export interface StoredPicture {
  id: string;
  file: Blob;
}

/** A picture that recipes name: a depth map or a matte, as PNG. Projects may share it; what is in it never changes. */
export interface StoredAsset {
  name: string;
  file: Blob;
}

export class Database extends Dexie {
  readonly projects!: EntityTable<StoredProject, 'id'>;
  readonly pictures!: EntityTable<StoredPicture, 'id'>;
  readonly assets!: EntityTable<StoredAsset, 'name'>;

  constructor(name = 'hazy-lens') {
    super(name);
    this.version(1).stores({ projects: 'id, changed', pictures: 'id' });
    this.version(2).stores({ assets: 'name' });
  }
}
