import { Injectable } from '@angular/core';
import {
  type ExportPreset,
  type ExportSettings,
  LOOK_PARTS,
  RECIPE_PARTS,
  type Recipe,
  type RecipePart,
  defaultExportSettings,
  exportPresetSchema,
  exportSettingsSchema,
} from '@hazy-lens/core';
import { type Observable, liveQuery } from 'dexie';
import * as z from 'zod';
import { Database } from './database';

/** How the pictures of a batch are written. */
export interface BatchWish {
  /** What each picture is written with, where no preset is chosen. */
  settings: ExportSettings;
  /** Presets that are written instead, each to a file of its own; as they were when they were chosen. */
  presets: ExportPreset[];
  /** Parts of the recipe that are used. */
  parts: RecipePart[];
}

/** A file that was made of a picture. */
export interface BatchFile {
  /** The preset that it was written with; empty where there was none. */
  preset: string;
  file: Blob;
}

/** All that each picture is written to. */
export const outputsOf = ({ settings, presets }: BatchWish): readonly ExportPreset[] =>
  presets.length > 0 ? presets : [{ ...settings, name: '', clip: null }];

/** One recipe over many pictures, as it is kept: there is one at a time. */
export interface StoredBatch {
  id: 'batch';
  /** What the recipe is called. */
  name: string;
  /** The saved recipe that it is; null for that of a project. */
  recipeId: string | null;
  recipe: Recipe;
  wish: BatchWish;
  /** It is being rendered: after a reload it goes on. */
  isRunning: boolean;
}

/** What one row of the batch is made with. */
export interface OwnRecipe {
  name: string;
  recipe: Recipe;
  /** All of it is used: it was made for this picture. Else the parts that are wanted of the common one. */
  isWhole: boolean;
}

/** A file that joins the batch. */
export interface NewBatchPicture {
  name: string;
  file: Blob;
  own?: OwnRecipe;
}

/** One picture of the batch. */
export interface StoredBatchPicture {
  index: number;
  name: string;
  file: Blob;
  /** A recipe of its own in place of the common one, where the same picture is made in several ways. */
  own: OwnRecipe | null;
  /** The project in which it was nudged on its own: its recipe takes the place of the common one. */
  projectId: string | null;
  state: 'waiting' | 'done' | 'failed';
  /** Why it could not be read or rendered. */
  reason: string | null;
  thumbnail: Blob | null;
  /** What the small picture, and what the file, was made of. */
  thumbnailOf: string;
  madeOf: string;
  outs: BatchFile[];
}

/** How files of a batch are named at first. */
export const BATCH_PATTERN = '{name} {recipe}';

const batchRow = z.object({
  id: z.literal('batch'),
  name: z.string().catch('recipe'),
  recipeId: z.string().nullable().catch(null),
  recipe: z.custom<Recipe>((value) => typeof value === 'object' && value !== null),
  wish: z.object({
    settings: exportSettingsSchema.catch({ ...defaultExportSettings(), pattern: BATCH_PATTERN }),
    presets: z.array(exportPresetSchema).catch([]),
    parts: z.array(z.enum(RECIPE_PARTS)).catch([...LOOK_PARTS]),
  }),
  isRunning: z.boolean().catch(false),
});
const pictureRow = z.object({
  index: z.int(),
  name: z.string(),
  file: z.instanceof(Blob),
  own: z
    .object({
      name: z.string(),
      recipe: z.custom<Recipe>((value) => typeof value === 'object' && value !== null),
      isWhole: z.boolean(),
    })
    .nullable()
    .catch(null),
  projectId: z.string().nullable().catch(null),
  state: z.enum(['waiting', 'done', 'failed']).catch('waiting'),
  reason: z.string().nullable().catch(null),
  thumbnail: z.instanceof(Blob).nullable().catch(null),
  thumbnailOf: z.string().catch(''),
  madeOf: z.string().catch(''),
  outs: z.array(z.object({ preset: z.string(), file: z.instanceof(Blob) })).catch([]),
});

/** Whether a picture is as it was: files are made anew only with what they are made of. */
const isUnchanged = (now: StoredBatchPicture, before: StoredBatchPicture): boolean =>
  (['name', 'projectId', 'state', 'reason', 'thumbnailOf', 'madeOf'] as const).every(
    (key) => now[key] === before[key],
  );

/** The batch that this browser keeps: its pictures, how far each is, and what was made of it. */
@Injectable({ providedIn: 'root' })
export class BatchRepository {
  private readonly database = new Database();

  /** The batch, whenever it changes; null where there is none. */
  watch(): Observable<StoredBatch | null> {
    return liveQuery(() => this.get());
  }

  async get(): Promise<StoredBatch | null> {
    return batchRow.safeParse(await this.database.batch.get('batch')).data ?? null;
  }

  put(batch: StoredBatch): Promise<unknown> {
    return this.database.batch.put(batch);
  }

  change(change: Partial<Omit<StoredBatch, 'id'>>): Promise<unknown> {
    return this.database.batch.update('batch', change);
  }

  /** Its pictures in order, whenever one changes; those that did not are the same objects, and need not be shown anew. */
  watchPictures(): Observable<StoredBatchPicture[]> {
    let last = new Map<number, StoredBatchPicture>();
    return liveQuery(async () => {
      const now = (await this.pictures()).map((picture) => {
        const before = last.get(picture.index);
        return before && isUnchanged(picture, before) ? before : picture;
      });
      last = new Map(now.map((picture) => [picture.index, picture]));
      return now;
    });
  }

  async pictures(): Promise<StoredBatchPicture[]> {
    const rows = await this.database.batchPictures.orderBy('index').toArray();
    return rows.flatMap((row) => pictureRow.safeParse(row).data ?? []);
  }

  async picture(index: number): Promise<StoredBatchPicture | null> {
    return pictureRow.safeParse(await this.database.batchPictures.get(index)).data ?? null;
  }

  /** Adds files behind those that are there, to get the common recipe. */
  add(files: readonly File[]): Promise<void> {
    return this.addRows(files.map((file) => ({ name: file.name, file })));
  }

  /** The same, where some have a recipe of their own. */
  async addRows(pictures: readonly NewBatchPicture[]): Promise<void> {
    const { batchPictures } = this.database;
    await this.database.transaction('rw', batchPictures, async () => {
      const last = await batchPictures.orderBy('index').last();
      const first = (last?.index ?? -1) + 1;
      await batchPictures.bulkPut(
        pictures.map(({ name, file, own }, i) => ({
          index: first + i,
          name,
          file,
          own: own ?? null,
          projectId: null,
          state: 'waiting' as const,
          reason: null,
          thumbnail: null,
          thumbnailOf: '',
          madeOf: '',
          outs: [],
        })),
      );
    });
  }

  changePicture(index: number, change: Partial<Omit<StoredBatchPicture, 'index'>>): Promise<unknown> {
    return this.database.batchPictures.update(index, change);
  }

  removePicture(index: number): Promise<void> {
    return this.database.batchPictures.delete(index);
  }

  /** Lets go of all pictures, and of what was made of them. */
  async clear(): Promise<void> {
    await this.database.batchPictures.clear();
    await this.change({ isRunning: false });
  }
}
