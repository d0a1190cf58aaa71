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

/** Index of a sample of a picture mirrored at both edges: … c b a | a b c …. */
export function reflect(i: number, n: number): number {
  const period = 2 * n;
  const k = ((i % period) + period) % period;
  return k < n ? k : period - 1 - k;
}
