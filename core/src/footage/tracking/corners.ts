import { type Similarity, transformPoint } from '../../geometry/similarity';
import type { Grey } from './pyramid';
import type { Point } from './fit-similarity';

/** Half the side of the square whose gradients are added up. */
const REACH = 3;
/** A corner weaker than this share of the strongest is none. */
const MIN_SHARE = 0.01;

/** Corners closer than this see nearly the same. */
const MIN_CELL = 9;

/** Where to look for corners: pixels, the far edges not included. */
export interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** The box around what a box becomes when it is moved. */
export function movedBox({ left, top, right, bottom }: Box, motion: Similarity): Box {
  const ends = ([[left, top], [right, top], [right, bottom], [left, bottom]] as const).map((p) => transformPoint(motion, p)); // prettier-ignore
  const [xs, ys] = [ends.map(([x]) => x), ends.map(([, y]) => y)];
  return { left: Math.min(...xs), right: Math.max(...xs), top: Math.min(...ys), bottom: Math.max(...ys) };
}

/**
 * Places that can be found again: where the smaller eigenvalue of the summed gradient products is greatest (J. Shi,
 * C. Tomasi, "Good features to track", 1994), the strongest of each cell of a grid, so that they lie all over.
 * @param allows says whether a place may be one.
 */
export function corners(
  grey: Grey,
  box: Box,
  most: number,
  allows: (x: number, y: number) => boolean,
): Point[] {
  const { width, height, data } = grey;
  const margin = REACH + 2;
  const left = Math.max(margin, Math.ceil(box.left));
  const top = Math.max(margin, Math.ceil(box.top));
  const right = Math.min(width - margin, Math.floor(box.right));
  const bottom = Math.min(height - margin, Math.floor(box.bottom));
  if (right - left < 4 || bottom - top < 4) return [];
  const cell = Math.max(MIN_CELL, Math.sqrt(((right - left) * (bottom - top)) / most));
  const columns = Math.ceil((right - left) / cell);
  const rows = Math.ceil((bottom - top) / cell);
  const best = Array.from({ length: columns * rows }, () => ({ strength: 0, x: 0, y: 0 }));
  // Every other place is looked at: gradients are added up over far more.
  for (let y = top; y < bottom; y += 2)
    for (let x = left; x < right; x += 2) {
      let [xx, xy, yy] = [0, 0, 0];
      for (let v = y - REACH; v <= y + REACH; v++)
        for (let i = v * width + x - REACH, end = i + 2 * REACH + 1; i < end; i++) {
          const gx = data[i + 1]! - data[i - 1]!;
          const gy = data[i + width]! - data[i - width]!;
          xx += gx * gx;
          xy += gx * gy;
          yy += gy * gy;
        }
      const strength = (xx + yy - Math.sqrt((xx - yy) ** 2 + 4 * xy * xy)) / 2;
      const one = best[Math.floor((y - top) / cell) * columns + Math.floor((x - left) / cell)]!;
      if (strength > one.strength && allows(x, y)) Object.assign(one, { strength, x, y });
    }
  const strongest = Math.max(...best.map(({ strength }) => strength));
  return best
    .filter(({ strength }) => strength > strongest * MIN_SHARE && strength > 0)
    .sort((a, b) => b.strength - a.strength)
    .slice(0, most)
    .map(({ x, y }) => [x, y]);
}
