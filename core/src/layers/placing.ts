import { type Size, diagonal } from '../geometry/size';
import type { Arena, Heap, KernelContext } from '../memory';
import type { LayerImage, LightLevel } from './image';

/** Where an image lies on a picture: its middle as fractions of it, its width in diagonals, turned clockwise about its middle. */
export interface LayerPlace {
  centre: readonly [number, number];
  width: number;
  /** In degrees. */
  turn: number;
  flip: boolean;
}

/** A part of a picture in its pixels. */
export interface Box extends Size {
  x: number;
  y: number;
}

/** From a point of a picture to one of an image, both in pixels from the corner: (x, y) goes to (u + x ux + y uy, …). */
interface Affine {
  u: number;
  v: number;
  ux: number;
  uy: number;
  vx: number;
  vy: number;
}

function affineOf({ centre, width, turn, flip }: LayerPlace, picture: Size, image: Size): Affine {
  // Pixels of the image for one of the picture.
  const scale = image.width / (width * diagonal(picture));
  const angle = (turn * Math.PI) / 180;
  const [cos, sin] = [scale * Math.cos(angle), scale * Math.sin(angle)];
  const side = flip ? -1 : 1;
  const [cx, cy] = [centre[0] * picture.width, centre[1] * picture.height];
  const [ux, uy, vx, vy] = [side * cos, side * sin, -sin, cos];
  return { u: image.width / 2 - ux * cx - uy * cy, v: image.height / 2 - vx * cx - vy * cy, ux, uy, vx, vy };
}

/** The corners of an image on a picture, clockwise from its own upper left, in pixels of the picture. */
export function layerCorners(place: LayerPlace, picture: Size, image: Size): [number, number][] {
  const half = (place.width * diagonal(picture)) / 2;
  const tall = (half * image.height) / image.width;
  const angle = (place.turn * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const side = place.flip ? -1 : 1;
  const [cx, cy] = [place.centre[0] * picture.width, place.centre[1] * picture.height];
  return ([[-1, -1], [1, -1], [1, 1], [-1, 1]] as const).map(([x, y]) => [
    cx + side * x * half * cos - y * tall * sin,
    cy + side * x * half * sin + y * tall * cos,
  ]); // prettier-ignore
}

/** The box around an image on a picture, whole pixels. */
export function layerBounds(place: LayerPlace, picture: Size, image: Size): Box {
  const corners = layerCorners(place, picture, image);
  const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
  const [x, y] = [Math.floor(Math.min(...xs)) - 1, Math.floor(Math.min(...ys)) - 1];
  return { x, y, width: Math.ceil(Math.max(...xs)) + 1 - x, height: Math.ceil(Math.max(...ys)) + 1 - y };
}

/** How a level of an image lies on a part of a picture. */
export interface Placed {
  level: LightLevel;
  /** From the first pixel's middle of the part to the level's samples. */
  affine: Affine;
  /** Samples of the level for one pixel. */
  ratio: number;
}

/** What of an image is read for a part of a picture: the level that fits, so that a pixel covers less than two samples. */
export function placedOn(image: LayerImage, place: LayerPlace, part: Box & { picture: Size }): Placed {
  const [full] = image.levels;
  const ratio = full.width / (place.width * diagonal(part.picture));
  const k = Math.min(image.levels.length - 1, Math.max(0, Math.floor(Math.log2(ratio) + 1e-9)));
  const level = image.levels[k]!;
  const { u, v, ux, uy, vx, vy } = affineOf(place, part.picture, full);
  const [x, y] = [part.x + 0.5, part.y + 0.5];
  const by = 1 / 2 ** k;
  const affine = {
    u: (u + ux * x + uy * y) * by - 0.5,
    v: (v + vx * x + vy * y) * by - 0.5,
    ux: ux * by,
    uy: uy * by,
    vx: vx * by,
    vy: vy * by,
  };
  return { level, affine, ratio: ratio * by };
}

const PHASES = 256;

/** The cubic kernel of Keys (a = -1/2), which goes through its samples. */
function cubic(t: number): number {
  const x = Math.abs(t);
  if (x < 1) return 1 + x * x * (1.5 * x - 2.5);
  return x < 2 ? 2 - x * (4 - x * (2.5 - 0.5 * x)) : 0;
}

/** Taps of a pixel each way: half of them, less one, lie before the sample at or below its place. */
const tapsFor = (ratio: number, isQuick: boolean): number =>
  isQuick ? 2 : 2 * Math.ceil(2 * Math.max(1, ratio) - 1e-6);

/** For each phase between two samples the taps' weights: a filter as wide as the pixels that are made, never narrower than a sample. */
function weightsFor(ratio: number, isQuick: boolean): Float32Array {
  const wide = Math.max(1, ratio);
  const taps = tapsFor(ratio, isQuick);
  const reach = taps / 2;
  const weights = new Float32Array(taps * (PHASES + 1));
  for (let p = 0; p <= PHASES; p++) {
    const row = Array.from({ length: taps }, (_, k) => {
      const far = k - (reach - 1) - p / PHASES;
      return isQuick ? Math.max(0, 1 - Math.abs(far)) : cubic(far / wide);
    });
    const sum = row.reduce((a, b) => a + b);
    weights.set(
      row.map((w) => w / sum),
      p * taps,
    );
  }
  return weights;
}

/** The stretch of a row in which start + x step lies between two bounds; from above to where nothing does. */
function within(start: number, step: number, low: number, high: number): [number, number] {
  if (Math.abs(step) < 1e-9)
    return start > low && start < high ? [-Infinity, Infinity] : [Infinity, -Infinity];
  const [a, b] = [(low - start) / step, (high - start) / step];
  return a < b ? [a, b] : [b, a];
}

/** Samples that are not there around a level in memory, each way: so many as any tap reaches beyond its edge. */
const AROUND = 16;
const MAX_TAPS = 8;

/** Where a level lies in memory, and the weights that it is read with. */
export interface PlacePlan extends Size {
  at: number;
  row: number;
  table: number;
  /** Room for a row of sums, for each worker. */
  lines: number[];
}

/** Room for a level of a size. */
export function planPlace({ width, height }: Size, workers: number, arena: Arena): PlacePlan {
  const row = 8 * (width + 2 * AROUND);
  return {
    width,
    height,
    at: arena.take(row * (height + 2 * AROUND)),
    row,
    table: arena.floats(MAX_TAPS * (PHASES + 1)),
    lines: Array.from({ length: workers }, () => arena.floats(4 * (width + 2 * AROUND))),
  };
}

/** Rows of a level as they are taken into memory, those around it included: `from` and `to` count from the first of all. */
export function loadRows(
  heap: Heap,
  plan: PlacePlan,
  { samples }: LightLevel,
  from: number,
  to: number,
): void {
  const { at, row, width, height } = plan;
  const bytes = new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength);
  heap.bytes.fill(0, at + from * row, at + to * row);
  for (let y = Math.max(AROUND, from); y < Math.min(height + AROUND, to); y++) {
    const start = 8 * (y - AROUND) * width;
    heap.bytes.set(bytes.subarray(start, start + 8 * width), at + y * row + 8 * AROUND);
  }
}

