import type { Size } from '../geometry/size';
import { type Arena, type Heap, type KernelContext, type Run, padded } from '../memory';
import type { PixelFormat, PixelReader, PixelSource, PlaneLayout } from './format';
import { Interleaved } from './interleaved';
import { fromLinear, toLinear } from './transfer';

/** What a part of a transparent picture is: interleaved samples of 16 bits, the fourth opaque. */
export const PART_FORMAT: PixelFormat = { channels: 4, bytes: 2 };

/**
 * How pixels with a coverage lie in memory. `light`: row by row four planes of floats, premultiplied linear light and the
 * coverage. `parts`: two pictures of `PART_FORMAT`, see `AlphaSplit`. `straight` and `straight16`: RGBA, not premultiplied.
 */
export interface CoveredFormat {
  covered: 'light' | 'parts' | 'straight' | 'straight16';
}

/** Reads pixels that have a coverage, as premultiplied light in three planes. */
export interface CoveredSource extends PixelSource {
  /** How much there is, as light of a grey. */
  readonly cover: PixelReader;
  /** The light, and how much there is in a fourth plane. */
  readonly whole: PixelReader;
}

/** Writes such pixels. */
export interface CoveredTarget {
  layout(size: Size, arena: Arena): PlaneLayout[];
  /** The light is not premultiplied. */
  readonly isStraight: boolean;
  /** A run and its coverage to pixels; `haze` is the address of its haze, (px, py) its place in the picture. */
  encode(
    use: KernelContext,
    run: Run,
    cover: number,
    haze: number,
    to: readonly PlaneLayout[],
    px: number,
    py: number,
  ): void;
}

export function isCovered(format: object): format is CoveredFormat {
  return 'covered' in format;
}

export function coveredSource({ covered }: CoveredFormat): CoveredSource {
  if (covered === 'light') return new LightPlanes();
  if (covered === 'parts') return new PartPictures();
  throw new TypeError('Straight samples are only written.');
}

export function coveredTarget({ covered }: CoveredFormat): CoveredTarget {
  if (covered === 'light') return new LightPlanes();
  if (covered === 'parts') throw new TypeError('The parts of a transparent picture are only read.');
  return new Straight(covered === 'straight' ? 1 : 2);
}

const lightAt = ({ at, rowBytes }: PlaneLayout, { x, y }: Run): number => at + y * rowBytes + 4 * x;

class LightPlanes implements CoveredSource, CoveredTarget {
  readonly isStraight = false;

  layout({ width, height }: Size, arena: Arena): PlaneLayout[] {
    const row = 16 * padded(width);
    return [{ at: arena.take(row * height), rowBytes: row, rows: height }];
  }

  tables(): number {
    return 0;
  }

  fillTables(): void {
    // Floats need none.
  }

  decode({ kernels }: KernelContext, _tables: number, planes: readonly PlaneLayout[], run: Run): void {
    const plane = planes[0]!;
    kernels.copyPlanes(lightAt(plane, run), plane.rowBytes / 4, 3, run.at, run.planeBytes, run.n);
  }

  readonly cover: PixelReader = {
    decode({ kernels }, _tables, planes, run) {
      const plane = planes[0]!;
      kernels.copyPlanes(lightAt(plane, run) + 0.75 * plane.rowBytes, 0, 3, run.at, run.planeBytes, run.n);
    },
  };

  readonly whole: PixelReader = {
    decode({ kernels }, _tables, planes, run) {
      const plane = planes[0]!;
      kernels.copyPlanes(lightAt(plane, run), plane.rowBytes / 4, 4, run.at, run.planeBytes, run.n);
    },
  };

  encode(
    { kernels }: KernelContext,
    run: Run,
    cover: number,
    _haze: number,
    to: readonly PlaneLayout[],
  ): void {
    const plane = to[0]!;
    const out = lightAt(plane, run);
    kernels.copyPlanes(run.at, run.planeBytes, 3, out, plane.rowBytes / 4, run.n);
    kernels.copyPlanes(cover, 0, 1, out + 0.75 * plane.rowBytes, 0, run.n);
  }
}

class PartPictures implements CoveredSource {
  private readonly samples = new Interleaved(PART_FORMAT);

  layout({ width, height }: Size, arena: Arena): PlaneLayout[] {
    const row = width * PART_FORMAT.channels * PART_FORMAT.bytes;
    const at = arena.take(2 * row * height);
    return [0, 1].map((i) => ({ at: at + i * row * height, rowBytes: row, rows: height }));
  }

  tables(arena: Arena): number {
    return this.samples.tables(arena);
  }

  fillTables(at: number, heap: Heap): void {
    this.samples.fillTables(at, heap);
  }

  decode(use: KernelContext, tables: number, planes: readonly PlaneLayout[], run: Run): void {
    this.samples.decode(use, tables, planes, run);
  }

  readonly cover: PixelReader = {
    decode: (use, tables, planes, run) => this.samples.decode(use, tables, [planes[1]!], run),
  };

  readonly whole: PixelReader = {
    decode: (use, tables, planes, run) => {
      this.decode(use, tables, planes, run);
      // Its three channels are alike: all go to the one plane.
      this.cover.decode(use, tables, planes, { ...run, at: run.at + 3 * run.planeBytes, planeBytes: 0 });
    },
  };
}

class Straight implements CoveredTarget {
  readonly isStraight = true;

  constructor(private readonly bytes: 1 | 2) {}

  layout(size: Size, arena: Arena): PlaneLayout[] {
    return new Interleaved({ channels: 4, bytes: this.bytes }).layout(size, arena);
  }

  encode(
    { kernels }: KernelContext,
    run: Run,
    cover: number,
    haze: number,
    to: readonly PlaneLayout[],
    px: number,
    py: number,
  ): void {
    const { at, rowBytes } = to[0]!;
    const out = at + run.y * rowBytes + run.x * 4 * this.bytes;
    if (this.bytes === 1) kernels.encodeStraightRow8(run.at, run.planeBytes, cover, haze, out, run.n, px, py);
    else kernels.encodeStraightRow16(run.at, run.planeBytes, cover, out, run.n);
  }
}

const TOP = 65535;

/** The samples of a picture in two parts, one behind the other, no longer premultiplied: `PART_FORMAT`, opaque. */
export function straightOfParts(bytes: Uint8Array): Uint8Array {
  const both = new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.length / 2);
  const straight = both.slice(0, both.length / 2);
  for (let i = 0; i < straight.length; i++) {
    const share = both[straight.length + i]!;
    if (i % 4 === 3 || share === TOP || share === 0) continue;
    straight[i] = Math.round(
      Math.min(1, fromLinear(toLinear(straight[i]! / TOP) / toLinear(share / TOP))) * TOP,
    );
  }
  return new Uint8Array(straight.buffer);
}
