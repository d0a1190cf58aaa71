import { Injectable, inject, signal } from '@angular/core';
import type { ColourTable } from '@hazy-lens/core';
import { Assets } from './assets';
import { Rasters } from './rasters';

/** A file that is larger is no table that can be read. */
const MOST_BYTES = 30_000_000;

/** True for the name of a file that holds a table of colours. */
export function isTableFile(name: string): boolean {
  return /\.cube$/i.test(name);
}

/** The tables of colours that looks name, read once. */
@Injectable({ providedIn: 'root' })
export class LookTables {
  private readonly assets = inject(Assets);
  private readonly rasters = inject(Rasters);
  private readonly known = new Map<string, Promise<ColourTable>>();
  private readonly there = signal<ReadonlyMap<string, ColourTable>>(new Map());

  /** The table of a name as far as it has been read: null before that, and where none is named. */
  now(name: string | undefined): ColourTable | null {
    return (name !== undefined && this.there().get(name)) || null;
  }

  /** The table of a name. @throws Error with a sentence where it is not in this browser. */
  get(name: string): Promise<ColourTable> {
    return this.remember(name, async () => this.read(name, await this.assets.file(name), name));
  }

  /** Reads a .cube file and keeps it. @returns the name that recipes have for it. @throws Error with a sentence that names the file. */
  async keep(file: Blob, fileName: string): Promise<string> {
    const name = `look-${crypto.randomUUID()}.cube`;
    await this.remember(name, () => this.read(name, file, fileName));
    await this.assets.put(name, file);
    return name;
  }

  private remember(name: string, read: () => Promise<ColourTable>): Promise<ColourTable> {
    let table = this.known.get(name);
    if (!table) {
      table = read();
      this.known.set(name, table);
      table.then(
        (one) => this.there.update((all) => new Map(all).set(name, one)),
        () => this.known.delete(name),
      );
    }
    return table;
  }

  private async read(name: string, file: Blob, fileName: string): Promise<ColourTable> {
    if (file.size > MOST_BYTES) throw new Error(`“${fileName}” is far too large for a table of colours.`);
    try {
      return await this.rasters.remote.table(await file.text(), name);
    } catch (error) {
      throw new Error(`“${fileName}” cannot be used as a table of colours. ${(error as Error).message}`, {
        cause: error,
      });
    }
  }
}