/** Rows that `loadRows` takes. */
export const rowsToLoad = ({ height }: PlacePlan): number => height + 2 * AROUND;

/** How a level that was taken in is to be written. */
export interface PlaceTask extends Omit<Placed, 'level'> {
  /** It is shown for a moment while a hand moves. */
  isQuick: boolean;
  /** Pixels of a row; rows of four planes of floats, light and coverage. */
  width: number;
  out: { at: number; row: number };
}

/** Writes the weights that `placeRows` reads. */
export function fillPlaceTable(heap: Heap, { table }: PlacePlan, { ratio, isQuick }: PlaceTask): void {
  heap.setFloats(table, weightsFor(ratio, isQuick));
}

/** Writes rows of a level where it lies; beyond its edge nothing is there. */
export function placeRows(
  use: KernelContext,
  plan: PlacePlan,
  worker: number,
  task: PlaceTask,
  from: number,
  to: number,
): void {
  const { affine, ratio, isQuick, width, out } = task;
  const taps = tapsFor(ratio, isQuick);
  const before = taps / 2 - 1;
  const placement = use.parameters('Placement', {
    image: plan.at + (AROUND - before) * (plan.row + 8),
    row: plan.row,
    du: affine.ux,
    dv: affine.vx,
    weights: plan.table,
    taps,
    phases: PHASES,
    line: plan.lines[worker]!,
  });
  for (let y = from; y < to; y++) {
    const start = out.at + y * out.row;
    use.kernels.clearBytes(start, out.row);
    const [u0, v0] = [affine.u + y * affine.uy, affine.v + y * affine.vy];
    const [a, b] = within(u0, affine.ux, -1 - before, plan.width + before);
    const [c, d] = within(v0, affine.vx, -1 - before, plan.height + before);
    const x = Math.max(0, Math.ceil(Math.max(a, c)));
    const n = Math.min(width, Math.floor(Math.min(b, d)) + 1) - x;
    if (n <= 0) continue;
    const [u, v] = [u0 + x * affine.ux, v0 + x * affine.vx];
    use.kernels.placeRow(placement, u, v, n, start + 4 * x, out.row / 4);
  }
}
