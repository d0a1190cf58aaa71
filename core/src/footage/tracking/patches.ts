import type { Grey, Pyramid } from './pyramid';
import { type Similarity, invert, scaleOf } from '../../geometry/similarity';
import type { Point } from './fit-similarity';

/** Half the side of a patch; its side. */
const REACH = 7;
const SIDE = 2 * REACH + 1;
const COUNT = SIDE * SIDE;
const ROUNDS = 12;
/** A step shorter than this ends the search, in samples of its level. */
const ENOUGH = 0.02;
/** Patches with less variance than this (of levels squared) hold nothing to find. */
const MIN_VARIANCE = 4;

/** A patch at one level, ready to be searched for: zero mean, unit variance, with its gradients. */
interface Template {
  values: Float32Array;
  gx: Float32Array;
  gy: Float32Array;
  /** Inverse of the summed gradient products. */
  inverse: readonly [number, number, number];
}

/** A place with its patches at each level of its picture, the finest first. */
export interface Patch {
  at: Point;
  levels: readonly (Template | null)[];
}

const atLevel = (value: number, level: number): number => (value + 0.5) / 2 ** level - 0.5;

/** Samples around a place, at steps that a similarity turns and scales; false where they leave the picture. */
function sampled(
  { width, height, data }: Grey,
  x: number,
  y: number,
  a: number,
  b: number,
  out: Float32Array,
): boolean {
  const reach = REACH * (Math.abs(a) + Math.abs(b)) + 1;
  if (x < reach || y < reach || x > width - 1 - reach || y > height - 1 - reach) return false;
  for (let j = -REACH, o = 0; j <= REACH; j++)
    for (let i = -REACH; i <= REACH; i++, o++) {
      const sx = x + a * i - b * j;
      const sy = y + b * i + a * j;
      const [ix, iy] = [sx | 0, sy | 0];
      const [fx, fy] = [sx - ix, sy - iy];
      const k = iy * width + ix;
      const above = data[k]! + fx * (data[k + 1]! - data[k]!);
      const below = data[k + width]! + fx * (data[k + width + 1]! - data[k + width]!);
      out[o] = above + fy * (below - above);
    }
  return true;
}

/** To zero mean and unit variance, in place; false where there is nothing to see. */
function normalised(values: Float32Array): boolean {
  let sum = 0;
  for (let i = 0; i < COUNT; i++) sum += values[i]!;
  const mean = sum / COUNT;
  let square = 0;
  for (let i = 0; i < COUNT; i++) square += (values[i]! - mean) ** 2;
  if (square < MIN_VARIANCE * COUNT) return false;
  const scale = 1 / Math.sqrt(square / COUNT);
  for (let i = 0; i < COUNT; i++) values[i] = (values[i]! - mean) * scale;
  return true;
}

function templateAt(grey: Grey, x: number, y: number): Template | null {
  const values = new Float32Array(COUNT);
  if (!sampled(grey, x, y, 1, 0, values) || !normalised(values)) return null;
  const [gx, gy] = [new Float32Array(COUNT), new Float32Array(COUNT)];
  let [xx, xy, yy] = [0, 0, 0];
  for (let j = 0; j < SIDE; j++)
    for (let i = 0; i < SIDE; i++) {
      const o = j * SIDE + i;
      const dx =
        (values[i < SIDE - 1 ? o + 1 : o]! - values[i > 0 ? o - 1 : o]!) / (i > 0 && i < SIDE - 1 ? 2 : 1);
      const dy =
        (values[j < SIDE - 1 ? o + SIDE : o]! - values[j > 0 ? o - SIDE : o]!) /
        (j > 0 && j < SIDE - 1 ? 2 : 1);
      gx[o] = dx;
      gy[o] = dy;
      xx += dx * dx;
      xy += dx * dy;
      yy += dy * dy;
    }
  const determinant = xx * yy - xy * xy;
  if (determinant < 1e-3 * COUNT) return null;
  return { values, gx, gy, inverse: [yy / determinant, -xy / determinant, xx / determinant] };
}

/** The patches of a place. */
export function patchAt(pyramid: Pyramid, at: Point): Patch {
  return { at, levels: pyramid.map((grey, i) => templateAt(grey, atLevel(at[0], i), atLevel(at[1], i))) };
}

const scratch = new Float32Array(COUNT);

/** What was found of a patch: where, and how alike it is, 1 for the very same. */
export interface Found {
  at: Point;
  likeness: number;
}

/**
 * Finds a patch in another picture: Lucas and Kanade's search over a pyramid (J.-Y. Bouguet, "Pyramidal implementation of
 * the Lucas Kanade feature tracker", 2001), in its inverse compositional form (S. Baker, I. Matthews, 2004), between
 * patches of equal mean and variance, so that light may change.
 * @param guess where it is expected, turned and scaled as it says. @param levels how many to use, the coarsest first.
 */
export function findPatch(patch: Patch, pyramid: Pyramid, guess: Similarity, levels: number): Found | null {
  const { a, b } = guess;
  const norm = scaleOf(guess);
  if (!(norm > 0.2 && norm < 5)) return null;
  let x = a * patch.at[0] - b * patch.at[1] + guess.tx;
  let y = b * patch.at[0] + a * patch.at[1] + guess.ty;
  let likeness = 0;
  for (let level = Math.min(levels, pyramid.length) - 1; level >= 0; level--) {
    const template = patch.levels[level];
    const grey = pyramid[level]!;
    if (!template) {
      if (level === 0) return null;
      continue;
    }
    const { values, gx, gy, inverse } = template;
    let [lx, ly] = [atLevel(x, level), atLevel(y, level)];
    for (let round = 0; round < ROUNDS; round++) {
      if (!sampled(grey, lx, ly, a, b, scratch)) {
        if (level === 0) return null;
        break;
      }
      if (!normalised(scratch)) return null;
      let [ex, ey, product] = [0, 0, 0];
      for (let i = 0; i < COUNT; i++) {
        const e = scratch[i]! - values[i]!;
        ex += e * gx[i]!;
        ey += e * gy[i]!;
        product += scratch[i]! * values[i]!;
      }
      likeness = product / COUNT;
      const sx = inverse[0] * ex + inverse[1] * ey;
      const sy = inverse[1] * ex + inverse[2] * ey;
      lx -= a * sx - b * sy;
      ly -= b * sx + a * sy;
      if (sx * sx + sy * sy < ENOUGH * ENOUGH) break;
    }
    x = (lx + 0.5) * 2 ** level - 0.5;
    y = (ly + 0.5) * 2 ** level - 0.5;
  }
  return { at: [x, y], likeness };
}

/** How far the way back may end from where the way out began. */
const MAX_ASTRAY_PX = 0.8;

/** True where what was found at a place, searched for in the patch's own picture, is the patch. */
export function passesForwardBackward(
  pyramid: Pyramid,
  at: Point,
  patch: Patch,
  home: Pyramid,
  way: Similarity,
): boolean {
  const returned = findPatch(patchAt([pyramid[0]!], at), home, invert(way), 1);
  return (
    returned !== null &&
    Math.hypot(returned.at[0] - patch.at[0], returned.at[1] - patch.at[1]) <= MAX_ASTRAY_PX
  );
}
