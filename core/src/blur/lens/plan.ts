import type { Size } from '../../geometry/size';
import { type Arena, type Heap, MARGIN, type Rows } from '../../memory';
import type { BlurSetup } from '../blur';
import { type MixPlan, fillSplines, planMix, planSplines } from '../level-mixer';
import { FARTHEST_OUTLINE, FRINGE } from './aperture';
import { type LampPlan, planLamps } from './lamps';
import { type DiscRoom, planDiscs } from './disc-level';
import { HALVING, LENS_PLANES, TILE, gatherReach, levelMaxRadiusPx } from './levels';

/** Where the data of lens blur lies: what all share, and each worker's own part. */
export interface LensPlan {
  /** Size that the picture is extended to by mirroring, so that the levels divide it. */
  extended: Size;
  /** Level k is `[k - 1]`: 1 / 2^k of the size. */
  levels: Rows[];
  /** Where only what is near is blurred: least and most haze of it in each tile. */
  tiles: Rows | null;
  /** Where clipped light is, and its colours. */
  lamps: LampPlan;
  splines: number[];
  /** Radii at which levels go over, and where the kernels read them. */
  topRadii: number[];
  tops: number;
  /** Taps by which rows are halved. */
  halving: number;
  workers: LensScratch[];
}

/** One worker's part. */
export interface LensScratch {
  /** A row of the extended picture, and what of a row the next level takes; its samples apart. */
  decoded: Rows;
  admitted: Rows;
  split: number;
  /** Rows of half the width, as many as a halving reads. */
  ring: Rows;
  /** The picture's rows of the strip, and those around it that are gathered from. */
  near: Rows;
  /** The strip's gathered rows of each level. */
  gathered: Rows[];
  /** A gathered row at full size. */
  row: Rows;
  mix: MixPlan;
  /** A level's part of what is near. */
  part: Rows;
  weights: number;
  discs: DiscRoom;
}

const align = (value: number, to: number): number => Math.ceil(value / to) * to;

/** Lays out the memory of a lens blur. */
export function planLens(frame: BlurSetup, arena: Arena): LensPlan {
  const { region, maxStrength, workers, stripRows, isDraft, runPixels, isNear } = frame;
  const { width, height } = region;
  let count = 0;
  // Radii are computed in single precision: a hair of room.
  while (levelMaxRadiusPx(count, isDraft) < maxStrength * 1.001) count++;
  const step = 2 ** count;
  // As far beyond the right and the lower edge as the farthest corner of a squeezed aperture reaches.
  const reach = count === 0 ? 0 : Math.ceil(maxStrength * (1 + FRINGE) * FARTHEST_OUTLINE) + 2 * step;
  const extended = { width: align(width + reach, step), height: align(height + reach, step) };
  const levels = Array.from({ length: count }, (_, i) =>
    arena.rows(
      extended.width / 2 ** (i + 1),
      extended.height / 2 ** (i + 1),
      LENS_PLANES,
      align(gatherReach(i + 1), MARGIN),
    ),
  );
  // What it weighs comes along.
  const planes = isNear ? 4 : 3;
  const halvings = count > 0 ? 1 : 0;
  const room = (): LensScratch => ({
    decoded: arena.rows(extended.width, halvings, LENS_PLANES, MARGIN),
    admitted: arena.rows(extended.width, halvings, LENS_PLANES, MARGIN),
    split: arena.floats(halvings * (extended.width + 32 * MARGIN)),
    ring: arena.rows(extended.width / 2, halvings * 2 * HALVING.length, LENS_PLANES, MARGIN),
    near: arena.rows(width, stripRows + 2 * gatherReach(0), LENS_PLANES, align(gatherReach(0), MARGIN)),
    gathered: levels.map((level, i) =>
      arena.rows(level.width, Math.ceil(stripRows / 2 ** (i + 1)) + 3, planes, MARGIN),
    ),
    row: arena.rows(width, 1, planes, MARGIN),
    mix: planMix(arena, runPixels, [null, ...levels.map((level) => level.width)], planes),
    part: arena.rows(isNear ? runPixels : 0, 1, 3),
    weights: arena.floats(8),
    discs: planDiscs(arena, 1 + count, !isNear),
  });
  return {
    extended,
    levels,
    tiles: isNear ? arena.rows(2 * Math.ceil(width / TILE), Math.ceil(height / TILE), 1) : null,
    lamps: planLamps(region, region.picture, arena),
    splines: planSplines(arena, count),
    topRadii: levels.map((_, k) => levelMaxRadiusPx(k, isDraft)),
    tops: arena.floats(Math.max(1, count)),
    halving: arena.floats(8),
    workers: Array.from({ length: workers }, room),
  };
}

/** Writes the splines and taps that all workers read. */
export function fillLensTables({ splines, topRadii, tops, halving }: LensPlan, heap: Heap): void {
  fillSplines(splines, heap);
  heap.setFloats(tops, topRadii);
  heap.setFloats(halving, HALVING);
}
