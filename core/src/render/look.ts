import { type FieldLook, type FocusPictures, NO_PICTURES, fieldLook } from '../focus/field';
import type { Recipe } from '../recipe/schema';

/** A recipe as it is rendered: its field ready for the kernels, the rest as it is. Small enough for a message a frame. */
export interface Look {
  field: FieldLook;
  blur: Recipe['blur'];
  colour: Recipe['colour'];
}

/** @param pictures what the recipe's depth map and mattes are, decoded. */
export function recipeLook(recipe: Recipe, pictures: FocusPictures = NO_PICTURES): Look {
  return { field: fieldLook(recipe.focus, pictures), blur: recipe.blur, colour: recipe.colour };
}
