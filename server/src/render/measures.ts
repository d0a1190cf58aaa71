import { type Recipe, SourceMeasures, needsMeasures } from '@hazy-lens/core';
import type { Rendered } from './still';

let count = 0;

/** What a recipe wants to know of a whole picture; null where that is nothing. */
export function measuresOf({ data, format, width, height }: Rendered, recipe: Recipe): SourceMeasures | null {
  if (!needsMeasures(recipe)) return null;
  return new SourceMeasures(`source ${++count}`, data, format, { width, height });
}
