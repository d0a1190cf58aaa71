import { Injectable } from '@angular/core';
import type { Recipe } from '@hazy-lens/core';
import { type Observable, liveQuery } from 'dexie';
import { z } from 'zod';
import { Database } from './database';

/** A recipe that was saved under a name. */
export interface StoredRecipe {
  id: string;
  name: string;
  made: number;
  recipe: Recipe;
  /** What it made of the picture it was saved on. */
  thumbnail: Blob | null;
  /** Set while a deleted one can still be brought back. */
  deleted?: number | undefined;
}

/** What can be done without becomes something plain where it is damaged; the recipe is checked by who uses it. */
const row = z.object({
  id: z.string(),
  name: z.string().catch('Recipe'),
  made: z.number().catch(0),
  recipe: z.custom<Recipe>((value) => typeof value === 'object' && value !== null),
  thumbnail: z.instanceof(Blob).nullable().catch(null),
  deleted: z.number().optional().catch(undefined),
});

const DAY_MS = 24 * 3600 * 1000;

/** The recipes that this browser keeps. */
@Injectable({ providedIn: 'root' })
export class Recipes {
  private readonly database = new Database();

  /** All of them whenever they change, here or in another tab, by their names; and what was taken off today. */
  shelf(): Observable<{ all: StoredRecipe[]; removed: StoredRecipe[] }> {
    return liveQuery(async () => {
      const rows = (await this.database.recipes.toArray()).flatMap((one) => row.safeParse(one).data ?? []);
      const byName = rows.sort((a, b) => a.name.localeCompare(b.name) || a.made - b.made);
      return {
        all: byName.filter(({ deleted }) => deleted === undefined),
        removed: byName.filter(({ deleted }) => deleted !== undefined && deleted > Date.now() - DAY_MS),
      };
    });
  }

  async keep(name: string, recipe: Recipe, thumbnail: Blob | null): Promise<void> {
    const id = crypto.randomUUID();
    await this.database.recipes.put({ id, name, made: Date.now(), recipe, thumbnail });
  }

  async rename(id: string, name: string): Promise<void> {
    await this.database.recipes.update(id, { name });
  }

  /** Takes one off the shelf; `restore` brings it back for a day. */
  async remove(id: string): Promise<void> {
    await this.database.recipes.update(id, { deleted: Date.now() });
    const gone = (one: StoredRecipe): boolean =>
      one.deleted !== undefined && one.deleted < Date.now() - DAY_MS;
    await this.database.recipes.filter(gone).delete();
  }

  async restore(id: string): Promise<void> {
    await this.database.recipes.update(id, { deleted: undefined });
  }
}
