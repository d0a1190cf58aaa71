import type { Size } from '../geometry/size';

/** A place as fractions of the picture's width and height, and the pen's pressure 0..1 where it is not 1. */
export type StrokePoint = [number, number] | [number, number, number];

/** Most points of one stroke or scribble. */
export const MAX_POINTS = 20_000;
/** Most points of all strokes and scribbles of a recipe together: a day of drawing has fewer. */
export const MAX_POINTS_TOGETHER = 50_000;

/** How far, in pressure, a point may be off: a twentieth cannot be seen. */
const PRESSURE_TOLERANCE = 0.05;
/** How far, in fractions of the picture's sides, points of a recipe that has too many may be off. */
const PLACE_TOLERANCE = 1e-4;
/** A line is taken in pieces of so many points, so that none takes longer than its length. */
const PIECE = 256;

/**
 * A line without the points that lie on the way between others (Douglas and Peucker, 1973), to within a tolerance in
 * pixels of the picture and a little pressure.
 */
export function simplified(points: readonly StrokePoint[], size: Size, tolerancePx: number): StrokePoint[] {
  const keep = new Uint8Array(points.length);
  const spans: [number, number][] = [];
  for (let from = 0; from < points.length; from += PIECE) {
    const to = Math.min(from + PIECE, points.length - 1);
    keep[from] = keep[to] = 1;
    spans.push([from, to]);
  }
  for (let span = spans.pop(); span; span = spans.pop()) {
    const [from, to] = span;
    const [a, b] = [points[from]!, points[to]!];
    const [ax, ay] = [a[0] * size.width, a[1] * size.height];
    const [dx, dy] = [b[0] * size.width - ax, b[1] * size.height - ay];
    const square = dx * dx + dy * dy;
    let [worst, most] = [-1, 1];
    for (let i = from + 1; i < to; i++) {
      const [px, py] = [points[i]![0] * size.width - ax, points[i]![1] * size.height - ay];
      const t = square === 0 ? 0 : Math.min(1, Math.max(0, (px * dx + py * dy) / square));
      const off = Math.hypot(px - t * dx, py - t * dy) / tolerancePx;
      const press = Math.abs((points[i]![2] ?? 1) - ((a[2] ?? 1) * (1 - t) + (b[2] ?? 1) * t));
      const error = Math.max(off, press / PRESSURE_TOLERANCE);
      if (error > most) [worst, most] = [i, error];
    }
    if (worst < 0) continue;
    keep[worst] = 1;
    spans.push([from, worst], [worst, to]);
  }
  return points.filter((_, i) => keep[i]).slice(0, MAX_POINTS);
}

/** What has points, in a recipe that may not be one. */
interface Lines {
  strokes?: unknown;
  mattes?: unknown;
}

/** Number of points in strokes and scribbles. */
export function pointsTogether({ strokes, mattes }: Lines): number {
  const scribbles = listOf(mattes).flatMap((matte) => listOf(fieldOf(matte, 'scribbles')));
  return [...listOf(strokes), ...scribbles].reduce<number>(
    (sum, line) => sum + listOf(fieldOf(line, 'points')).length,
    0,
  );
}

/**
 * What is to be a recipe, its strokes and scribbles without points that cannot be told apart where it has more than it
 * may; what is no recipe at all stays as it is.
 */
export function thinned(value: unknown): unknown {
  const focus = fieldOf(value, 'focus') as Lines | undefined;
  if (typeof focus !== 'object' || focus === null || pointsTogether(focus) <= MAX_POINTS_TOGETHER)
    return value;
  const strokes = withThinLines(focus.strokes);
  const mattes = Array.isArray(focus.mattes)
    ? focus.mattes.map((matte: unknown) =>
        Array.isArray(fieldOf(matte, 'scribbles'))
          ? { ...(matte as object), scribbles: withThinLines(fieldOf(matte, 'scribbles')) }
          : matte,
      )
    : focus.mattes;
  return {
    ...(value as object),
    focus: { ...focus, ...(strokes !== undefined && { strokes }), ...(mattes !== undefined && { mattes }) },
  };
}

const withThinLines = (lines: unknown): unknown =>
  Array.isArray(lines)
    ? lines.map((line: unknown) => {
        const points = fieldOf(line, 'points');
        return Array.isArray(points) && points.every(isPoint)
          ? { ...(line as object), points: simplified(points, { width: 1, height: 1 }, PLACE_TOLERANCE) }
          : line;
      })
    : lines;

const isPoint = (point: unknown): point is StrokePoint =>
  Array.isArray(point) &&
  (point.length === 2 || point.length === 3) &&
  point.every((value) => typeof value === 'number');

const listOf = (value: unknown): readonly unknown[] => (Array.isArray(value) ? (value as unknown[]) : []);

const fieldOf = (value: unknown, name: string): unknown =>
  typeof value === 'object' && value !== null ? (value as Record<string, unknown>)[name] : undefined;
