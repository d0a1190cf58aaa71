import { IDENTITY_CARRY, carryOf, similarityOf } from '../../focus/carry';
import { diagonal, type Size } from '../../geometry/size';
import { type Box, movedBox } from './corners';
import type { Carry } from '../../recipe/carry-schema';
import type { Key } from '../../recipe/keys-schema';
import { type RecipePath, numberSpecAt, valueAt } from '../../recipe/numbers';
import type { Recipe } from '../../recipe/schema';
import { type KeyValue, keyPath, recipeAt } from '../../recipe/keys';
import {
  type Similarity,
  compose,
  invert,
  transformPoint,
  scaleOf,
  rotationDeg,
} from '../../geometry/similarity';

/** Where what is followed went by a time: from the first frame's pixels to that frame's. */
export interface Motion {
  time: number;
  motion: Similarity;
}

/** How far keys may be from what was followed, in pixels of the frames; of what turns and grows, at its rim. */
const TOLERANCE_PX = 0.5;
/** Lengths stay as they are unless what is followed grows or shrinks by so much, angles unless it turns so far. */
const MIN_GROWTH = 0.015;
const MIN_TURN_PX = 1;

/** The numbers of a part of a recipe that go with what it lies on: points, angles, lengths. */
export function transformableNumbers(
  recipe: Recipe,
  place: RecipePath,
): { at: RecipePath; kind: 'point' | 'angle' | 'length' }[] {
  const part = valueAt(recipe, place);
  if (typeof part === 'number') {
    const kind = measureOf(recipe, place);
    return kind === 'angle' || kind === 'length' ? [{ at: place, kind }] : [];
  }
  if (Array.isArray(part) && part.length === 2 && measureOf(recipe, [...place, 0]) === 'across')
    return [{ at: place, kind: 'point' }];
  if (typeof part !== 'object' || part === null) return [];
  return Object.keys(part).flatMap((key) =>
    transformableNumbers(recipe, [...place, Array.isArray(part) ? Number(key) : key]),
  );
}

