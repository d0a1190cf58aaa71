import type { Recipe } from '../recipe/schema';

/**
 * A recipe for footage whose frames come at another rate, so that keys, trim, curve, mattes and mends stay on their pictures.
 * @param factor what every time of the source is multiplied by: the old rate by the new one.
 */
export function retimed(recipe: Recipe, factor: number): Recipe {
  const { pace, keys, focus, tidy } = recipe;
  const later = <T extends { at?: number }>(one: T): T =>
    one.at === undefined ? one : { ...one, at: one.at * factor };
  return {
    ...recipe,
    pace: {
      ...pace,
      trim: pace.trim && [pace.trim[0] * factor, pace.trim[1] * factor],
      curve: pace.curve?.map(([time, speed]): [number, number] => [time * factor, speed]) ?? null,
    },
    tidy: { ...tidy, mends: tidy.mends.map(later) },
    focus: { ...focus, mattes: focus.mattes.map(later) },
    keys: keys.map(later),
  };
}
