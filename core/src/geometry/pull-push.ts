import type { Size } from './size';

/**
 * Carries values that are given in places to where none are, in place: means of halves down to one sample, and from there up
 * again, each size read between its samples (S. Gortler et al., "The lumigraph", SIGGRAPH 1996). What weighs 1 or more stays
 * as it is.
 * @param planes values of one size. @param weight how far each is given, 0 where it is not. Where nothing is given at all,
 * everything becomes 0.
 */
export function pullPush(
  planes: readonly Float32Array[],
  weight: Float32Array,
  { width, height }: Size,
): void {
  if (width * height === 1) {
    if (weight[0] === 0) for (const values of planes) values[0] = 0;
    return;
  }
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const half = planes.map(() => new Float32Array(w * h));
  const above = new Float32Array(w * h);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const share = Math.min(1, weight[y * width + x]!);
      if (share === 0) continue;
      const to = (y >> 1) * w + (x >> 1);
      above[to]! += share;
      for (let k = 0; k < planes.length; k++) half[k]![to]! += share * planes[k]![y * width + x]!;
    }
  for (let i = 0; i < above.length; i++)
    if (above[i]! > 0) for (const values of half) values[i]! /= above[i]!;
  pullPush(half, above, { width: w, height: h });
  for (let y = 0; y < height; y++) {
    const v = Math.min(h - 1, Math.max(0, (y + 0.5) / 2 - 0.5));
    const [top, ty] = [Math.floor(v) * w, v - Math.floor(v)];
    const bottom = Math.min(h - 1, Math.floor(v) + 1) * w;
    for (let x = 0; x < width; x++) {
      const share = weight[y * width + x]!;
      if (share >= 1) continue;
      const u = Math.min(w - 1, Math.max(0, (x + 0.5) / 2 - 0.5));
      const [left, tx] = [Math.floor(u), u - Math.floor(u)];
      const right = Math.min(w - 1, left + 1);
      for (let k = 0; k < planes.length; k++) {
        const from = half[k]!;
        const upper = from[top + left]! + tx * (from[top + right]! - from[top + left]!);
        const lower = from[bottom + left]! + tx * (from[bottom + right]! - from[bottom + left]!);
        const given = share > 0 ? share * planes[k]![y * width + x]! : 0;
        planes[k]![y * width + x] = given + (1 - share) * (upper + ty * (lower - upper));
      }
    }
  }
}
