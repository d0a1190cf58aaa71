import { Injectable } from '@angular/core';
import * as z from 'zod';
import { Database } from './database';
import { type NamedRow, NamedRows, readWith } from './named-rows';

/** A look of one's own: a table of colours under a name. */
export interface StoredLook extends NamedRow {
  /** The name of its file among the assets, as recipes name it. */
  image: string;
}

const row = z.object({
  id: z.string(),
  name: z.string().catch('Look'),
  made: z.number().catch(0),
  image: z.string(),
  deleted: z.number().optional().catch(undefined),
});

/** The looks of one's own that this browser keeps. */
@Injectable({ providedIn: 'root' })
export class OwnLooks extends NamedRows<StoredLook> {
  constructor() {
    super(new Database().looks, readWith(row));
  }

  keep(name: string, image: string): Promise<void> {
    return this.put({ name, image });
  }
}
