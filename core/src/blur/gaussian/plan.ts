import { type Arena, type Heap, MARGIN, type Rows, padded } from '../../memory';
import type { BlurSetup } from '../blur';
import { type MixPlan, fillSplines, planMix, planSplines } from '../level-mixer';
import {
  FULL_SIZE_LEVELS,
  FULL_SIZE_REACH,
  REACH_SIGMAS,
  STACK_TAPS,
  levelOf,
  levelPlace,
  levelVariance,
  octaveCount,
} from './levels';

/** Most levels a stack may have. */
export const MAX_LEVELS = 40;
/** Rows that the widest halving kernel reads. */
export const HALVING_ROWS = 12;

/** Where the blur stack lies: what all share, and each worker's own part. */
export interface GaussianPlan {
  /** Size that the picture is extended to by mirroring, so that the octaves divide it and no blur meets the end. */
  extended: { width: number; height: number };
  /** Octave k is `octaves[k - 1]`: 1 / 2^k of the size. */
  octaves: Rows[];
  /** Highest level of the stack. */
  topLevel: number;
  taps: { full: number[]; firstHalving: number; halving: number; second: number };
  /** B-spline weights for each octave's scale. */
  splines: number[];
  workers: GaussianScratch[];
}

/** One worker's part. */
export interface GaussianScratch {
  /** A decoded row of the extended picture, and its even and odd samples apart. */
  decoded: Rows;
  split: number;
  /** Rows of half the width, as many as a halving reads; one octave after the other uses them. */
  ring: Rows;
  /** A row weighed together from several. */
  row: Rows;
  /** Linear rows of the strip and of FULL_SIZE_REACH rows above and below it. */
  linear: Rows;
  /** The strip's rows of each full-size level. */
  levels: Rows[];
  /** The strip's rows of the second level of each octave. */
  seconds: Rows[];
  mix: MixPlan;
  pointers: number;
  weights: number;
}

/** Rows of an octave's second level that a strip can touch. */
const secondRows = (stripRows: number, octave: number): number => Math.ceil(stripRows / 2 ** octave) + 3;

const align = (value: number, to: number): number => Math.ceil(value / to) * to;

/** Lays out the memory of a Gaussian blur. */
export function planGaussian(
  { region, maxStrength, workers, stripRows, runPixels, colours }: BlurSetup,
  arena: Arena,
): GaussianPlan {
  // The light; and where something is kept clear, how far it spreads.
  const planes = colours + 1;
  const { width, height } = region;
  // Levels are float32: allow for rounding.
  const topLevel = Math.min(MAX_LEVELS - 1, Math.ceil(levelOf(maxStrength) + 2e-3));
  const octaveTotal = octaveCount(topLevel);
  const step = 2 ** octaveTotal;
  const reach =
    octaveTotal === 0 ? 0 : Math.ceil(REACH_SIGMAS * Math.sqrt(levelVariance(topLevel))) + 2 * step;
  const extended = { width: align(width + reach, step), height: align(height + reach, step) };
  const octaves = Array.from({ length: octaveTotal }, (_, i) =>
    arena.rows(extended.width / 2 ** (i + 1), extended.height / 2 ** (i + 1), planes, MARGIN),
  );
  const halvings = octaveTotal > 0 ? 1 : 0;
  const widths = Array.from({ length: topLevel + 1 }, (_, level) => {
    const { octave } = levelPlace(level);
    return octave === 0 ? null : octaves[octave - 1]!.width;
  });
  const room = (): GaussianScratch => ({
    decoded: arena.rows(extended.width, halvings, planes, MARGIN),
    split: arena.floats(halvings * (padded(extended.width) + 16 * MARGIN)),
    ring: arena.rows(extended.width / 2, halvings * HALVING_ROWS, planes, MARGIN),
    row: arena.rows(extended.width, 1, planes, MARGIN),
    linear: arena.rows(width, stripRows + 2 * FULL_SIZE_REACH, planes, MARGIN),
    levels: Array.from({ length: Math.min(topLevel, FULL_SIZE_LEVELS) }, () =>
      arena.rows(width, stripRows, planes),
    ),
    seconds: octaves.map((octave, i) =>
      arena.rows(octave.width, secondRows(stripRows, i + 1), planes, MARGIN),
    ),
    mix: planMix(arena, runPixels, widths, planes),
    pointers: arena.floats(32),
    weights: arena.floats(32),
  });
  return {
    extended,
    octaves,
    topLevel,
    taps: {
      full: STACK_TAPS.full.map(() => arena.floats(16)),
      firstHalving: arena.floats(16),
      halving: arena.floats(16),
      second: arena.floats(16),
    },
    splines: planSplines(arena, octaveTotal),
    workers: Array.from({ length: workers }, room),
  };
}

/** Writes the taps and splines that all workers read. */
export function fillGaussianTables({ taps, splines }: GaussianPlan, heap: Heap): void {
  STACK_TAPS.full.forEach((values, i) => heap.setFloats(taps.full[i]!, values));
  heap.setFloats(taps.firstHalving, STACK_TAPS.firstHalving);
  heap.setFloats(taps.halving, STACK_TAPS.halving);
  heap.setFloats(taps.second, STACK_TAPS.second);
  fillSplines(splines, heap);
}
