import type { Size } from '../geometry/size';
import { BLOCK_BYTES, type BlockValues } from '../kernels';
import { type Arena, type Heap, type KernelContext, type Run, writeBlock } from '../memory';
import {
  type Passthrough,
  type PixelCodec,
  type PlaneLayout,
  type YuvFormat,
  keptPixels,
  levelBytes,
  topLevel,
} from './format';

/** Weights of red and blue in luma: ITU-R BT.601-7, BT.709-6, BT.2020-2. */
const WEIGHTS = { bt601: [0.299, 0.114], bt709: [0.2126, 0.0722], bt2020: [0.2627, 0.0593] } as const;
/** Kernels read whole vectors: so many bytes behind the last plane must be there. */
const READ_BEYOND = 64;

/** Between levels and values of 0..1. */
export function yuvFactors(format: YuvFormat): BlockValues<'YuvFactors'> {
  const { matrix, range, bits } = format;
  const [kr, kb] = WEIGHTS[matrix];
  const kg = 1 - kr - kb;
  const top = topLevel(format);
  // Limited levels of 10 bits are four times those of 8 (ITU-R BT.709-6, item 4).
  const scale = bits ? 4 : 1;
  const [offset, span, chroma] = range === 'limited' ? [16 * scale, 219 * scale, 224 * scale] : [0, top, top];
  return {
    lumaScale: 1 / span,
    lumaOffset: offset,
    redOfCr: (2 * (1 - kr)) / chroma,
    greenOfCb: (-2 * kb * (1 - kb)) / kg / chroma,
    greenOfCr: (-2 * kr * (1 - kr)) / kg / chroma,
    blueOfCb: (2 * (1 - kb)) / chroma,
    kr,
    kb,
    lumaSpan: span,
    cbSpan: chroma / (2 * (1 - kb)),
    crSpan: chroma / (2 * (1 - kr)),
    middle: (top + 1) / 2,
    top,
  };
}

/** A plane of luma and two of chroma, halved both ways (4:2:0), one behind the other. */
export class YuvPlanes implements PixelCodec {
  readonly rowsTogether = 2;
  /** Where the last run ended, and the sums of its last pixel's chroma: what comes next goes on from there. */
  private ended: { x: number; y: number; sums: number[] } | null = null;

  private readonly bytes: 1 | 2;

  constructor(private readonly format: YuvFormat) {
    this.bytes = levelBytes(format);
  }

  layout({ width, height }: Size, arena: Arena): PlaneLayout[] {
    const { bytes } = this;
    const half = { rowBytes: bytes * Math.ceil(width / 2), rows: Math.ceil(height / 2) };
    const luma = { at: 0, rowBytes: bytes * width, rows: height };
    const [lumaBytes, halfBytes] = [luma.rowBytes * luma.rows, half.rowBytes * half.rows];
    luma.at = arena.take(lumaBytes + 2 * halfBytes + READ_BEYOND);
    const u = luma.at + lumaBytes;
    return [luma, { at: u, ...half }, { at: u + halfBytes, ...half }];
  }

  tables(arena: Arena): number {
    return arena.take(BLOCK_BYTES);
  }

  fillTables(at: number, heap: Heap): void {
    writeBlock(heap, at, 'YuvFactors', yuvFactors(this.format));
  }

  decode(use: KernelContext, tables: number, from: readonly PlaneLayout[], run: Run): void {
    const [luma, u, v] = from as [PlaneLayout, PlaneLayout, PlaneLayout];
    const { x, y } = run;
    const k = x / 2;
    const near = y >> 1;
    const far = Math.min(u.rows - 1, Math.max(0, near + (y % 2 === 0 ? -1 : 1)));
    const at = (plane: PlaneLayout): number => plane.at + near * plane.rowBytes + k;
    const beyond = (far - near) * u.rowBytes;
    const left = u.rowBytes - 1 - k;
    const chroma = use.parameters('ChromaRows', { u: at(u), v: at(v), far: beyond, left });
    const start = luma.at + y * luma.rowBytes + x;
    use.kernels.decodeYuvRow(start, chroma, tables, run.at, run.planeBytes, run.n);
  }

  encode(
    use: KernelContext,
    tables: number,
    runs: readonly Run[],
    to: readonly PlaneLayout[],
    px: number,
    py: number,
    keep: Passthrough | null,
  ): void {
    const [luma, ...chroma] = to as [PlaneLayout, PlaneLayout, PlaneLayout];
    const { bytes } = this;
    const top = topLevel(this.format);
    for (const [i, run] of runs.entries()) {
      const offset = run.y * luma.rowBytes + run.x * bytes;
      const kept = keep ? keptPixels(use, keep, keep.from[0]!.at + offset, i) : 0;
      use.kernels.encodeLumaRow(run.at, run.planeBytes, kept, tables, luma.at + offset, run.n, px, py + i);
    }
    const [first] = runs as [Run];
    const second = runs[1] ?? first;
    const { ended } = this;
    const goesOn = ended?.y === first.y && ended.x === first.x;
    const sums: number[] = [];
    for (const [i, plane] of chroma.entries()) {
      const offset = (first.y >> 1) * plane.rowBytes + (first.x / 2) * bytes;
      const kept = keep ? keptPixels(use, keep, keep.from[i + 1]!.at + offset) : 0;
      const [a, b] = [first, second].map((run) => run.at + (i + 1) * run.planeBytes) as [number, number];
      const before = goesOn ? ended.sums[i]! : NaN;
      sums.push(use.kernels.downsampleChromaRow(a, b, kept, plane.at + offset, first.n, before, top));
    }
    this.ended = { x: first.x + first.n, y: first.y, sums };
  }

  copy(heap: Heap, run: Run, from: readonly PlaneLayout[], to: readonly PlaneLayout[]): void {
    for (const [i, plane] of to.entries()) {
      const source = from[i]!;
      const isChroma = i > 0;
      const n = isChroma ? Math.ceil(run.n / 2) : run.n;
      const x = isChroma ? run.x / 2 : run.x;
      const y = isChroma ? run.y >> 1 : run.y;
      const rows = isChroma ? 1 : Math.min(2, plane.rows - y);
      for (let row = y; row < y + rows; row++)
        heap.copy(plane.at + row * plane.rowBytes + x, source.at + row * source.rowBytes + x, n);
    }
    // Between two samples of chroma lies the last pixel, in both rows.
    const k = (run.x + run.n) / 2 - 1;
    const sums = from.slice(1).map(({ at, rowBytes }) => {
      const start = at + (run.y >> 1) * rowBytes + Math.floor(k);
      return heap.bytes[start]! + heap.bytes[start + (k + 1 < rowBytes ? 1 : 0)]!;
    });
    this.ended = { x: run.x + run.n, y: run.y, sums };
  }
}
