import { type Measured, type Noise, type Recipe, SourceMeasures, needsMeasures } from '@hazy-lens/core';
import type { Picture } from './picture';

const known = new WeakMap<Picture, SourceMeasures>();

/**
 * What was measured on a whole picture, once; null where a recipe wants to know nothing of it.
 * @param noise in place of its own.
 */
export function measuresOf(
  picture: Picture,
  recipe: Pick<Recipe, 'colour' | 'finish'>,
  noise?: Noise,
): Measured | null {
  if (!needsMeasures(recipe)) return null;
  let source = known.get(picture);
  if (!source) {
    source = new SourceMeasures(picture.id, new Uint8Array(picture.rawPixels), picture.format, picture);
    known.set(picture, source);
  }
  return { source, noise };
}
