import type { Size } from '../geometry/size';
import type { Heap } from '../memory';
import { type FrameFormat, type PlaneLayout, isYuv } from './format';

/** Rows of the source that are held while one of them is decoded: with 4:2:0 its chroma lies between two others. */
export const ROWS_HELD = 4;
/** The row among those held that is decoded: one whose farther chroma is the row below. */
export const DECODED_ROW = 1;

/**
 * Brings rows of a picture that lies elsewhere into scratch memory, ready to be decoded as row `DECODED_ROW`.
 * @param planes room for `ROWS_HELD` rows. @returns brings n pixels of row y from an even x on.
 */
export function rowReader(
  format: FrameFormat,
  { width, height }: Size,
  bytes: Uint8Array,
  planes: readonly PlaneLayout[],
  heap: Heap,
): (y: number, x: number, n: number) => void {
  const bring = (plane: PlaneLayout, row: number, start: number, count: number): void =>
    heap.bytes.set(bytes.subarray(start, start + count), plane.at + row * plane.rowBytes);
  if (!isYuv(format)) {
    const pixelBytes = format.channels * format.bytes;
    return (y, x, n) => bring(planes[0]!, DECODED_ROW, (y * width + x) * pixelBytes, n * pixelBytes);
  }
  const [halfWidth, halfHeight] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  return (y, x, n) => {
    bring(planes[0]!, DECODED_ROW, y * width + x, n);
    const near = y >> 1;
    const far = Math.min(halfHeight - 1, Math.max(0, near + (y % 2 === 0 ? -1 : 1)));
    const count = Math.min(halfWidth - x / 2, Math.ceil(n / 2) + 1);
    for (const [i, plane] of [planes[1]!, planes[2]!].entries())
      for (const [row, from] of [near, far].entries())
        bring(plane, row, width * height + (i * halfHeight + from) * halfWidth + x / 2, count);
  };
}
