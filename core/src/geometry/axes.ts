import type { Size } from './size';

/** A turned frame of axes in pixels: u along the band's own x axis, v at right angles, clockwise from it. */
export interface Axes {
  x: number;
  y: number;
  ux: number;
  uy: number;
  vx: number;
  vy: number;
}

/** The frame with its origin at a point of the recipe, turned clockwise by an angle in degrees. */
export function rotatedAxes(
  centre: readonly [number, number] | readonly number[],
  angleDeg: number,
  size: Size,
): Axes {
  const a = (angleDeg * Math.PI) / 180;
  const [cos, sin] = [Math.cos(a), Math.sin(a)];
  return {
    x: centre[0]! * size.width,
    y: centre[1]! * size.height,
    ux: cos,
    uy: sin,
    vx: -sin,
    vy: cos,
  };
}
