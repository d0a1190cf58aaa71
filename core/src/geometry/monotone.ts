/**
 * A smooth curve through points that never goes beyond two neighbours (F. N. Fritsch, R. E. Carlson, "Monotone piecewise
 * cubic interpolation", 1980); level before the first and after the last.
 * @param points [x, y], x upwards.
 */
export function monotoneCubic(points: readonly (readonly [number, number])[]): (x: number) => number {
  const slopes = monotoneSlopes(points);
  return (x) => {
    const i = segmentIndex(points, x);
    if (i < 0) return points[0]![1];
    if (i >= points.length - 1) return points[points.length - 1]![1];
    return hermite(points[i]!, points[i + 1]!, slopes[i]!, slopes[i + 1]!, x);
  };
}

/** The piece that x lies in: -1 before the first point, the last point's place behind it. */
export function segmentIndex(points: readonly (readonly [number, unknown])[], x: number): number {
  let [low, high] = [-1, points.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (points[middle]![0] <= x) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** The slopes of the curve at its points. */
export function monotoneSlopes(points: readonly (readonly [number, number])[]): number[] {
  const rises = points.slice(1).map(([x, y], i) => (y - points[i]![1]) / (x - points[i]![0]));
  return points.map((_, i) => {
    const [before, after] = [rises[i - 1], rises[i]];
    if (before === undefined || after === undefined) return before ?? after ?? 0;
    if (before * after <= 0) return 0;
    const [h0, h1] = [points[i]![0] - points[i - 1]![0], points[i + 1]![0] - points[i]![0]];
    const [w0, w1] = [2 * h1 + h0, h1 + 2 * h0];
    return (w0 + w1) / (w0 / before + w1 / after);
  });
}

/** Between two points by the slopes at both. */
export function hermite(
  [x0, y0]: readonly [number, number],
  [x1, y1]: readonly [number, number],
  slope0: number,
  slope1: number,
  x: number,
): number {
  const h = x1 - x0;
  const t = (x - x0) / h;
  const u = 1 - t;
  return (
    y0 * (1 + 2 * t) * u * u + slope0 * h * t * u * u + y1 * t * t * (3 - 2 * t) - slope1 * h * t * t * u
  );
}
