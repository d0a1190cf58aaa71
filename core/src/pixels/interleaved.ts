import type { Kernels } from '../kernels';
import type { Size } from '../geometry/size';
import type { Arena, Heap, Run } from '../memory';
import type { Passthrough, PixelFormat, PixelCodec, PlaneLayout } from './format';
import { linearTable } from './transfer';

/** Red, green and blue, and where there are four channels alpha, one pixel after the other: 8 or 16 bits a sample. */
export class Interleaved implements PixelCodec {
  readonly rowsTogether = 1;
  private readonly pixelBytes: number;

  constructor(private readonly format: PixelFormat) {
    this.pixelBytes = format.channels * format.bytes;
  }

  layout({ width, height }: Size, arena: Arena): PlaneLayout[] {
    const row = width * this.pixelBytes;
    return [{ at: arena.take(row * height), rowBytes: row, rows: height }];
  }

  tables(arena: Arena): number {
    return arena.floats(this.format.bytes === 1 ? 256 : 65536);
  }

  fillTables(at: number, heap: Heap): void {
    heap.setFloats(at, linearTable(this.format.bytes));
  }

  decode(kernels: Kernels, tables: number, from: readonly PlaneLayout[], run: Run): void {
    const { channels, bytes } = this.format;
    kernels.decodeRow(this.pixelAt(from, run), channels, bytes, tables, run.at, run.planeBytes, run.n);
  }

  encode(
    kernels: Kernels,
    _tables: number,
    [run]: readonly [Run],
    to: readonly PlaneLayout[],
    px: number,
    py: number,
    keep: Passthrough | null,
  ): void {
    const { channels, bytes } = this.format;
    const haze = keep ? keep.haze[0]! : 0;
    const source = keep ? this.pixelAt(keep.from, run) : 0;
    const out = this.pixelAt(to, run);
    if (bytes === 1) kernels.encodeRow8(run.at, run.planeBytes, haze, source, channels, out, run.n, px, py);
    else kernels.encodeRow16(run.at, run.planeBytes, haze, source, channels, out, run.n);
  }

  copy(heap: Heap, run: Run, from: readonly PlaneLayout[], to: readonly PlaneLayout[]): void {
    heap.copy(this.pixelAt(to, run), this.pixelAt(from, run), run.n * this.pixelBytes);
  }

  private pixelAt(planes: readonly PlaneLayout[], { x, y }: Run): number {
    const { at, rowBytes } = planes[0]!;
    return at + y * rowBytes + x * this.pixelBytes;
  }
}
