import type { Size } from '../../geometry/size';

/** Sweeps of the relaxation at each size; coarser sizes have brought it near already. */
const SWEEPS = 24;
const SMALLEST = 8;

/**
 * Values that are given outside a hole, carried into it as smoothly as can be: Laplace's equation, solved from coarse to
 * fine by relaxation. @param values `planes` a pixel; what stands in the hole is written. @param hole 1 inside.
 */
export function interpolateHole(
  values: Float32Array,
  hole: Uint8Array,
  { width, height }: Size,
  planes: number,
): void {
  if (!hole.includes(1)) return;
  if (Math.min(width, height) > SMALLEST) {
    const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
    const [coarse, inside] = [new Float32Array(w * h * planes), new Uint8Array(w * h)];
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        const to = y * w + x;
        let count = 0;
        for (const [i, j] of [[0, 0], [1, 0], [0, 1], [1, 1]] as const) {
          const at = Math.min(height - 1, 2 * y + j) * width + Math.min(width - 1, 2 * x + i);
          if (hole[at] === 1) continue;
          count++;
          for (let c = 0; c < planes; c++) coarse[to * planes + c]! += values[at * planes + c]!;
        } // prettier-ignore
        if (count === 0) inside[to] = 1;
        else for (let c = 0; c < planes; c++) coarse[to * planes + c]! /= count;
      }
    interpolateHole(coarse, inside, { width: w, height: h }, planes);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const at = y * width + x;
        if (hole[at] === 0) continue;
        const from = (y >> 1) * w + (x >> 1);
        for (let c = 0; c < planes; c++) values[at * planes + c] = coarse[from * planes + c]!;
      }
  }
  const inside = Int32Array.from({ length: hole.reduce((sum, is) => sum + is, 0) });
  for (let at = 0, k = 0; at < hole.length; at++) if (hole[at] === 1) inside[k++] = at;
  const sweeps = Math.min(width, height) > SMALLEST ? SWEEPS : 8 * SWEEPS;
  const [step, row] = [planes, width * planes];
  for (let sweep = 0; sweep < sweeps; sweep++)
    for (let k = 0; k < inside.length; k++) {
      const at = inside[sweep % 2 === 0 ? k : inside.length - 1 - k]!;
      const x = at % width;
      const [hasLeft, hasRight] = [x > 0, x < width - 1];
      const [hasAbove, hasBelow] = [at >= width, at + width < hole.length];
      const count = Number(hasLeft) + Number(hasRight) + Number(hasAbove) + Number(hasBelow);
      for (let i = at * planes; i < (at + 1) * planes; i++) {
        let sum = 0;
        if (hasLeft) sum += values[i - step]!;
        if (hasRight) sum += values[i + step]!;
        if (hasAbove) sum += values[i - row]!;
        if (hasBelow) sum += values[i + row]!;
        values[i] = sum / count;
      }
    }
}
