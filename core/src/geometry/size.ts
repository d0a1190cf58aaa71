/** Width and height of the whole picture in pixels. */
export interface Size {
  width: number;
  height: number;
}

/** Part of a picture that is computed: its size and place, and the size of the whole. */
export interface Region extends Size {
  x: number;
  y: number;
  picture: Size;
}

/** A haze field, or a part of one: haze 0..1 at a point in pixels (pixel (i, j) has its centre at (i + ½, j + ½)). */
export type FieldFunction = (x: number, y: number) => number;

/** Length of the picture's diagonal in pixels: the unit of every length in a recipe. */
export function diagonal(size: Size): number {
  return Math.hypot(size.width, size.height);
}

/** A size times a scale, in whole pixels, one at least. */
export function scaledSize({ width, height }: Size, scale: number): Size {
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
}

/** A size whose longer side is so many pixels, or the size itself where that is smaller. */
export function sizeWithin(size: Size, longEdge: number): Size {
  return scaledSize(size, Math.min(1, longEdge / Math.max(size.width, size.height)));
}

/** A turned frame of axes in pixels: u along the band's own x axis, v at right angles, clockwise from it. */
export interface Frame {
  x: number;
  y: number;
  ux: number;
  uy: number;
  vx: number;
  vy: number;
}

/** The frame with its origin at a point of the recipe, turned clockwise by an angle in degrees. */
export function turnedFrame(
  centre: readonly [number, number] | readonly number[],
  angleDeg: number,
  size: Size,
): Frame {
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

/** Index of a sample of a picture mirrored at both edges: … c b a | a b c …. */
export function reflect(i: number, n: number): number {
  const period = 2 * n;
  const k = ((i % period) + period) % period;
  return k < n ? k : period - 1 - k;
}
