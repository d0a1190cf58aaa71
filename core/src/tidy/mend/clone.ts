import type { Size } from '../../geometry/size';
import { type MendWindow, type Samples, whiteOf } from './window';

/** The way to where a copy comes from, in whole pixels. */
export function cloneOffsetPx({ width, height }: Size, by: readonly [number, number]): [number, number] {
  return [Math.round(by[0] * width), Math.round(by[1] * height)];
}

/**
 * The picture as it lies at an offset from a window of it. Where that lies outside of the picture, nothing is copied:
 * there the window's cover is made 0.
 * @param by fractions of the picture's width and height. @returns colours, three a pixel.
 */
export function clonePixels(
  samples: Samples,
  window: MendWindow,
  by: readonly [number, number],
): Float32Array {
  const { x, y, width, height, colours, cover } = window;
  const white = whiteOf(samples);
  const [dx, dy] = cloneOffsetPx(samples, by);
  const made = Float32Array.from(colours);
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const at = j * width + i;
      if (cover[at] === 0) continue;
      const [fx, fy] = [x + i + dx, y + j + dy];
      if (fx < 0 || fy < 0 || fx >= samples.width || fy >= samples.height) {
        cover[at] = 0;
        continue;
      }
      const from = (fy * samples.width + fx) * samples.channels;
      for (let c = 0; c < 3; c++) made[at * 3 + c] = samples.data[from + c]! / white;
    }
  return made;
}
