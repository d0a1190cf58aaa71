import type { Size } from '../geometry/size';
import type { Arena, Heap, KernelContext, Run } from '../memory';

/** How pixels lie in memory: interleaved sRGB, `channels` samples of `bytes` bytes each, rows without gaps. */
export interface PixelFormat {
  channels: 3 | 4;
  bytes: 1 | 2;
}

/** How planes of luma and halved chroma (4:2:0) code colour, as frames of clips come and go. */
export interface YuvFormat {
  /** ITU-R BT.601, BT.709 or BT.2020; the transfer curve is taken for that of sRGB, as displays do. */
  matrix: 'bt601' | 'bt709' | 'bt2020';
  /** Limited: 16..235 for luma, 16..240 for chroma. */
  range: 'limited' | 'full';
  /** Bits of a level where they are not 8; each takes two bytes then, the lower first. Such frames are only written. */
  bits?: 10;
}

/** Whatever pixels a render takes or gives. */
export type FrameFormat = PixelFormat | YuvFormat;

/** One plane of a picture in memory. */
export interface PlaneLayout {
  at: number;
  /** Bytes from one row to the next. */
  rowBytes: number;
  rows: number;
}

/** Gives light of a picture to who asks for a run of it. */
export interface PixelReader {
  /** `run.n` pixels from (`run.x`, `run.y`) of the picture on, as linear light; `run.x` is even. */
  decode(use: KernelContext, tables: number, from: readonly PlaneLayout[], run: Run): void;
}

/** Reads pixels of one format. */
export interface PixelSource extends PixelReader {
  /** Room for a picture; its planes lie one behind the other without gaps. */
  layout(size: Size, arena: Arena): PlaneLayout[];
  /** Room for what all workers read while decoding, to be filled once by `fillTables`. */
  tables(arena: Arena): number;
  fillTables(at: number, heap: Heap): void;
}

/** Reads and writes pixels of one format: the only code that knows how they lie, and the only that clamps. */
export interface PixelCodec extends PixelSource {
  /** Rows that are encoded together, each pair of rows from an even one on. */
  readonly rowsTogether: 1 | 2;
  /**
   * Runs of `rowsTogether` rows (fewer at the end of a picture) back to pixels; what was in the runs is lost. (px, py) is
   * the place of the first in the whole picture: the dither stays with that. With `keep`, a pixel whose haze is 0 takes
   * the bytes of that source as they are.
   */
  encode(
    use: KernelContext,
    tables: number,
    runs: readonly Run[],
    to: readonly PlaneLayout[],
    px: number,
    py: number,
    keep: Passthrough | null,
  ): void;
  /** Copies a run of `rowsTogether` rows byte for byte. */
  copy(heap: Heap, run: Run, from: readonly PlaneLayout[], to: readonly PlaneLayout[]): void;
}

/** Where the pixels lie that are to stay as they are, and the addresses of the runs' haze. */
export interface Passthrough {
  haze: readonly number[];
  from: readonly PlaneLayout[];
}

/** Tells a kernel of pixels that are to stay. @param source address of the first run's pixels. @param row of the first run. */
export function keptPixels(use: KernelContext, { haze }: Passthrough, source: number, row = 0): number {
  return use.parameters('KeptPixels', { haze: haze[row]!, below: haze[row + 1] ?? haze[row]!, source });
}

export function isYuv(format: FrameFormat): format is YuvFormat {
  return 'matrix' in format;
}

export function sameFormat(a: FrameFormat, b: FrameFormat): boolean {
  if (isYuv(a) || isYuv(b))
    return isYuv(a) && isYuv(b) && a.matrix === b.matrix && a.range === b.range && a.bits === b.bits;
  return a.channels === b.channels && a.bytes === b.bytes;
}

/** Bytes of a level. */
export const levelBytes = ({ bits }: YuvFormat): 1 | 2 => (bits ? 2 : 1);

/** The highest level. */
export const topLevel = ({ bits }: YuvFormat): number => (bits ? 1023 : 255);

/** Bytes of a whole picture. */
export function frameBytes(format: FrameFormat, { width, height }: Size): number {
  if (!isYuv(format)) return width * height * format.channels * format.bytes;
  return levelBytes(format) * (width * height + 2 * Math.ceil(width / 2) * Math.ceil(height / 2));
}

/** Bytes that the planes take together. */
export function planeBytes(planes: readonly PlaneLayout[]): number {
  return planes.reduce((sum, { rowBytes, rows }) => sum + rowBytes * rows, 0);
}
