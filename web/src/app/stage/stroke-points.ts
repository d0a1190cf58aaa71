import type { Size, Stroke } from '@hazy-lens/core';
import { strokePlace } from '../model/carried';
import type { StageView } from '../workspace/stage-view';
import type { Spot } from './handles/handles';

export type StrokePoint = Stroke['points'][number];

/** Most points that a stroke of a recipe may have. */
const MOST = 20000;

/** A place of a stroke as a point of the recipe, kept within what it may hold; `pressure` 0..1. */
export function strokePoint({ x, y }: Spot, size: Size, pressure: number): StrokePoint {
  const point = strokePlace([x / size.width, y / size.height]);
  return pressure === 1 ? point : [...point, Math.min(1, Math.max(0, pressure))];
}

/** A line through points of a recipe, on the stage; a dot where there is only one. */
export function stagePath(points: readonly StrokePoint[], size: Size, view: StageView): Path2D {
  const line = new Path2D();
  points.forEach(([x, y], i) => {
    const at = view.toStage(x * size.width, y * size.height);
    if (i === 0) line.moveTo(at.x, at.y);
    line.lineTo(at.x, at.y);
  });
  return line;
}

/** How far, in pressure, a point may be off: a twentieth cannot be seen. */
const PRESSURE_TOLERANCE = 0.05;

/**
 * A line without the points that lie on the way between others (Douglas and Peucker, 1973), to within a tolerance in
 * pixels of the picture and a little pressure.
 */
export function simplified(points: readonly StrokePoint[], size: Size, tolerancePx: number): StrokePoint[] {
  const keep = new Uint8Array(points.length);
  keep[0] = keep[points.length - 1] = 1;
  const spans: [number, number][] = [[0, points.length - 1]];
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
  return points.filter((_, i) => keep[i]).slice(0, MOST);
}
