import { Injectable } from '@angular/core';
import { Database } from './database';

/** What takes room in this browser. */
export interface StorageUse {
  label: string;
  bytes: number;
}

/** Room in this browser, in bytes; null where it does not tell. */
export interface StorageReading {
  uses: readonly StorageUse[];
  free: number | null;
}

/** Tells what the storage of this browser holds. */
@Injectable({ providedIn: 'root' })
export class StorageUsage {
  private readonly database = new Database();

  /** By kind, the largest first. */
  async read(): Promise<StorageReading> {
    const { pictures, assets, batchPictures, filmParts } = this.database;
    const sizeOf = (file: Blob | null | undefined): number => file?.size ?? 0;
    let [sources, named, batch, clips] = [0, 0, 0, 0];
    await pictures.each(({ file }) => void (sources += sizeOf(file)));
    await assets.each(({ file }) => void (named += sizeOf(file)));
    await batchPictures.each(
      ({ file, outs, thumbnail }) =>
        void (batch += [file, thumbnail, ...outs.map((out) => out.file)].map(sizeOf).reduce((a, b) => a + b)),
    );
    await filmParts.each(({ file }) => void (clips += sizeOf(file)));
    const uses = [
      { label: 'Pictures and clips', bytes: sources },
      { label: 'Depth maps and subjects', bytes: named },
      { label: 'Batch', bytes: batch },
      { label: 'Unfinished exports', bytes: clips },
    ].filter(({ bytes }) => bytes > 0);
    const { quota, usage } = (await navigator.storage?.estimate?.()) ?? {};
    return {
      uses: uses.sort((a, b) => b.bytes - a.bytes),
      free: quota !== undefined && usage !== undefined ? Math.max(0, quota - usage) : null,
    };
  }
}
