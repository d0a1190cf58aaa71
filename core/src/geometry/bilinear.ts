import type { Size } from './size';

/** A value between the pixels of a picture of so many planes; places inside it, counted from the middle of the first pixel. */
export function bilinear(
  values: Float32Array,
  { width, height }: Size,
  planes: number,
  c: number,
  x: number,
  y: number,
): number {
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [x1, y1] = [Math.min(width - 1, x0 + 1), Math.min(height - 1, y0 + 1)];
  const [tx, ty] = [x - x0, y - y0];
  const at = (i: number, j: number): number => values[(j * width + i) * planes + c]!;
  const top = at(x0, y0) + tx * (at(x1, y0) - at(x0, y0));
  const bottom = at(x0, y1) + tx * (at(x1, y1) - at(x0, y1));
  return top + ty * (bottom - top);
}
