import { type Region, diagonal } from '../../geometry/size';
import type { Arena, Rows } from '../../memory/arena';
import type { Blur, BlurFrame, BlurLook } from '../blur';
import { StreakWorker } from './worker';

/** A path through each pixel, as the kernels of `streak.ts` read it. */
export interface Path {
  /** 0 straight along (a, b), 1 round the centre (a, b), 2 out from it, in pixels of the region. */
  kind: 0 | 1 | 2;
  a: number;
  b: number;
}

/** Where the pictures of a streak lie: four 16-bit numbers a pixel. */
export interface StreakPlan {
  height: number;
  image: Picture16;
  /** Of means over `step` pixels of each path; null where every path is read pixel by pixel. */
  short: Picture16 | null;
  step: number;
  /** A row of linear light for each worker. */
  rows: Rows[];
}

export interface Picture16 {
  at: number;
  row: number;
}

/** Longer than any path. */
const NEVER = 1e6;

/** Pixels of a path that are averaged beforehand, an odd number: then a path takes about as many samples of each kind. */
const stepOf = (longest: number): number =>
  Math.min(49, Math.max(3, 2 * Math.round(Math.sqrt(longest / 4) / 2) + 1));

/** @param longest pixels of the longest path in a region, of a strength. */
function plan(
  { region, most, workers, isTight }: BlurFrame,
  arena: Arena,
  longest: (most: number, region: Region) => number,
): StreakPlan {
  const { width, height } = region;
  const row = 8 * width;
  // A row more: what reads four numbers at the end of the last may read more.
  const picture = (): Picture16 => ({ at: arena.take(row * (height + 1)), row });
  return {
    height,
    image: picture(),
    short: isTight ? null : picture(),
    step: isTight ? NEVER : stepOf(longest(most, region)),
    rows: Array.from({ length: workers }, () => arena.rows(width, 1, 3)),
  };
}

/** Address of pixel (x, y). */
export const pixel16 = ({ at, row }: Picture16, x: number, y: number): number => at + y * row + 8 * x;

interface Movement {
  strength: Blur<StreakPlan>['strength'];
  longest(most: number, region: Region): number;
  path(look: BlurLook, region: Region): Path;
  key(look: BlurLook): string;
}

/** A blur that is the mean along a path through each pixel. */
function streak({ strength, longest, path, key }: Movement): Blur<StreakPlan> {
  return {
    strength,
    // A path reaches as far to both sides.
    reach: (look, picture) => longest(strength(look, picture), { x: 0, y: 0, ...picture, picture }) / 2 + 1,
    // About a centre it is so much halfway to the corners.
    averages: ({ on, radius }, picture) => ({ area: 1, radius: on ? radius * diagonal(picture) : 0 }),
    key,
    passKey: key,
    takesCover: false,
    spreads: false,
    readsHaze: (_look, keeps) => keeps,
    stripRows: 32,
    plan: (frame, arena) => plan(frame, arena, longest),
    fillTables: () => undefined,
    passes: ({ height, short }) => (short ? [height, height] : [height]),
    worker: (use, own, frame, i) => new StreakWorker(use, own, frame, i, path),
  };
}

const centred = (centre: readonly [number, number], { x, y, picture }: Region): { a: number; b: number } => ({
  a: centre[0] * picture.width - 0.5 - x,
  b: centre[1] * picture.height - 0.5 - y,
});
/** Lengths are so many times the distance from the centre: at most a diagonal and more. */
const round = (most: number, { picture }: Region): number => most * diagonal(picture);

/** Along a direction; its strength is the streak's length in pixels. */
export const motion = streak({
  strength: ({ on, radius }, picture) => (on ? 2 * radius * diagonal(picture) : 0),
  longest: (most) => most,
  path: ({ motion: { angle } }) => ({
    kind: 0,
    a: Math.cos((angle * Math.PI) / 180),
    b: Math.sin((angle * Math.PI) / 180),
  }),
  key: ({ motion: look }) => JSON.stringify(look),
});

/** Of movements about a centre the strength is the streak's length as a share of the distance from it. */
const share = ({ on, radius }: BlurLook): number => (on ? 4 * radius : 0);

export const spin = streak({
  strength: share,
  longest: round,
  path: ({ spin: look }, region) => ({ kind: 1, ...centred(look.centre, region) }),
  key: ({ spin: look }) => JSON.stringify(look),
});

export const zoom = streak({
  strength: share,
  longest: round,
  path: ({ zoom: look }, region) => ({ kind: 2, ...centred(look.centre, region) }),
  key: ({ zoom: look }) => JSON.stringify(look),
});
