import type { Raster } from '../geometry/raster';
import { type GreyImage, boxMean } from './grey-image';

/**
 * Squared distance to the nearest pixel of a set, exact, in pixels; two passes of lower envelopes of parabolas
 * (Felzenszwalb and Huttenlocher, "Distance transforms of sampled functions", 2012).
 */
function squaredDistance(isMember: (i: number) => boolean, width: number, height: number): Float64Array {
  const FAR = 1e12;
  const field = Float64Array.from({ length: width * height }, (_, i) => (isMember(i) ? 0 : FAR));
  const longest = Math.max(width, height);
  const [f, out] = [new Float64Array(longest), new Float64Array(longest)];
  const vertex = new Int32Array(longest);
  const border = new Float64Array(longest + 1);
  const line = (n: number): void => {
    let k = 0;
    vertex[0] = 0;
    border[0] = -Infinity;
    border[1] = Infinity;
    for (let q = 1; q < n; q++) {
      let s: number;
      for (;;) {
        const v = vertex[k]!;
        s = (f[q]! + q * q - (f[v]! + v * v)) / (2 * (q - v));
        if (s > border[k]! || k === 0) break;
        k--;
      }
      if (s > border[k]!) k++;
      vertex[k] = q;
      border[k] = k === 0 ? -Infinity : s;
      border[k + 1] = Infinity;
    }
    k = 0;
    for (let q = 0; q < n; q++) {
      while (border[k + 1]! < q) k++;
      out[q] = (q - vertex[k]!) ** 2 + f[vertex[k]!]!;
    }
  };
  for (let x = 0; x < width; x++) {
    for (let y = 0; y < height; y++) f[y] = field[y * width + x]!;
    line(height);
    for (let y = 0; y < height; y++) field[y * width + x] = out[y]!;
  }
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) f[x] = field[y * width + x]!;
    line(width);
    for (let x = 0; x < width; x++) field[y * width + x] = out[x]!;
  }
  return field;
}

/**
 * A matte with its outline moved outwards by so many pixels (inwards where negative): made anew from where it is one
 * half, one pixel soft.
 */
export function offsetOutline({ width, height, values }: GreyImage, pixels: number): GreyImage {
  const isInside = (i: number): boolean => values[i]! >= 0.5;
  const toInside = squaredDistance(isInside, width, height);
  const toOutside = squaredDistance((i) => !isInside(i), width, height);
  const out = values.map((_, i) => {
    // From the outline, which runs between the pixels: negative inside.
    const far = isInside(i) ? 0.5 - Math.sqrt(toOutside[i]!) : Math.sqrt(toInside[i]!) - 0.5;
    return Math.min(1, Math.max(0, 0.5 - (far - pixels)));
  });
  return { width, height, values: out };
}

/** A matte with an outline that takes about `pixels` on each side to fade: three box means are close to a Gaussian. */
export function feather(plane: GreyImage, pixels: number): GreyImage {
  const radius = Math.round(pixels / 2);
  if (radius < 1) return plane;
  return boxMean(boxMean(boxMean(plane, radius), radius), radius);
}

/** The largest level of a raster that is no longer than asked for, as floats. */
export function rasterToGrey(raster: Raster, longEdge: number): GreyImage {
  const { width, height, samples } =
    raster.levels.find((level) => Math.max(level.width, level.height) <= longEdge) ?? raster.levels.at(-1)!;
  const values = new Float32Array(samples.length);
  for (let i = 0; i < values.length; i++) values[i] = samples[i]! / 65535;
  return { width, height, values };
}
