import type { Size } from '../geometry/size';
import type { Recipe } from '../recipe/schema';
import { type Companions, type Look, recipeLook } from '../render/look';
import type { SourceMeasures } from '../render/measured';
import { type Sheet, cropSheet, wholeSheet } from './crop';
import { sheetLook } from '../render/crop-look';

/** What a recipe leaves of a picture. */
export function sheetOf({ tidy }: Pick<Recipe, 'tidy'>, picture: Size): Sheet {
  return tidy.on ? cropSheet(tidy.crop, picture) : wholeSheet(picture);
}

/** A recipe as it is rendered on what it leaves of a picture; see `recipeLook`. */
export function tidiedLook(
  recipe: Recipe,
  picture: Size,
  companions: Partial<Companions> = {},
  light = 1,
  measured: SourceMeasures | null = null,
): Look {
  return sheetLook(recipeLook(recipe, picture, companions, light, measured), sheetOf(recipe, picture));
}
