import type { Size } from '../geometry/size';
import type { Arena, Heap, KernelContext, Run } from '../memory';
import { type Passthrough, type PixelFormat, type PixelCodec, type PlaneLayout, keptPixels } from './format';
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

  decode({ kernels }: KernelContext, tables: number, from: readonly PlaneLayout[], run: Run): void {
    const { channels, bytes } = this.format;
    kernels.decodeRow(this.pixelAt(from, run), channels, bytes, tables, run.at, run.planeBytes, run.n);
  }

  encode(
    use: KernelContext,
    _tables: number,
    [run]: readonly [Run],
    to: readonly PlaneLayout[],
    px: number,
    py: number,
    keep: Passthrough | null,
  ): void {
    const { channels, bytes } = this.format;
    const kept = keep ? keptPixels(use, keep, this.pixelAt(keep.from, run)) : 0;
    const out = this.pixelAt(to, run);
    const { at, planeBytes, n } = run;
    if (bytes === 1) use.kernels.encodeRow8(at, planeBytes, kept, channels, out, n, px, py);
    else use.kernels.encodeRow16(at, planeBytes, kept, channels, out, n);
  }

  copy(heap: Heap, run: Run, from: readonly PlaneLayout[], to: readonly PlaneLayout[]): void {
    heap.copy(this.pixelAt(to, run), this.pixelAt(from, run), run.n * this.pixelBytes);
  }

  private pixelAt(planes: readonly PlaneLayout[], { x, y }: Run): number {
    const { at, rowBytes } = planes[0]!;
    return at + y * rowBytes + x * this.pixelBytes;
  }
}
