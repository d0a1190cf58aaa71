import { type Similarity, transformPoint } from '../../geometry/similarity';
import { type Point, fitSimilarity, ransacSimilarity } from './fit-similarity';

/** A plane seen by a camera that turned or moved (a homography): row by row, the last is 1. */
export type Homography = readonly number[];

/** Pairs that a turn of the view brings within so many pixels agree with it. */
const AGREES_PX = 1.5;
const ROUNDS = 6;
/** With fewer pairs a similarity says all that can be said. */
const MIN_PAIRS = 12;
/** Pixels that count as one while equations are solved, so that their terms are of one size. */
const UNIT = 200;

export function projectPoint(h: Homography, [x, y]: Point): [number, number] {
  const w = h[6]! * x + h[7]! * y + h[8]!;
  return [(h[0]! * x + h[1]! * y + h[2]!) / w, (h[3]! * x + h[4]! * y + h[5]!) / w];
}

const asTurn = ({ a, b, tx, ty }: Similarity): number[] => [a, -b, tx, b, a, ty, 0, 0, 1];

/**
 * The turn of the view that most pairs agree with, as it is around a place: first a similarity, then least squares with
 * Tukey's weights, for a homography (R. Hartley, A. Zisserman, "Multiple View Geometry", 4.1) where there are enough.
 * @param weightOf how much each pair counts when it is found which of them agree.
 * @returns the similarity that is nearest to it at `at`, and which pairs agree; null where too few do.
 */
export function robustMotion(
  from: readonly Point[],
  to: readonly Point[],
  at: Point,
  weightOf: readonly number[] = from.map(() => 1),
): { fit: Similarity; agreeing: boolean[] } | null {
  const likely = ransacSimilarity(from, to, weightOf);
  if (!likely) return null;
  let turn: Homography = asTurn(likely);
  const errors = (): number[] =>
    from.map((point, i) => {
      const [x, y] = projectPoint(turn, point);
      return Math.hypot(x - to[i]![0], y - to[i]![1]);
    });
  for (let round = 0; round < ROUNDS; round++) {
    // The first rounds let in what a similarity leaves far out.
    const reach = 2 * AGREES_PX * Math.max(1, 2 - round / 2);
    const weights = errors().map((e, i) => (e < reach && weightOf[i]! > 0 ? (1 - (e / reach) ** 2) ** 2 : 0));
    const used = weights.filter((w) => w > 0.05).length;
    const similar = used < MIN_PAIRS ? fitSimilarity(from, to, weights) : null;
    const next = similar ? asTurn(similar) : used < MIN_PAIRS ? null : fitHomography(from, to, weights, at);
    if (!next) break;
    turn = next;
  }
  return { fit: similarityAt(turn, at), agreeing: errors().map((e) => e < AGREES_PX) };
}

/** The similarity that does to a place and its surroundings what a turn of the view does. */
function similarityAt(h: Homography, at: Point): Similarity {
  const [x, y] = projectPoint(h, at);
  const [rx, ry] = projectPoint(h, [at[0] + 1, at[1]]);
  const [dx, dy] = projectPoint(h, [at[0], at[1] + 1]);
  const a = (rx - x + (dy - y)) / 2;
  const b = (ry - y - (dx - x)) / 2;
  const linear = transformPoint({ a, b, tx: 0, ty: 0 }, at);
  return { a, b, tx: x - linear[0], ty: y - linear[1] };
}

/** Weighted least squares for eight numbers, around a place. */
function fitHomography(
  from: readonly Point[],
  to: readonly Point[],
  weights: readonly number[],
  at: Point,
): Homography | null {
  const size = 8;
  const matrix = Array.from({ length: size }, () => new Float64Array(size + 1));
  const add = (row: readonly number[], value: number, weight: number): void => {
    for (let i = 0; i < size; i++) {
      for (let j = 0; j < size; j++) matrix[i]![j]! += weight * row[i]! * row[j]!;
      matrix[i]![size]! += weight * row[i]! * value;
    }
  };
  for (const [i, weight] of weights.entries()) {
    if (weight <= 0) continue;
    const [x, y] = [(from[i]![0] - at[0]) / UNIT, (from[i]![1] - at[1]) / UNIT];
    const [u, v] = [(to[i]![0] - at[0]) / UNIT, (to[i]![1] - at[1]) / UNIT];
    add([x, y, 1, 0, 0, 0, -u * x, -u * y], u, weight);
    add([0, 0, 0, x, y, 1, -v * x, -v * y], v, weight);
  }
  const h = solveLinear(matrix);
  if (!h) return null;
  // Back from the place, and from units to pixels.
  const [hx, hy] = [h[6]! / UNIT, h[7]! / UNIT];
  const w = 1 - hx * at[0] - hy * at[1];
  const row = (p: number, q: number, r: number, offset: number): number[] => {
    const [a, b] = [p + offset * hx, q + offset * hy];
    return [a, b, r * UNIT + offset - p * at[0] - q * at[1] - offset * (hx * at[0] + hy * at[1])];
  };
  return [...row(h[0]!, h[1]!, h[2]!, at[0]), ...row(h[3]!, h[4]!, h[5]!, at[1]), hx, hy, w];
}

/** Solves equations by elimination with pivots; the right sides are the last column. Null where they have no one answer. */
function solveLinear(matrix: Float64Array[]): Float64Array | null {
  const size = matrix.length;
  for (let i = 0; i < size; i++) {
    let pivot = i;
    for (let k = i + 1; k < size; k++) if (Math.abs(matrix[k]![i]!) > Math.abs(matrix[pivot]![i]!)) pivot = k;
    if (Math.abs(matrix[pivot]![i]!) < 1e-9) return null;
    [matrix[i], matrix[pivot]] = [matrix[pivot]!, matrix[i]!];
    for (let k = 0; k < size; k++) {
      if (k === i) continue;
      const factor = matrix[k]![i]! / matrix[i]![i]!;
      for (let j = i; j <= size; j++) matrix[k]![j]! -= factor * matrix[i]![j]!;
    }
  }
  return Float64Array.from({ length: size }, (_, i) => matrix[i]![size]! / matrix[i]![i]!);
}
