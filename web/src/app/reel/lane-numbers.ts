import {
  type Key,
  type KeyValue,
  type NumberRange,
  type Recipe,
  type RecipePath,
  type Size,
  type Track,
  numberSpecAt,
  resolveKeyPath,
  displayRange,
  trackValue,
  valueAt,
} from '@hazy-lens/core';
import type { Lane } from '../project/footage/keyframes';

/** A number of a lane that has keys: a track has one, that of a point two. */
export interface LaneNumber {
  track: Track;
  /** Which of a point's numbers; 0 for a number by itself. */
  part: 0 | 1;
  label: string;
  /** As people see it. */
  range: NumberRange;
  isAngle: boolean;
}

/** Values from the bottom to the top of a curve, as people see them. */
export interface CurveSpan {
  least: number;
  most: number;
}

/** Room above and below a curve, as a share of its own height. */
const MARGIN = 0.12;
/** A curve shows at least so many steps of its number: what hardly changes is drawn flat. */
const MIN_STEPS = 8;

/** The numbers of a lane, in the order in which the recipe has them. */
export function laneNumbers(recipe: Recipe, { tracks }: Lane, size: Size): LaneNumber[] {
  return tracks.flatMap((track) => {
    const place = resolveKeyPath(recipe, track.of);
    if (!place) return [];
    const isPoint = Array.isArray(valueAt(recipe, place));
    const paths: RecipePath[] = isPoint
      ? [
          [...place, 0],
          [...place, 1],
        ]
      : [place];
    return paths.map((path, part) => {
      const spec = numberSpecAt(recipe, path);
      const range = displayRange(spec, size);
      const label = (range.spoken || range.label).toLowerCase();
      return { track, part: part as 0 | 1, label, range, isAngle: spec.measure === 'angle' };
    });
  });
}

/** The number of a key, as people see it. */
export const shownIn = ({ value }: Pick<Key, 'value'>, { part, range }: LaneNumber): number =>
  [value].flat()[part]! * range.scale;

/** The value of a key with another number in it, held within its range. @param shown as people see it. */
export function withNumber(value: KeyValue, { part, range }: LaneNumber, shown: number): KeyValue {
  const held = Math.min(range.max, Math.max(range.min, shown)) / range.scale;
  if (!Array.isArray(value)) return held;
  return part === 0 ? [held, value[1]] : [value[0], held];
}

/** A number at many times, as people see it; an angle goes on beyond half a turn rather than jump. */
export function curveValues(recipe: Recipe, number: LaneNumber, times: readonly number[]): number[] {
  let last: number | null = null;
  return times.map((time) => {
    let shown = shownIn({ value: trackValue(recipe, number.track, time)! }, number);
    if (number.isAngle && last !== null) shown -= 360 * Math.round((shown - last) / 360);
    last = shown;
    return shown;
  });
}

/** What a curve's height stands for. */
export function spanOf(values: readonly number[], { range }: LaneNumber): CurveSpan {
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const room = Math.max((most - least) * MARGIN, (MIN_STEPS * range.step - (most - least)) / 2);
  return { least: least - room, most: most + room };
}
