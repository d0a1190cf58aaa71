import { similarityOf } from '../../focus/carry';
import type { Size } from '../../geometry/size';
import { type Similarity, invert, transformPoint } from '../../geometry/similarity';
import type { Scratch } from '../../memory';
import type { Carry } from '../../recipe/carry-schema';
import type { Mend } from '../../recipe/tidy-schema';
import { bilinear } from '../../geometry/bilinear';
import { type FrameColours, type FramePixels, frameColours, frameSamples } from './frame-colours';
import { OPAQUE_FROM_COVERAGE, fillWindow } from './index';
import { cloneOffsetPx } from './clone';
import { interpolateHole } from './membrane';
import { type MendWindow, mendWindow } from './window';

/** A mend as it was made on one frame of footage, to be laid on the others; in shared memory. */
export interface MendPatch extends MendWindow {
  /** What a fill made of the window, three a pixel; null for a copy, which reads from the frame that it is laid on. */
  made: Float32Array | null;
  /** The way to where a copy comes from, in pixels. */
  from: readonly [number, number];
}

/** Side of the cells in which the light of a patch's surroundings is compared, as a share of the patch, and in pixels. */
const CELL = { share: 1 / 20, least: 4 } as const;
/** Places of a cell that are compared, each way. */
const PLACES = 3;
/** Cells beyond this many median deviations count as occluded. */
const OUTLIER = 3;
/** The usual difference is taken for this at least. */
const MIN_SPREAD = 0.01;

/**
 * Makes a mend on the frame that it was painted on, on which those before it lie already.
 * @returns null where it lies outside of the frame.
 */
export async function mendPatch(
  scratch: Scratch,
  module: WebAssembly.Module,
  frame: FramePixels,
  mend: Mend,
): Promise<MendPatch | null> {
  const samples = frameSamples(frame);
  const window = mendWindow(samples, mend);
  if (!window) return null;
  const made = mend.kind === 'fill' ? await fillWindow(scratch, module, window) : null;
  const cover =
    mend.kind === 'fill'
      ? window.cover.map((share) => Math.min(1, share / OPAQUE_FROM_COVERAGE))
      : window.cover;
  return {
    ...window,
    colours: shared(window.colours),
    cover: shared(cover),
    made: made && shared(made),
    from: cloneOffsetPx(frame, mend.from),
  };
}

function shared(values: Float32Array): Float32Array {
  const copy = new Float32Array(new SharedArrayBuffer(values.byteLength));
  copy.set(values);
  return copy;
}

/**
 * Lays a patch on a frame, in place, where it was carried to. What a fill made keeps its texture and takes the light of
 * its surroundings on this frame: the difference around it, without what passes by, is carried into it as smoothly as
 * can be (after P. Pérez, M. Gangnet, A. Blake, "Poisson image editing", 2003).
 */
export function compositePatch(frame: FramePixels, patch: MendPatch, carry: Carry): void {
  const colours = frameColours(frame);
  const there = similarityOf(carry, frame);
  const box = boxOn(patch, there, frame);
  if (!box) return;
  const home = invert(there);
  const light = patch.made ? lightingOffset(colours, patch, there) : null;
  const source = patch.made ? null : there;
  const out = new Float32Array(box.width * box.height * 3);
  const changed = new Uint8Array(box.width * box.height);
  const [was, made] = [new Float32Array(3), new Float32Array(3)];
  for (let j = 0; j < box.height; j++)
    for (let i = 0; i < box.width; i++) {
      const [px, py] = transformPoint(home, [box.x + i + 0.5, box.y + j + 0.5]);
      const [x, y] = [px - patch.x - 0.5, py - patch.y - 0.5];
      if (x < 0 || y < 0 || x > patch.width - 1 || y > patch.height - 1) continue;
      const share = bilinear(patch.cover, patch, 1, 0, x, y);
      if (share === 0) continue;
      if (patch.made)
        for (let c = 0; c < 3; c++) made[c] = bilinear(patch.made, patch, 3, c, x, y) + light!.at(x, y, c);
      else if (!readBetween(colours, transformPoint(source!, [px + patch.from[0], py + patch.from[1]]), made))
        continue;
      const at = j * box.width + i;
      colours.read(box.x + i, box.y + j, was, 0);
      for (let c = 0; c < 3; c++) out[3 * at + c] = was[c]! + (made[c]! - was[c]!) * share;
      changed[at] = 1;
    }
  colours.write(box, out, changed);
}