function measureOf(recipe: Recipe, place: RecipePath): string | null {
  try {
    return numberSpecAt(recipe, place).measure;
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}

/** Where a part of a recipe holds how it is carried: itself, or one of its fields; null for what moves by its own numbers. */
export function carryPath(recipe: Recipe, place: RecipePath): RecipePath | null {
  const part = valueAt(recipe, place);
  if (typeof part !== 'object' || part === null) return null;
  if ('shift' in part) return place;
  return 'carry' in part ? [...place, 'carry'] : null;
}

/** The numbers of a part of a recipe that get keys when it is followed. */
export function trackedNumbers(recipe: Recipe, place: RecipePath): RecipePath[] {
  const carry = carryPath(recipe, place);
  return carry
    ? CARRIED.map((key) => [...carry, key])
    : transformableNumbers(recipe, place).map(({ at }) => at);
}

/**
 * Keys that let a part of a recipe (a band, a sounding, strokes, a matte) go with what was followed: as few as lie within
 * half a pixel of it.
 * @param place of the part, as it is on the frame that following began at. @param motions in the order of their times.
 * @param frame the size of the frames that were followed. @param box of what is carried, on the frame that following began
 * at, in pixels; all of the frame where nothing is said.
 */
export function trackedKeys(
  recipe: Recipe,
  place: RecipePath,
  motions: readonly Motion[],
  frame: Size,
  box: Box = { left: 0, top: 0, right: frame.width, bottom: frame.height },
): Key[] {
  const carry = carryPath(recipe, place);
  if (carry) return carriedKeys(recipe, carry, motions, frame, box);
  const grows = motions.some(({ motion }) => Math.abs(scaleOf(motion) - 1) > MIN_GROWTH);
  const d = diagonal(frame);
  const rim = Math.hypot(box.right - box.left, box.bottom - box.top) / 2;
  const pxPerDegree = (rim * Math.PI) / 180;
  const turns = motions.some(({ motion }) => Math.abs(rotationDeg(motion)) * pxPerDegree > MIN_TURN_PX);
  return transformableNumbers(recipe, place).flatMap(({ at, kind }) => {
    const start = valueAt(recipe, at) as KeyValue;
    const of = keyPath(recipe, at);
    if ((kind === 'length' && !grows) || (kind === 'angle' && !turns)) {
      // What had keys stays as it was on the frame that following began at.
      if (!recipe.keys.some((key) => key.of === of)) return [];
      const ends = [motions[0]!, motions.at(-1)!];
      return ends.map(({ time }) => ({ of, at: time, value: start, ease: 'linear' as const }));
    }
    const values = motions.map(({ motion }) => valueAfter(start, kind, motion, frame));
    const apart = (a: readonly number[], b: readonly number[]): number =>
      kind === 'point'
        ? Math.hypot((a[0]! - b[0]!) * frame.width, (a[1]! - b[1]!) * frame.height) / TOLERANCE_PX
        : Math.abs(a[0]! - b[0]!) * ((kind === 'length' ? d : pxPerDegree) / TOLERANCE_PX);
    const times = motions.map(({ time }) => time);
    return simplifyTrack(times, values, apart).map((i) => {
      const [x, y] = values[i]!;
      return { of, at: times[i]!, value: y === undefined ? x! : [x!, y], ease: 'linear' as const };
    });
  });
}

const CARRIED = ['shift', 'turn', 'scale'] as const;

/** Keys of a carry: what was followed comes after what carried it to the frame that following began at. */
function carriedKeys(
  recipe: Recipe,
  carry: RecipePath,
  motions: readonly Motion[],
  frame: Size,
  box: Box,
): Key[] {
  const start = similarityOf(valueAt(recipe, carry) as Carry, frame);
  return carryKeys(
    keyPath(recipe, carry),
    motions.map(({ time, motion }) => {
      const { a, b, tx, ty } = motion;
      // Motions count from the middle of the first pixel, carries from its corner.
      const fromCorner = { a, b, tx: tx + 0.5 * (1 - a + b), ty: ty + 0.5 * (1 - a - b) };
      return { time, carry: carryOf(compose(fromCorner, start), frame) };
    }),
    frame,
    movedBox(box, invert(start)),
  );
}

/** A carry at times as keys, as few as keep all of a box within half a pixel; its numbers have theirs together. */
function carryKeys(
  of: string,
  steps: readonly { time: number; carry: Carry }[],
  frame: Size,
  { left, top, right, bottom }: Box,
): Key[] {
  const corners = [[left, top], [right, top], [left, bottom], [right, bottom]] as const; // prettier-ignore
  const placed = ([x, y, turn, scale]: readonly number[]): [number, number][] => {
    const there = similarityOf({ shift: [x!, y!], turn: turn!, scale: scale! }, frame);
    return corners.map((corner) => transformPoint(there, corner));
  };
  const apart = (a: readonly number[], b: readonly number[]): number => {
    const other = placed(b);
    const far = placed(a).map(([x, y], i) => Math.hypot(x - other[i]![0], y - other[i]![1]));
    return Math.max(...far) / TOLERANCE_PX;
  };
  const times = steps.map(({ time }) => time);
  const values = steps.map(({ carry: { shift, turn, scale } }) => [...shift, turn, scale]);
  const kept = simplifyTrack(times, values, apart);
  return CARRIED.flatMap((name) => kept.map((i) => carryKey(of, name, steps[i]!)));
}

function carryKey(of: string, name: keyof Carry, { time, carry }: { time: number; carry: Carry }): Key {
  return { of: `${of}/${name}`, at: time, value: carry[name], ease: 'linear' };
}

/**
 * The keys of a carry as they are when another frame is the one that it begins at: there it is at rest, everywhere else
 * it moves as it did from there on.
 * @param place of the carry. @param time of that frame.
 */
export function rebaseCarryKeys(recipe: Recipe, place: RecipePath, time: number, picture: Size): Key[] {
  const of = keyPath(recipe, place);
  const at = (t: number): Similarity => similarityOf(valueAt(recipeAt(recipe, t), place) as Carry, picture);
  const back = invert(at(time));
  const own = recipe.keys.filter((key) => key.of.startsWith(`${of}/`)).map((key) => key.at);
  const times = [...new Set([...own, time])].sort((a, b) => a - b);
  const steps = times.map((t) => ({
    time: t,
    carry: t === time ? IDENTITY_CARRY : carryOf(compose(at(t), back), picture),
  }));
  return CARRIED.flatMap((name) => steps.map((step) => carryKey(of, name, step)));
}

function valueAfter(
  start: KeyValue,
  kind: 'point' | 'angle' | 'length',
  motion: Similarity,
  frame: Size,
): number[] {
  if (kind === 'angle') return [(start as number) + rotationDeg(motion)];
  if (kind === 'length') return [(start as number) * scaleOf(motion)];
  const [x, y] = start as [number, number];
  const [u, v] = transformPoint(motion, [x * frame.width - 0.5, y * frame.height - 0.5]);
  return [(u + 0.5) / frame.width, (v + 0.5) / frame.height];
}

/**
 * Which of many values to keep so that straight lines between them come within 1 of all others, as `apart` counts: each
 * as far from the last as it can be.
 */
export function simplifyTrack(
  times: readonly number[],
  values: readonly (readonly number[])[],
  apart: (a: readonly number[], b: readonly number[]) => number,
): number[] {
  const fits = (from: number, to: number): boolean => {
    for (let i = from + 1; i < to; i++) {
      const share = (times[i]! - times[from]!) / (times[to]! - times[from]!);
      const line = values[from]!.map((v, k) => v + share * (values[to]![k]! - v));
      if (apart(line, values[i]!) > 1) return false;
    }
    return true;
  };
  const kept = values.length > 0 ? [0] : [];
  for (let from = 0; from < values.length - 1;) {
    let to = from + 1;
    while (to + 1 < values.length && fits(from, to + 1)) to++;
    kept.push((from = to));
  }
  return kept;
}
