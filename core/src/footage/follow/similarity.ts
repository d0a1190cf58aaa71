/** A shift, turn and scale of the plane: (x, y) goes to (a x - b y + tx, b x + a y + ty). */
export interface Similarity {
  a: number;
  b: number;
  tx: number;
  ty: number;
}

export const IDENTITY: Similarity = { a: 1, b: 0, tx: 0, ty: 0 };

export type Point = readonly [number, number];

export function moved({ a, b, tx, ty }: Similarity, [x, y]: Point): [number, number] {
  return [a * x - b * y + tx, b * x + a * y + ty];
}

/** First `inner`, then `outer`. */
export function composed(outer: Similarity, inner: Similarity): Similarity {
  const [tx, ty] = moved(outer, [inner.tx, inner.ty]);
  return { a: outer.a * inner.a - outer.b * inner.b, b: outer.b * inner.a + outer.a * inner.b, tx, ty };
}

export function inverted({ a, b, tx, ty }: Similarity): Similarity {
  const norm = a * a + b * b;
  const [ia, ib] = [a / norm, -b / norm];
  return { a: ia, b: ib, tx: -(ia * tx - ib * ty), ty: -(ib * tx + ia * ty) };
}

export const scaleOf = ({ a, b }: Similarity): number => Math.hypot(a, b);
/** In degrees, clockwise as seen where y runs down. */
export const turnOf = ({ a, b }: Similarity): number => (Math.atan2(b, a) * 180) / Math.PI;

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

/** Pairs that a similarity brings within so many pixels agree with it. */
const AGREES_PX = 1.5;
const TRIES = 120;
const REFINEMENTS = 5;

/**
 * The similarity that most pairs agree with: the best of many drawn from two pairs each (M. Fischler, R. Bolles, "Random
 * sample consensus", 1981), then least squares with Tukey's weights. The draws are the same for the same number of pairs.
 */
export function robustSimilarity(
  from: readonly Point[],
  to: readonly Point[],
): { fit: Similarity; agreeing: boolean[] } | null {
  const count = from.length;
  if (count < 2) return null;
  let state = 12_345;
  const draw = (): number => {
    state = (Math.imul(state, 1_103_515_245) + 12_345) & 0x7fffffff;
    return (state >> 8) % count;
  };
  const errors = (fit: Similarity): number[] =>
    from.map((point, i) => {
      const [x, y] = moved(fit, point);
      return Math.hypot(x - to[i]![0], y - to[i]![1]);
    });
  let best: Similarity | null = null;
  let bestScore = 0;
  for (let i = 0; i < TRIES; i++) {
    const [p, q] = [draw(), draw()];
    if (p === q) continue;
    const fit = fitSimilarity([from[p]!, from[q]!], [to[p]!, to[q]!], [1, 1]);
    if (!fit) continue;
    const score = errors(fit).reduce((sum, e) => sum + Math.max(0, 1 - (e / AGREES_PX) ** 2), 0);
    if (score > bestScore) [best, bestScore] = [fit, score];
  }
  if (!best) return null;
  for (let i = 0; i < REFINEMENTS; i++) {
    const weights = errors(best).map((e) => (e < 2 * AGREES_PX ? (1 - (e / (2 * AGREES_PX)) ** 2) ** 2 : 0));
    const next = fitSimilarity(from, to, weights);
    if (!next) break;
    best = next;
  }
  return { fit: best, agreeing: errors(best).map((e) => e < AGREES_PX) };
}
