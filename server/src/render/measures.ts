import { type Recipe, SourceMeasures, needsMeasures } from '@hazy-lens/core';
import type { Frame } from '../footage/frame';

let count = 0;

/** What a recipe wants to know of a whole picture or frame; null where that is nothing. */
export function measuresOf({ data, format, width, height }: Frame, recipe: Recipe): SourceMeasures | null {
  if (!needsMeasures(recipe)) return null;
  return new SourceMeasures(`source ${++count}`, data, format, { width, height });
}
