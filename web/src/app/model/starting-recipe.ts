import { type Recipe, parseRecipe } from '@hazy-lens/core';

/** A recipe from some of its parts; the rest is as in a neutral one. */
export function recipeOf(parts: object): Recipe {
  return parseRecipe({ format: 'hazy-lens-recipe', version: 1, ...parts });
}

/** What a new project starts from: a band across the middle with a generous falloff. */
export function startingRecipe(): Recipe {
  return recipeOf({
    focus: {
      bands: [
        {
          id: 'band-1',
          kind: 'planar',
          centre: [0.5, 0.55],
          near: { clear: 0.05, falloff: 0.22 },
          far: { clear: 0.05, falloff: 0.22 },
        },
      ],
    },
    blur: { radius: 0.01 },
    colour: { saturation: 0.2 },
  });
}
