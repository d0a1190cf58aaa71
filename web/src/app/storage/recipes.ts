import { Injectable } from '@angular/core';
import type { Recipe } from '@hazy-lens/core';
import * as z from 'zod';
import { Database } from './database';
import { type NamedRow, NamedRows, readWith } from './named-rows';

/** A recipe that was saved under a name. */
export interface StoredRecipe extends NamedRow {
  recipe: Recipe;
  /** What it made of the picture it was saved on. */
  thumbnail: Blob | null;
}

/** The recipe is checked by who uses it. */
const row = z.object({
  id: z.string(),
  name: z.string().catch('Recipe'),
  made: z.number().catch(0),
  recipe: z.custom<Recipe>((value) => typeof value === 'object' && value !== null),
  thumbnail: z.instanceof(Blob).nullable().catch(null),
  deleted: z.number().optional().catch(undefined),
});

/** The recipes that this browser keeps. */
@Injectable({ providedIn: 'root' })
export class Recipes extends NamedRows<StoredRecipe> {
  constructor() {
    super(new Database().recipes, readWith(row));
  }

  keep(name: string, recipe: Recipe, thumbnail: Blob | null): Promise<void> {
    return this.put({ name, recipe, thumbnail });
  }
}
