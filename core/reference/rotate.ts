import type { CropGeometry } from '../src/index';
import { coded, decoded } from './srgb';

/** The sample that is seen at i where n samples are mirrored at their edges. */
function mirrored(i: number, n: number): number {
  const k = ((i % (2 * n)) + 2 * n) % (2 * n);
  return k < n ? k : 2 * n - 1 - k;
}

function lanczos(t: number): number {
  if (t === 0) return 1;
  return Math.abs(t) >= 3
    ? 0
    : (3 * Math.sin(Math.PI * t) * Math.sin((Math.PI * t) / 3)) / (Math.PI * t) ** 2;
}

/**
 * What a sheet shows of a picture, as the formula is written: each sample the weighted mean of the 36 around its place, in
 * linear light. @param data interleaved samples 0..255. @returns coded values 0..255, not rounded.
 */
export function turnReference(data: ArrayLike<number>, channels: number, sheet: CropGeometry): Float64Array {
  const { width, height, picture, corner, u, v } = sheet;
  const out = new Float64Array(width * height * 3);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [sx, sy] = [x + 0.5, y + 0.5];
      const px = corner[0] + sx * u[0] + sy * v[0] - 0.5;
      const py = corner[1] + sx * u[1] + sy * v[1] - 0.5;
      const [left, top] = [Math.floor(px) - 2, Math.floor(py) - 2];
      let total = 0;
      const sum = [0, 0, 0];
      for (let j = top; j < top + 6; j++)
        for (let i = left; i < left + 6; i++) {
          const weight = lanczos(i - px) * lanczos(j - py);
          const at = (mirrored(j, picture.height) * picture.width + mirrored(i, picture.width)) * channels;
          total += weight;
          for (let c = 0; c < 3; c++) sum[c]! += weight * decoded(data[at + c]! / 255);
        }
      for (let c = 0; c < 3; c++)
        out[(y * width + x) * 3 + c] = 255 * coded(Math.min(1, Math.max(0, sum[c]! / total)));
    }
  return out;
}
