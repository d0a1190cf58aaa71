import { type Size, diagonal } from '../focus/geometry';
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

/** Rows of an image as it lies on a part of a picture, as a render worker is told of them. */
export interface PlaceTask {
  level: LightLevel;
  /** From the first pixel's middle of the part to the level's samples. */
  affine: Affine;
  /** Samples of the level for one pixel. */
  ratio: number;
  width: number;
  /** It is shown for a moment while a hand moves. */
  isQuick: boolean;
  /** Rows of four planes of floats: light and coverage. */
  memory: WebAssembly.Memory;
  at: number;
  row: number;
  from: number;
  to: number;
}

/** What of an image is read for a part of a picture: the level that fits, so that a pixel covers less than two samples. */
export function placeTask(
  image: LayerImage,
  place: LayerPlace,
  part: Box & { picture: Size },
): Pick<PlaceTask, 'level' | 'affine' | 'ratio' | 'width'> {
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
  return { level, affine, ratio: ratio * by, width: part.width };
}

const PHASES = 256;

/** The cubic kernel of Keys (a = -1/2), which goes through its samples. */
function cubic(t: number): number {
  const x = Math.abs(t);
  if (x < 1) return 1 + x * x * (1.5 * x - 2.5);
  return x < 2 ? 2 - x * (4 - x * (2.5 - 0.5 * x)) : 0;
}

interface Filter {
  /** Taps of a sample, and how many of them lie before the one at or below its place. */
  taps: number;
  before: number;
  /** For each phase between two samples the taps' weights. */
  weights: Float32Array;
}

/** A filter as wide as the pixels that are made: never narrower than a sample. */
function filterFor(ratio: number, isQuick: boolean): Filter {
  const wide = Math.max(1, ratio);
  const reach = isQuick ? 1 : Math.ceil(2 * wide - 1e-6);
  const taps = 2 * reach;
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
  return { taps, before: reach - 1, weights };
}

/** The stretch of a row in which start + x step lies between two bounds; from above to where nothing does. */
function within(start: number, step: number, low: number, high: number): [number, number] {
  if (Math.abs(step) < 1e-9) return start > low && start < high ? [-Infinity, Infinity] : [0, 0];
  const [a, b] = [(low - start) / step, (high - start) / step];
  return a < b ? [a, b] : [b, a];
}

/** Writes rows of an image where it lies; beyond its edge nothing is there. */
export function placeRows(task: PlaceTask): void {
  const { level, affine, ratio, width, isQuick, memory, at, row, from, to } = task;
  const out = new Float32Array(memory.buffer);
  const plane = row / 16;
  const { taps, before, weights } = filterFor(ratio, isQuick);
  const { samples } = level;
  for (let y = from; y < to; y++) {
    const first = (at + y * row) / 4;
    out.fill(0, first, first + 4 * plane);
    const [u0, v0] = [affine.u + y * affine.uy, affine.v + y * affine.vy];
    const [a, b] = within(u0, affine.ux, -1 - before, level.width + before);
    const [c, d] = within(v0, affine.vx, -1 - before, level.height + before);
    const start = Math.max(0, Math.ceil(Math.max(a, c)));
    const end = Math.min(width, Math.floor(Math.min(b, d)) + 1);
    for (let x = start; x < end; x++) {
      const [u, v] = [u0 + x * affine.ux, v0 + x * affine.vx];
      const [iu, iv] = [Math.floor(u), Math.floor(v)];
      const pu = Math.round((u - iu) * PHASES) * taps;
      const pv = Math.round((v - iv) * PHASES) * taps;
      let [red, green, blue, share] = [0, 0, 0, 0];
      for (let j = 0; j < taps; j++) {
        const line = iv - before + j;
        const down = weights[pv + j]!;
        if (line < 0 || line >= level.height || down === 0) continue;
        for (let i = 0; i < taps; i++) {
          const column = iu - before + i;
          if (column < 0 || column >= level.width) continue;
          const w = down * weights[pu + i]!;
          const s = 4 * (line * level.width + column);
          red += w * samples[s]!;
          green += w * samples[s + 1]!;
          blue += w * samples[s + 2]!;
          share += w * samples[s + 3]!;
        }
      }
      if (share <= 0) continue;
      // A sharp kernel swings over: there is never more than all, and never more light than white has.
      const most = Math.min(1, share / 65535);
      out[first + x] = Math.min(most, Math.max(0, red / 65535));
      out[first + plane + x] = Math.min(most, Math.max(0, green / 65535));
      out[first + 2 * plane + x] = Math.min(most, Math.max(0, blue / 65535));
      out[first + 3 * plane + x] = most;
    }
  }
}
