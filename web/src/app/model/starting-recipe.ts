import { type Recipe, parseRecipe } from '@hazy-lens/core';

/** A recipe from some of its parts; the rest is as in a neutral one. */
function recipeOf(parts: object): Recipe {
  return parseRecipe({ format: 'hazy-lens-recipe', version: 1, ...parts });
}

/** A miniature: one planar band, a blur radius and a saturation, as the recipe has them. */
export function miniature(band: object, radius: number, saturation: number): Recipe {
  const bands = [{ id: 'band-1', kind: 'planar', ...band }];
  return recipeOf({ focus: { bands }, blur: { radius }, colour: { saturation } });
}

/** A recipe with elements over its picture, as the recipe has them. */
export function overPicture(recipe: Recipe, elements: readonly object[]): Recipe {
  return recipeOf({ ...recipe, elements });
}

/** What a new project starts from: a band across the middle with a generous falloff; colours are as they came. */
export function startingRecipe(): Recipe {
  const side = { clear: 0.05, falloff: 0.22 };
  return miniature({ centre: [0.5, 0.55], near: side, far: side }, 0.01, 0);
}
