import type { Size } from '../geometry/size';
import type { PixelFormat } from '../pixels/format';
import { type SharedImage, renderScaled } from './crop-pixels';
import type { Threads } from './renderer';

/** Longest edge from which on a picture is not halved again. */
const SMALLEST = 1400;

/**
 * A picture halved again and again, from the second size on: any smaller size is made from the nearest, so that the same
 * size is the same everywhere.
 * @param to how their pixels lie. @param take memory of so many bytes.
 */
export async function halvingsOf(
  threads: Threads,
  full: SharedImage,
  to: PixelFormat,
  take: (bytes: number) => SharedArrayBuffer = (bytes) => new SharedArrayBuffer(bytes),
): Promise<SharedImage[]> {
  const levels: SharedImage[] = [];
  for (let last = full; Math.max(last.width, last.height) > SMALLEST;) {
    const size = { width: Math.ceil(last.width / 2), height: Math.ceil(last.height / 2) };
    const pixels = take(size.width * size.height * to.channels * to.bytes);
    const whole = { x: 0, y: 0, ...size, picture: size };
    await renderScaled(threads, last, whole, to, new Uint8Array(pixels));
    last = { ...size, pixels, format: full.format };
    levels.push(last);
  }
  return levels;
}

/** The smallest of a picture's levels that has all the detail of a size. @param levels the largest first. */
export function levelFor<L extends Size>(levels: readonly L[], { width, height }: Size): L {
  return levels.findLast((level) => level.width >= width && level.height >= height) ?? levels[0]!;
}
