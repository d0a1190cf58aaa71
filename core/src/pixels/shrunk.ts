import { type Size, sizeWithin } from '../geometry/size';
import type { PixelFormat } from './format';

/** Samples of a pixel that are looked at for a smaller one, each way. */
const LOOKS = 6;

/** A small picture for people to recognise a large one by: 8 bits RGBA, opaque, means of coded values. */
export function shrunk(
  bytes: Uint8Array,
  { channels, bytes: depth }: PixelFormat,
  size: Size,
  longEdge: number,
): Size & { data: Uint8Array } {
  const { width, height } = sizeWithin(size, longEdge);
  const samples =
    depth === 1 ? bytes : new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.byteLength >> 1);
  const data = new Uint8Array(width * height * 4).fill(255);
  const places = (i: number, to: number, from: number): number[] => {
    const [start, span] = [(i * from) / to, from / to];
    const count = Math.max(1, Math.min(LOOKS, Math.floor(span)));
    return Array.from({ length: count }, (_, k) => Math.floor(start + ((k + 0.5) * span) / count));
  };
  const columns = Array.from({ length: width }, (_, x) => places(x, width, size.width));
  for (let y = 0; y < height; y++) {
    const rows = places(y, height, size.height);
    for (let x = 0; x < width; x++) {
      const sums = [0, 0, 0];
      for (const row of rows)
        for (const column of columns[x]!)
          for (let c = 0; c < 3; c++) sums[c]! += samples[(row * size.width + column) * channels + c]!;
      const whole = rows.length * columns[x]!.length * (depth === 1 ? 1 : 257);
      for (let c = 0; c < 3; c++) data[(y * width + x) * 4 + c] = Math.round(sums[c]! / whole);
    }
  }
  return { width, height, data };
}
