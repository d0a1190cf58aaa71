/** A shift, turn and scale of the plane: (x, y) goes to (a x - b y + tx, b x + a y + ty). */
export interface Similarity {
  a: number;
  b: number;
  tx: number;
  ty: number;
}

export const IDENTITY: Similarity = { a: 1, b: 0, tx: 0, ty: 0 };

export function transformPoint(
  { a, b, tx, ty }: Similarity,
  [x, y]: readonly [number, number],
): [number, number] {
  return [a * x - b * y + tx, b * x + a * y + ty];
}

/** First `inner`, then `outer`. */
export function compose(outer: Similarity, inner: Similarity): Similarity {
  const [tx, ty] = transformPoint(outer, [inner.tx, inner.ty]);
  return { a: outer.a * inner.a - outer.b * inner.b, b: outer.b * inner.a + outer.a * inner.b, tx, ty };
}

export function invert({ a, b, tx, ty }: Similarity): Similarity {
  const norm = a * a + b * b;
  const [ia, ib] = [a / norm, -b / norm];
  return { a: ia, b: ib, tx: -(ia * tx - ib * ty), ty: -(ib * tx + ia * ty) };
}

export const scaleOf = ({ a, b }: Similarity): number => Math.hypot(a, b);
/** In degrees, clockwise as seen where y runs down. */
export const rotationDeg = ({ a, b }: Similarity): number => (Math.atan2(b, a) * 180) / Math.PI;