/** The box of whole pixels of a frame that a patch's cover reaches; null where that is outside. */
function boxOn(patch: MendPatch, there: Similarity, frame: Size): (Size & { x: number; y: number }) | null {
  const { width, cover } = patch;
  let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let at = 0; at < cover.length; at++) {
    if (cover[at] === 0) continue;
    const [x, y] = transformPoint(there, [
      patch.x + (at % width) + 0.5,
      patch.y + Math.floor(at / width) + 0.5,
    ]);
    [left, right] = [Math.min(left, x), Math.max(right, x)];
    [top, bottom] = [Math.min(top, y), Math.max(bottom, y)];
  }
  const [x, y] = [Math.max(0, Math.floor(left) - 1), Math.max(0, Math.floor(top) - 1)];
  const box = {
    x,
    y,
    width: Math.min(frame.width, Math.ceil(right) + 1) - x,
    height: Math.min(frame.height, Math.ceil(bottom) + 1) - y,
  };
  return box.width > 0 && box.height > 0 ? box : null;
}

const corner = new Float32Array(12);

/** The colour of a frame at a place in pixels from its corner, between its pixels; false where that is outside. */
function readBetween(colours: FrameColours, [px, py]: readonly [number, number], to: Float32Array): boolean {
  const [x, y] = [px - 0.5, py - 0.5];
  const { width, height } = colours;
  if (x < 0 || y < 0 || x > width - 1 || y > height - 1) return false;
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [x1, y1] = [Math.min(width - 1, x0 + 1), Math.min(height - 1, y0 + 1)];
  const [tx, ty] = [x - x0, y - y0];
  colours.read(x0, y0, corner, 0);
  colours.read(x1, y0, corner, 3);
  colours.read(x0, y1, corner, 6);
  colours.read(x1, y1, corner, 9);
  for (let c = 0; c < 3; c++) {
    const top = corner[c]! + tx * (corner[3 + c]! - corner[c]!);
    const bottom = corner[6 + c]! + tx * (corner[9 + c]! - corner[6 + c]!);
    to[c] = top + ty * (bottom - top);
  }
  return true;
}

/** How much brighter a frame is around a patch than the frame that it was made on: smooth within it, in coded values. */
function lightingOffset(
  colours: FrameColours,
  patch: MendPatch,
  there: Similarity,
): { at(x: number, y: number, c: number): number } {
  const { width, height } = patch;
  const side = Math.max(CELL.least, Math.round(CELL.share * Math.max(width, height)));
  const [columns, rows] = [Math.ceil(width / side), Math.ceil(height / side)];
  const values = new Float32Array(columns * rows * 3);
  const hole = new Uint8Array(columns * rows).fill(1);
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      const difference = cellDifference(colours, patch, there, i * side, j * side, side);
      if (!difference) continue;
      values.set(difference, (j * columns + i) * 3);
      hole[j * columns + i] = 0;
    }
  rejectOccludedCells(values, hole);
  if (!hole.includes(0)) return { at: () => 0 };
  const grid = { width: columns, height: rows };
  interpolateHole(values, hole, grid, 3);
  const place = (v: number, most: number): number => Math.min(most - 1, Math.max(0, v / side - 0.5));
  return { at: (x, y, c) => bilinear(values, grid, 3, c, place(x + 0.5, columns), place(y + 0.5, rows)) };
}

/** The middle difference of a cell, each channel; null where the mend lies on it, or it is outside of the frame. */
function cellDifference(
  colours: FrameColours,
  patch: MendPatch,
  there: Similarity,
  left: number,
  top: number,
  side: number,
): number[] | null {
  const { width, height, cover } = patch;
  const found: number[][] = [[], [], []];
  const now = new Float32Array(3);
  for (let j = 0; j < PLACES; j++)
    for (let i = 0; i < PLACES; i++) {
      const x = Math.floor(left + ((i + 0.5) * side) / PLACES);
      const y = Math.floor(top + ((j + 0.5) * side) / PLACES);
      if (x >= width || y >= height) continue;
      if (cover[y * width + x]! > 0) return null;
      if (!readBetween(colours, transformPoint(there, [patch.x + x + 0.5, patch.y + y + 0.5]), now)) continue;
      for (let c = 0; c < 3; c++) found[c]!.push(now[c]! - patch.colours[(y * width + x) * 3 + c]!);
    }
  return found[0]!.length > 0 ? found.map(middle) : null;
}

/** Cells that something has come before, or gone from, take no part. */
function rejectOccludedCells(values: Float32Array, hole: Uint8Array): void {
  const cells = [...hole.keys()].filter((at) => hole[at] === 0);
  if (cells.length === 0) return;
  const usual = [0, 1, 2].map((c) => middle(cells.map((at) => values[3 * at + c]!)));
  const away = (at: number): number => Math.max(...usual.map((v, c) => Math.abs(values[3 * at + c]! - v)));
  const spread = Math.max(MIN_SPREAD, middle(cells.map(away)));
  for (const at of cells) if (away(at) > OUTLIER * spread) hole[at] = 1;
}

function middle(values: number[]): number {
  return values.sort((a, b) => a - b)[values.length >> 1]!;
}
