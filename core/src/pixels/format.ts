import type { Kernels } from '../kernels';
import type { Size } from '../focus/geometry';
import type { Arena, Heap, Run } from '../render/arena';
import { Interleaved } from './interleaved';

/** How pixels lie in memory: interleaved sRGB, `channels` samples of `bytes` bytes each, rows without gaps. */
export interface PixelFormat {
  channels: 3 | 4;
  bytes: 1 | 2;
}

/** One plane of a picture in memory. */
export interface Plane {
  at: number;
  /** Bytes from one row to the next. */
  row: number;
  rows: number;
}

/** Reads and writes pixels of one format: the only code that knows how they lie, and the only that clamps. */
export interface Pixels {
  readonly format: PixelFormat;
  /** Room for a picture. */
  layout(size: Size, arena: Arena): Plane[];
  /** Room for what all workers read while decoding, to be filled once by `fillTables`. */
  tables(arena: Arena): number;
  fillTables(at: number, heap: Heap): void;
  /** `run.n` pixels from (`run.x`, `run.y`) of the picture on, as linear light. */
  decode(kernels: Kernels, tables: number, from: readonly Plane[], run: Run): void;
  /**
   * A run back to pixels. (px, py) is its place in the whole picture: the dither stays with that. With `keep`, a pixel
   * whose haze is 0 takes the bytes of that source as they are.
   */
  encode(kernels: Kernels, run: Run, to: readonly Plane[], px: number, py: number, keep: Keep | null): void;
  /** Copies a run byte for byte. */
  copy(heap: Heap, run: Run, from: readonly Plane[], to: readonly Plane[]): void;
}

/** Where the pixels lie that are to stay as they are, and the address of the run's haze. */
export interface Keep {
  haze: number;
  from: readonly Plane[];
}

export function pixelsOf(format: PixelFormat): Pixels {
  return new Interleaved(format);
}

export function sameFormat(a: PixelFormat, b: PixelFormat): boolean {
  return a.channels === b.channels && a.bytes === b.bytes;
}

/** Bytes that the planes take together. */
export function planeBytes(planes: readonly Plane[]): number {
  return planes.reduce((sum, { row, rows }) => sum + row * rows, 0);
}
