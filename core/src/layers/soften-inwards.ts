import type { Size } from '../geometry/size';

/**
 * Standard deviation of the blur for each sample that a place lies off what is known: measured on balloons over a town,
 * where 0.3 is 0.3 dB less about the outline of what is lifted, 1 is 0.1 dB more, and 2 is 0.2 dB less again.
 */
const SHARE = 0.6;
/** What lies deeper shows through the widest blurs alone. */
const WIDEST = 30;

/**
 * Softens what was made up, the more the farther it lies off what is known: there its detail is a guess, and the mean of
 * what may be there is nearer than any guess. Each sample gets a blur of its own, between two of a series of widths.
 * @param light n samples a pixel, row by row; softened in place. @param unknown for each pixel 0 where its light is known.
 */
export function softenInwards(light: Float32Array, n: number, unknown: Float32Array, size: Size): void {
  const sigmas = distances(unknown, size).map((distance) => Math.min(WIDEST, SHARE * distance));
  const most = sigmas.reduce((a, b) => Math.max(a, b), 0);
  const count = size.width * size.height;
  let [sharper, softer] = [new Float32Array(count), new Float32Array(count)];
  const along = new Float32Array(count);
  for (let k = 0; k < n; k++) {
    for (let i = 0; i < count; i++) sharper[i] = light[n * i + k]!;
    let [low, variance] = [0, 0];
    for (let radius = 1; low < most; radius *= 2) {
      box(sharper, along, softer, size, radius);
      box(softer, along, softer, size, radius);
      // Of a box of 2 r + 1 samples ((2 r + 1)^2 - 1) / 12, of two of them twice as much.
      variance += ((2 * radius + 1) ** 2 - 1) / 6;
      const high = Math.sqrt(variance);
      for (let i = 0; i < count; i++) {
        const sigma = sigmas[i]!;
        if (sigma <= low || sigma > high) continue;
        const share = (sigma - low) / (high - low);
        light[n * i + k] = sharper[i]! + share * (softer[i]! - sharper[i]!);
      }
      [sharper, softer, low] = [softer, sharper, high];
    }
  }
}

/**
 * How many pixels each lies off the nearest that is known, by chamfer distance (G. Borgefors, 1986); 0 all over where none
 * is.
 */
function distances(unknown: Float32Array, { width, height }: Size): Float32Array {
  const far = width + height;
  const found = unknown.map((value) => (value > 0 ? far : 0));
  if (!unknown.includes(0)) return found.fill(0);
  /** Takes the shortest way to each pixel of a row by neighbours that were reached before it. */
  const sweep = (y: number, way: 1 | -1): void => {
    const [row, before] = [y * width, (y - way) * width];
    const hasBefore = y - way >= 0 && y - way < height;
    for (let i = 0; i < width; i++) {
      const x = way === 1 ? i : width - 1 - i;
      let least = found[row + x]!;
      const beside = x - way;
      if (beside >= 0 && beside < width) least = Math.min(least, found[row + beside]! + 1);
      if (hasBefore) {
        least = Math.min(least, found[before + x]! + 1);
        if (x > 0) least = Math.min(least, found[before + x - 1]! + Math.SQRT2);
        if (x < width - 1) least = Math.min(least, found[before + x + 1]! + Math.SQRT2);
      }
      found[row + x] = least;
    }
  };
  for (let y = 0; y < height; y++) sweep(y, 1);
  for (let y = height - 1; y >= 0; y--) sweep(y, -1);
  return found;
}

/**
 * Means over boxes of 2 `radius` + 1 samples each way; the edge goes on as it is.
 * @param along room for the means along rows. @param out may be `values`.
 */
function box(
  values: Float32Array,
  along: Float32Array,
  out: Float32Array,
  { width, height }: Size,
  radius: number,
): void {
  const share = 1 / (2 * radius + 1);
  for (let row = 0; row < values.length; row += width) {
    let sum = 0;
    for (let x = -radius; x <= radius; x++) sum += values[row + Math.min(width - 1, Math.max(0, x))]!;
    for (let x = 0; x < width; x++) {
      along[row + x] = sum * share;
      sum += values[row + Math.min(width - 1, x + radius + 1)]! - values[row + Math.max(0, x - radius)]!;
    }
  }
  const sums = new Float64Array(width);
  const rowOf = (y: number): number => width * Math.min(height - 1, Math.max(0, y));
  for (let y = -radius; y <= radius; y++)
    for (let x = 0, row = rowOf(y); x < width; x++) sums[x]! += along[row + x]!;
  for (let y = 0; y < height; y++) {
    const [row, next, last] = [rowOf(y), rowOf(y + radius + 1), rowOf(y - radius)];
    for (let x = 0; x < width; x++) {
      out[row + x] = sums[x]! * share;
      sums[x]! += along[next + x]! - along[last + x]!;
    }
  }
}
