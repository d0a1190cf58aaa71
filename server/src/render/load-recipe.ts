import { type Recipe, RecipeError, readRecipe, textOf } from '@hazy-lens/core';
import { InputError, readInputFile } from './picture';

/** A recipe with every stroke it may hold is smaller. */
const MAX_RECIPE_BYTES = 200_000_000;

/**
 * @returns also whether the recipe says something of time, which makes numbered pictures footage.
 * @throws InputError that names the file.
 */
export async function loadRecipe(path: string): Promise<{ recipe: Recipe; isTimed: boolean }> {
  const text = textOf(await readInputFile(path, MAX_RECIPE_BYTES));
  try {
    const recipe = readRecipe(text);
    const { pace, keys } = JSON.parse(text) as { pace?: unknown; keys?: unknown[] };
    return { recipe, isTimed: pace !== undefined || (keys?.length ?? 0) > 0 };
  } catch (error) {
    if (error instanceof RecipeError) throw new InputError(`${path}: ${error.message}`);
    throw error;
  }
}
