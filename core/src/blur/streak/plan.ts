import type { Region } from '../../geometry/size';
import type { Arena, Rows } from '../../memory';
import type { BlurSetup } from '../blur';

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
  image: Rgba16Layout;
  /** Of means over `step` pixels of each path; null where every path is read pixel by pixel. */
  short: Rgba16Layout | null;
  step: number;
  /** A row of linear light for each worker. */
  rows: Rows[];
}

export interface Rgba16Layout {
  at: number;
  row: number;
}

/** Longer than any path. */
const NEVER = 1e6;

/** Pixels of a path that are averaged beforehand, an odd number: then a path takes about as many samples of each kind. */
const stepOf = (longest: number): number =>
  Math.min(49, Math.max(3, 2 * Math.round(Math.sqrt(longest / 4) / 2) + 1));

/** Lays out the memory of a blur along paths. @param longest pixels of the longest path in a region, of a strength. */
export function planStreak(
  { region, maxStrength, workers, isTight }: BlurSetup,
  arena: Arena,
  longest: (most: number, region: Region) => number,
): StreakPlan {
  const { width, height } = region;
  const row = 8 * width;
  // A row more: what reads four numbers at the end of the last may read more.
  const picture = (): Rgba16Layout => ({ at: arena.take(row * (height + 1)), row });
  return {
    height,
    image: picture(),
    short: isTight ? null : picture(),
    step: isTight ? NEVER : stepOf(longest(maxStrength, region)),
    rows: Array.from({ length: workers }, () => arena.rows(width, 1, 3)),
  };
}

/** Address of pixel (x, y). */
export const pixel16 = ({ at, row }: Rgba16Layout, x: number, y: number): number => at + y * row + 8 * x;
