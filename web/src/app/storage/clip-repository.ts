import { Injectable } from '@angular/core';
import type { Recipe } from '@hazy-lens/core';
import { Dexie } from 'dexie';
import * as z from 'zod';
import { Database } from './database';

/** A film that is being made, and all that it takes to go on with it. */
export interface StoredFilm {
  id: string;
  projectId: string;
  fileName: string;
  /** Id of its kind of file. */
  kind: string;
  width: number;
  height: number;
  bitrate: number;
  holds: 'quality' | 'bitrate';
  quality: number;
  /** The frame before takes the place of one that cannot be read. */
  repeatsUnread: boolean;
  /** With its keys. */
  recipe: Recipe;
  /** Frames a second of numbered pictures; null for other footage. */
  rate: number | null;
  /** What the light of each frame of the source is multiplied by; null where it stays. */
  lights: number[] | null;
  frames: number;
  fps: number;
}

/** A run of a film's pictures, written. */
export interface FilmPart {
  pictures: number;
  file: Blob;
}

const positive = z.number().positive();
const filmRow = z.object({
  id: z.string(),
  projectId: z.string(),
  fileName: z.string(),
  kind: z.string(),
  width: z.int().positive(),
  height: z.int().positive(),
  bitrate: positive,
  holds: z.enum(['quality', 'bitrate']).default('bitrate'),
  quality: z.number().min(0).max(1),
  repeatsUnread: z.boolean().default(false),
  recipe: z.custom<Recipe>((value) => typeof value === 'object' && value !== null),
  rate: positive.nullable(),
  lights: z.array(z.number()).nullable(),
  frames: z.int().positive(),
  fps: positive,
});

/** Films under way, part by part: what is made stays when the window goes. */
@Injectable({ providedIn: 'root' })
export class ClipRepository {
  private readonly database = new Database();

  async list(): Promise<StoredFilm[]> {
    const rows = await this.database.films.toArray();
    return rows.flatMap((row) => filmRow.safeParse(row).data ?? []);
  }

  async begin(film: StoredFilm): Promise<void> {
    await this.database.films.put(film);
  }

  async putPart(film: string, index: number, part: FilmPart): Promise<void> {
    await this.database.filmParts.put({ film, index, ...part });
  }

  /** Its parts from the first on, as far as none is missing. */
  async parts(film: string): Promise<FilmPart[]> {
    const rows = await this.ofFilm(film).sortBy('index');
    const whole = rows.findIndex(({ index }, i) => index !== i);
    return rows.slice(0, whole < 0 ? rows.length : whole);
  }

  async remove(film: string): Promise<void> {
    const { films, filmParts } = this.database;
    await this.database.transaction('rw', films, filmParts, async () => {
      await films.delete(film);
      await this.ofFilm(film).delete();
    });
  }

  private ofFilm(film: string) {
    return this.database.filmParts.where('[film+index]').between([film, Dexie.minKey], [film, Dexie.maxKey]);
  }
}
