import { type Measured, type Noise, type Recipe, SourceMeasures, needsMeasures } from '@hazy-lens/core';
import type { Frame } from '../footage/frame';

let count = 0;

/**
 * What a recipe wants to know of a whole picture or frame; null where that is nothing.
 * @param noise in place of its own.
 */
export function measuresOf(
  { data, format, width, height }: Frame,
  recipe: Recipe,
  noise?: Noise,
): Measured | null {
  if (!needsMeasures(recipe)) return null;
  return { source: new SourceMeasures(`source ${++count}`, data, format, { width, height }), noise };
}
