import type { Pace } from '../recipe/pace-schema';
import { toLinear } from '../pixels/transfer';
import type { ClipTimes } from './clip-times';

/** Columns and rows of the grid whose brightness is compared from frame to frame. */
export const FLICKER_GRID = { columns: 24, rows: 16 } as const;

/** The mean linear light of each cell of a grid over a frame's luma. */
export function lightGrid(luma: Uint8Array, width: number, height: number, isLimited: boolean): Float32Array {
  const { columns, rows } = FLICKER_GRID;
  const table = Float32Array.from({ length: 256 }, (_, v) =>
    toLinear(isLimited ? Math.min(1, Math.max(0, (v - 16) / 219)) : v / 255),
  );
  const sums = new Float32Array(columns * rows);
  const counts = new Uint32Array(columns * rows);
  // Every third place is enough for a mean.
  for (let y = 0; y < height; y += 3) {
    const row = Math.floor((y * rows) / height) * columns;
    for (let x = 0; x < width; x += 3) {
      const cell = row + Math.floor((x * columns) / width);
      sums[cell]! += table[luma[y * width + x]!]!;
      counts[cell]!++;
    }
  }
  return sums.map((sum, i) => sum / Math.max(1, counts[i]!));
}

/** Light that is too little to compare. */
const MIN_LIGHT = 0.002;

/**
 * How bright each frame is beside the first, in stops: from frame to frame the median of what the cells of the grid say,
 * so that what moves, or a light that goes on somewhere, does not count.
 * @param grids `lightGrid` of each frame, in order.
 */
export function brightnessOf(grids: readonly Float32Array[]): Float64Array {
  const stops = new Float64Array(grids.length);
  for (let i = 1; i < grids.length; i++) {
    const [before, now] = [grids[i - 1]!, grids[i]!];
    const ratios: number[] = [];
    for (let k = 0; k < now.length; k++)
      if (before[k]! > MIN_LIGHT && now[k]! > MIN_LIGHT) ratios.push(Math.log2(now[k]! / before[k]!));
    ratios.sort((a, b) => a - b);
    const half = ratios.length >> 1;
    const median =
      ratios.length === 0 ? 0 : ratios.length % 2 ? ratios[half]! : (ratios[half - 1]! + ratios[half]!) / 2;
    stops[i] = stops[i - 1]! + median;
  }
  return stops;
}

/** Brightness as it would be without pumping, in stops: the mean over a window, weighed by a raised cosine. */
export function evenBrightness(stops: Float64Array, times: ClipTimes, windowSeconds: number): Float64Array {
  const half = windowSeconds / 2;
  let first = 0;
  return stops.map((own, i) => {
    const now = times.starts[i]!;
    while (times.starts[first]! < now - half) first++;
    // What is missing on one side at an end is left out on the other too, so that a slope stays one.
    const reach = Math.min(half, now - times.starts[0]!, times.starts[stops.length - 1]! - now);
    let [sum, weights] = [0, 0];
    for (let k = first; k < stops.length && times.starts[k]! <= now + reach + 1e-9; k++) {
      const away = Math.abs(times.starts[k]! - now);
      if (away > reach + 1e-9) continue;
      const weight = reach > 0 ? 0.5 + 0.5 * Math.cos((Math.PI * away) / (half + 1e-9)) : 1;
      sum += weight * stops[k]!;
      weights += weight;
    }
    return weights > 0 ? sum / weights : own;
  });
}

/** What each frame's light is multiplied by, so that brightness no longer pumps. */
export function flickerGains(
  stops: Float64Array,
  times: ClipTimes,
  { amount, window }: Pace['deflicker'],
): Float64Array {
  if (amount === 0) return new Float64Array(stops.length).fill(1);
  const even = evenBrightness(stops, times, window);
  return stops.map((own, i) => 2 ** (amount * (even[i]! - own)));
}
