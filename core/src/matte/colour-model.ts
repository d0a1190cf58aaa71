/** Colours as three floats a pixel, in a space where distance means difference (Oklab). */
export type Colours = Float32Array;

/** A cluster in numbers: its mean, the inverse of its covariance (xx, xy, xz, yy, yz, zz), log of weight / norm. */
type Cluster = number[];
const ROW = 10;

const ROUNDS = 6;
/** Added to each variance: no cluster is narrower than what the eye can part. */
const MIN_VARIANCE = 2e-4;

/**
 * A mixture of Gaussians over colours, as in GrabCut (Rother, Kolmogorov, Blake, "GrabCut", ACM SIGGRAPH 2004): clusters
 * by k-means from the farthest points, so that the same pixels always give the same model.
 */
export class ColourModel {
  private readonly table: Float64Array;

  /** @param pixels indices of the pixels to learn from, at least one. */
  constructor(colours: Colours, pixels: readonly number[] | Int32Array, count: number) {
    const centres = farthest(colours, pixels, count);
    const owner = new Uint8Array(pixels.length);
    for (let round = 0; round < ROUNDS; round++) {
      for (let i = 0; i < pixels.length; i++) owner[i] = nearest(colours, pixels[i]!, centres);
      centres.forEach((centre, k) => {
        const sum = [0, 0, 0, 0];
        for (let i = 0; i < pixels.length; i++) {
          if (owner[i] !== k) continue;
          for (let c = 0; c < 3; c++) sum[c]! += colours[pixels[i]! * 3 + c]!;
          sum[3]!++;
        }
        if (sum[3]! > 0) for (let c = 0; c < 3; c++) centre[c] = sum[c]! / sum[3]!;
      });
    }
    this.table = Float64Array.from(centres.flatMap((_, k) => cluster(colours, pixels, owner, k)));
  }

  /** −log of the likelihood of pixel i's colour. */
  cost(colours: Colours, i: number): number {
    const { table } = this;
    let likelihood = 0;
    for (let at = 0; at < table.length; at += ROW) {
      const x = colours[i * 3]! - table[at]!;
      const y = colours[i * 3 + 1]! - table[at + 1]!;
      const z = colours[i * 3 + 2]! - table[at + 2]!;
      const square =
        table[at + 3]! * x * x +
        table[at + 6]! * y * y +
        table[at + 8]! * z * z +
        2 * (table[at + 4]! * x * y + table[at + 5]! * x * z + table[at + 7]! * y * z);
      // Beyond some standard deviations nothing is added that could be seen.
      if (square < 60) likelihood += Math.exp(table[at + 9]! - square / 2);
    }
    return -Math.log(likelihood + 1e-9);
  }
}

function farthest(colours: Colours, pixels: ArrayLike<number>, count: number): [number, number, number][] {
  const colour = (i: number): [number, number, number] => [
    colours[i * 3]!,
    colours[i * 3 + 1]!,
    colours[i * 3 + 2]!,
  ];
  const centres = [colour(pixels[0]!)];
  const gap = new Float32Array(pixels.length).fill(Infinity);
  while (centres.length < count) {
    const last = centres.at(-1)!;
    let [best, most] = [0, -1];
    for (let i = 0; i < pixels.length; i++) {
      gap[i] = Math.min(gap[i]!, square(colours, pixels[i]!, last));
      if (gap[i]! > most) [best, most] = [i, gap[i]!];
    }
    if (most <= 0) break;
    centres.push(colour(pixels[best]!));
  }
  return centres;
}

function square(colours: Colours, i: number, [x, y, z]: readonly [number, number, number]): number {
  return (colours[i * 3]! - x) ** 2 + (colours[i * 3 + 1]! - y) ** 2 + (colours[i * 3 + 2]! - z) ** 2;
}

function nearest(colours: Colours, i: number, centres: readonly [number, number, number][]): number {
  let [best, least] = [0, Infinity];
  for (let k = 0; k < centres.length; k++) {
    const gap = square(colours, i, centres[k]!);
    if (gap < least) {
      best = k;
      least = gap;
    }
  }
  return best;
}

/** The k-th cluster of the pixels; nothing where no pixel is its own. */
function cluster(colours: Colours, pixels: ArrayLike<number>, owner: Uint8Array, k: number): Cluster {
  let n = 0;
  const sum = [0, 0, 0];
  const products = [0, 0, 0, 0, 0, 0];
  for (let i = 0; i < pixels.length; i++) {
    if (owner[i] !== k) continue;
    const at = pixels[i]! * 3;
    const c = [colours[at]!, colours[at + 1]!, colours[at + 2]!] as const;
    n++;
    let term = 0;
    for (let a = 0; a < 3; a++) {
      sum[a]! += c[a]!;
      for (let b = a; b < 3; b++) products[term++]! += c[a]! * c[b]!;
    }
  }
  if (n === 0) return [];
  const mean = sum.map((v) => v / n);
  const spread = (term: number, a: number, b: number): number =>
    products[term]! / n - mean[a]! * mean[b]! + (a === b ? MIN_VARIANCE : 0);
  const [xx, xy, xz] = [spread(0, 0, 0), spread(1, 0, 1), spread(2, 0, 2)];
  const [yy, yz, zz] = [spread(3, 1, 1), spread(4, 1, 2), spread(5, 2, 2)];
  const [a, b, c] = [yy * zz - yz * yz, xz * yz - xy * zz, xy * yz - xz * yy];
  const determinant = Math.max(1e-18, xx * a + xy * b + xz * c);
  const inverse = [a, b, c, xx * zz - xz * xz, xy * xz - xx * yz, xx * yy - xy * xy];
  const logWeight = Math.log(n / pixels.length) - Math.log(determinant) / 2;
  return [...mean, ...inverse.map((v) => v / determinant), logWeight];
}
