import type { Recipe } from '../recipe/schema';

/**
 * A recipe for footage whose frames come at another rate, so that keys, trim, curve and mattes stay on their pictures.
 * @param factor what every time of the source is multiplied by: the old rate by the new one.
 */
export function retimed(recipe: Recipe, factor: number): Recipe {
  const { pace, keys, focus } = recipe;
  return {
    ...recipe,
    pace: {
      ...pace,
      trim: pace.trim && [pace.trim[0] * factor, pace.trim[1] * factor],
      curve: pace.curve?.map(([time, speed]): [number, number] => [time * factor, speed]) ?? null,
    },
    focus: {
      ...focus,
      mattes: focus.mattes.map((one) => (one.at === undefined ? one : { ...one, at: one.at * factor })),
    },
    keys: keys.map((key) => ({ ...key, at: key.at * factor })),
  };
}
