import type { Size, StrokePoint } from '@hazy-lens/core';
import { strokePlace } from '../model/carry';
import type { Viewport } from '../workspace/viewport';
import type { Spot } from './handles/handles';

/** A place of a stroke as a point of the recipe, kept within what it may hold; `pressure` 0..1. */
export function strokePoint({ x, y }: Spot, size: Size, pressure: number): StrokePoint {
  const point = strokePlace([x / size.width, y / size.height]);
  return pressure === 1 ? point : [...point, Math.min(1, Math.max(0, pressure))];
}

/** A line through points of a recipe, on the stage; a dot where there is only one. */
export function stagePath(points: readonly StrokePoint[], size: Size, view: Viewport): Path2D {
  const line = new Path2D();
  points.forEach(([x, y], i) => {
    const at = view.toStage(x * size.width, y * size.height);
    if (i === 0) line.moveTo(at.x, at.y);
    line.lineTo(at.x, at.y);
  });
  return line;
}
