import { type FocusPictures, NO_PICTURES } from '../focus/field';
import type { Size } from '../focus/geometry';
import type { Recipe } from '../recipe/schema';
import { type Look, recipeLook } from '../render/look';
import { type Sheet, cropSheet, wholeSheet } from './crop';
import { sheetLook } from './sheet-look';

/** What a recipe leaves of a picture. */
export function sheetOf({ tidy }: Pick<Recipe, 'tidy'>, picture: Size): Sheet {
  return tidy.on ? cropSheet(tidy.crop, picture) : wholeSheet(picture);
}

/** A recipe as it is rendered on what it leaves of a picture; see `recipeLook`. */
export function tidiedLook(
  recipe: Recipe,
  picture: Size,
  pictures: FocusPictures = NO_PICTURES,
  light = 1,
): Look {
  return sheetLook(recipeLook(recipe, pictures, light), sheetOf(recipe, picture));
}
