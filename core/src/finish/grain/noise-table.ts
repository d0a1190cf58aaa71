import { type Covariance, type Likeness, NOISE_BINS, type Noise } from './noise';

/** Floats that the kernel `matchRow` reads: of each brightness three columns of four, then taps across, down, and the spread. */
export const NOISE_TABLE = 12 * (NOISE_BINS + 1) + 8;

/**
 * Noise as the kernel makes it: for each brightness the lower root of the covariance, so that three independent numbers
 * become noise of that covariance (A.-L. Cholesky), and filters of three taps an axis that make neighbours as alike as they
 * were.
 * @param share of the noise that is put back. @param scale pixels of the picture in hand for one of the source.
 */
export function noiseTable(noise: Noise, share: number, scale: number): number[] {
  const [across, down] = [noise.across, noise.down].map((axis) => reduced(axis, scale)) as [Axis, Axis];
  const by = share * Math.sqrt(across.left * down.left);
  const rows = [...noise.bins, noise.bins.at(-1)!].flatMap((bin) => columnsOf(rootOf(bin), by));
  const spread = spreadOf(across.likeness) * spreadOf(down.likeness);
  return [...rows, ...tapsFor(across.likeness), ...tapsFor(down.likeness), spread, 0];
}

/** Of noise where a picture is made smaller: what of its variance is left along an axis, and how alike neighbours are then. */
interface Axis {
  left: number;
  likeness: Likeness;
}

/** Means over as many pixels as one of the smaller picture covers. */
function reduced([one, two]: Likeness, scale: number): Axis {
  const count = Math.max(1, Math.round(1 / scale));
  if (count === 1) return { left: 1, likeness: [one, two] };
  const alike = [1, one, two];
  const sum = (apart: number): number => {
    let all = 0;
    for (let i = 0; i < count; i++)
      for (let k = 0; k < count; k++) all += alike[Math.abs(apart * count + k - i)] ?? 0;
    return Math.max(0, all) / count ** 2;
  };
  const left = sum(0);
  return { left, likeness: left > 0 ? [sum(1) / left, sum(2) / left] : [0, 0] };
}

/** How many times as much of a noise's variance is left in a mean as if pixels had nothing in common. */
export function noiseSpread({ across, down }: Noise): number {
  return spreadOf(across) * spreadOf(down);
}

/** The same along an axis. */
const spreadOf = ([one, two]: Likeness): number => Math.max(0.2, 1 + 2 * one + 2 * two);

/**
 * Taps whose sum over independent numbers has deviation 1 and is as alike one and two apart as asked for; where no three
 * taps can be, a little less alike.
 */
export function tapsFor([one, two]: Likeness): [number, number, number] {
  for (let share = 1; share > 0.01; share *= 0.95) {
    const [r1, r2] = [share * one, share * two];
    let [a, b, power] = [0, 0, 1];
    for (let round = 0; round < 200; round++) {
      b = r2 * power;
      a = (r1 * power) / (1 + b);
      const next = 1 + a * a + b * b;
      if (Math.abs(next - power) < 1e-9) {
        const scale = 1 / Math.sqrt(next);
        return [scale, a * scale, b * scale];
      }
      power = next;
      if (!(power < 1e3) || b < -0.9) break;
    }
  }
  return [1, 0, 0];
}

/** Lower root L of a covariance, L Lᵀ; what is not quite one is taken for the nearest that is. */
function rootOf([rr, rg, gg, rb, gb, bb]: Covariance): Covariance {
  const root = (square: number): number => Math.sqrt(Math.max(0, square));
  const over = (value: number, by: number): number => (by > 0 ? value / by : 0);
  const r = root(rr);
  const g1 = over(rg, r);
  const g = root(gg - g1 * g1);
  const b1 = over(rb, r);
  const b2 = over(gb - b1 * g1, g);
  return [r, g1, g, b1, b2, root(bb - b1 * b1 - b2 * b2)];
}

const columnsOf = ([r, g1, g, b1, b2, b]: Covariance, by: number): number[] =>
  [r, g1, b1, 0, 0, g, b2, 0, 0, 0, b, 0].map((v) => v * by);
