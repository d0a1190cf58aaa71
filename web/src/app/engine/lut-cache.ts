import { Injectable, inject, signal } from '@angular/core';
import { type ColourLut, lutBytes, textOf } from '@hazy-lens/core';
import { LRUCache } from 'lru-cache';
import { Assets } from './assets';
import { Rasters } from './rasters';
import { sentenceOf } from '../model/causes';
import { filesWords } from '../words/files';

/** A file that is larger is no table that can be read. */
const MAX_BYTES = 30_000_000;
/** What tables that were read may take: some forty of the largest. */
const MAX_KEPT_BYTES = 128_000_000;

/** True for the name of a file that holds a table of colours. */
export function isTableFile(name: string): boolean {
  return /\.cube$/i.test(name);
}

/** The tables of colours that looks name; the last that were used are kept. */
@Injectable({ providedIn: 'root' })
export class LutCache {
  private readonly assets = inject(Assets);
  private readonly rasters = inject(Rasters);
  private readonly known = new LRUCache<string, ColourLut>({
    maxSize: MAX_KEPT_BYTES,
    sizeCalculation: lutBytes,
  });
  private readonly coming = new Map<string, Promise<ColourLut>>();
  /** Counts those that were read: who shows one looks again then, so that it stays among the last used. */
  private readonly read = signal(0);

  /** The table of a name as far as it has been read: null before that, and where none is named. */
  now(name: string | undefined): ColourLut | null {
    this.read();
    return (name !== undefined && this.known.get(name)) || null;
  }

  /** The table of a name. @throws Error with a sentence where it is not in this browser. */
  get(name: string): Promise<ColourLut> {
    return this.remember(name, async () => this.readFile(name, await this.assets.file(name), name));
  }

  /** Reads a .cube file and keeps it. @returns the name that recipes have for it. @throws Error with a sentence that names the file. */
  async keep(file: Blob, fileName: string): Promise<string> {
    const name = `look-${crypto.randomUUID()}.cube`;
    await this.remember(name, () => this.readFile(name, file, fileName));
    await this.assets.put(name, file);
    return name;
  }

  private async remember(name: string, read: () => Promise<ColourLut>): Promise<ColourLut> {
    const known = this.known.get(name);
    if (known) return known;
    const coming = this.coming.get(name) ?? read();
    this.coming.set(name, coming);
    try {
      const table = await coming;
      this.known.set(name, table);
      this.read.update((count) => count + 1);
      return table;
    } finally {
      this.coming.delete(name);
    }
  }

  private async readFile(name: string, file: Blob, fileName: string): Promise<ColourLut> {
    if (file.size > MAX_BYTES) throw new Error(filesWords.isTooLargeForALut(fileName));
    try {
      return await this.rasters.remote.table(textOf(new Uint8Array(await file.arrayBuffer())), name);
    } catch (error) {
      throw new Error(filesWords.cantBeUsedAsALook(fileName, sentenceOf(error)), {
        cause: error,
      });
    }
  }
}
