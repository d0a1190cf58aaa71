import type { Size } from '../geometry/size';
import { type FrameFormat, isYuv } from '../pixels/format';

/** The luma of a frame, 8 bits a pixel: its own plane where it has one, else by the weights of ITU-R BT.709. */
export function frameLuma(
  pixels: SharedArrayBuffer,
  format: FrameFormat,
  { width, height }: Size,
): Uint8Array {
  const bytes = new Uint8Array(pixels);
  if (isYuv(format)) return bytes.subarray(0, width * height);
  const luma = new Uint8Array(width * height);
  const { channels, bytes: size } = format;
  const [step, high] = [channels * size, size - 1];
  // Of 16 bits the high byte is enough here; it lies behind the low one.
  for (let i = 0, at = high; i < luma.length; i++, at += step)
    luma[i] = (54 * bytes[at]! + 183 * bytes[at + size]! + 19 * bytes[at + 2 * size]!) >> 8;
  return luma;
}
