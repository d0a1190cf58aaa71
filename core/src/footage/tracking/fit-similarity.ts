import { type Similarity, transformPoint } from '../../geometry/similarity';

export type Point = readonly [number, number];

/** The least-squares similarity of weighted pairs (S. Umeyama, 1991, in the plane); null where they say nothing of scale. */
export function fitSimilarity(
  from: readonly Point[],
  to: readonly Point[],
  weights: ArrayLike<number>,
): Similarity | null {
  let [sum, mx, my, nx, ny] = [0, 0, 0, 0, 0];
  for (let i = 0; i < from.length; i++) {
    const w = weights[i]!;
    sum += w;
    mx += w * from[i]![0];
    my += w * from[i]![1];
    nx += w * to[i]![0];
    ny += w * to[i]![1];
  }
  if (!(sum > 0)) return null;
  [mx, my, nx, ny] = [mx / sum, my / sum, nx / sum, ny / sum];
  let [dot, cross, norm] = [0, 0, 0];
  for (let i = 0; i < from.length; i++) {
    const w = weights[i]!;
    const [x, y] = [from[i]![0] - mx, from[i]![1] - my];
    const [u, v] = [to[i]![0] - nx, to[i]![1] - ny];
    dot += w * (x * u + y * v);
    cross += w * (x * v - y * u);
    norm += w * (x * x + y * y);
  }
  if (!(norm > sum * 1e-3)) return null;
  const [a, b] = [dot / norm, cross / norm];
  return { a, b, tx: nx - (a * mx - b * my), ty: ny - (b * mx + a * my) };
}

/** Pairs that a similarity brings within so many pixels may agree with it: a view that turns bends what lies far out. */
const NEAR_PX = 4;
const TRIES = 120;

/**
 * The similarity that most pairs agree with: the best of many drawn from two pairs each (M. Fischler, R. Bolles, "Random
 * sample consensus", 1981). The draws are the same for the same number of pairs.
 */
export function ransacSimilarity(
  from: readonly Point[],
  to: readonly Point[],
  weights: readonly number[],
): Similarity | null {
  const count = from.length;
  if (count < 2) return null;
  let state = 12_345;
  const draw = (): number => {
    state = (Math.imul(state, 1_103_515_245) + 12_345) & 0x7fffffff;
    return (state >> 8) % count;
  };
  let best: Similarity | null = null;
  let bestScore = 0;
  for (let i = 0; i < TRIES; i++) {
    const [p, q] = [draw(), draw()];
    if (p === q) continue;
    const fit = fitSimilarity([from[p]!, from[q]!], [to[p]!, to[q]!], [1, 1]);
    if (!fit) continue;
    let score = 0;
    for (let k = 0; k < count; k++) {
      const [x, y] = transformPoint(fit, from[k]!);
      const error = ((x - to[k]![0]) ** 2 + (y - to[k]![1]) ** 2) / NEAR_PX ** 2;
      if (error < 1) score += weights[k]! * (1 - error);
    }
    if (score > bestScore) [best, bestScore] = [fit, score];
  }
  return best;
}
