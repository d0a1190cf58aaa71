import { type Recipe, SourceMeasures, needsMeasures } from '@hazy-lens/core';
import type { Picture } from './picture';

const known = new WeakMap<Picture, SourceMeasures>();

/** What was measured on a whole picture, once; null where a recipe wants to know nothing of it. */
export function measuresOf(
  picture: Picture,
  recipe: Pick<Recipe, 'colour' | 'finish'>,
): SourceMeasures | null {
  if (!needsMeasures(recipe)) return null;
  let measures = known.get(picture);
  if (!measures) {
    measures = new SourceMeasures(picture.id, new Uint8Array(picture.rawPixels), picture.format, picture);
    known.set(picture, measures);
  }
  return measures;
}
