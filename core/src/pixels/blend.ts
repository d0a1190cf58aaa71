import type { Size } from '../geometry/size';
import { Arena, type KernelContext, padded, rowAddress } from '../memory';
import type { FrameFormat, PixelFormat } from './format';
import { codecFor } from './codec';
import { DECODED_ROW, ROWS_HELD, rowReader } from './source-rows';

/** What frames are averaged to: 16 bits, so that nothing of the sum is lost. */
export const BLEND_FORMAT: PixelFormat = { channels: 3, bytes: 2 };

/** Frames that are averaged in linear light, as a longer shutter would. */
export interface BlendTask {
  format: FrameFormat;
  size: Size;
  sources: readonly { pixels: SharedArrayBuffer; share: number }[];
  /** Takes the average, in the format `BLEND_FORMAT`. */
  target: SharedArrayBuffer;
  /** Rows that are made, the last not included. */
  rows: readonly [number, number];
}

function layout({ format, size }: Pick<BlendTask, 'format' | 'size'>) {
  const arena = new Arena();
  const [input, output] = [codecFor(format), codecFor(BLEND_FORMAT)];
  const rest = {
    inTables: input.tables(arena),
    outTables: output.tables(arena),
    source: input.layout({ width: size.width, height: ROWS_HELD }, arena),
    target: output.layout({ width: size.width, height: 1 }, arena),
    decoded: arena.rows(size.width, 1, 3),
    sum: arena.rows(size.width, 1, 3),
  };
  return { ...rest, bytes: arena.bytes };
}

/** Bytes of scratch memory that `blendRows` needs. */
export function blendScratchBytes(task: Pick<BlendTask, 'format' | 'size'>): number {
  return layout(task).bytes;
}

/** @param use memory of its own of at least `blendScratchBytes`. */
export function blendRows(use: KernelContext, task: BlendTask): void {
  const { kernels, heap } = use;
  const { format, size, rows } = task;
  const at = layout(task);
  const [input, output] = [codecFor(format), codecFor(BLEND_FORMAT)];
  input.fillTables(at.inTables, heap);
  output.fillTables(at.outTables, heap);
  const readers = task.sources.map(({ pixels, share }) => ({
    share,
    bring: rowReader(format, size, new Uint8Array(pixels), at.source, heap),
  }));
  const target = new Uint8Array(task.target);
  const { at: made, rowBytes: rowBytes } = at.target[0]!;
  const { width } = size;
  const sum = rowAddress(at.sum, 0);
  for (let y = rows[0]; y < rows[1]; y++) {
    heap.fillFloats(sum, (3 * at.sum.planeBytes) / 4, 0);
    for (const { share, bring } of readers) {
      bring(y, 0, width);
      const run = {
        at: rowAddress(at.decoded, 0),
        planeBytes: at.decoded.planeBytes,
        n: width,
        x: 0,
        y: DECODED_ROW,
      };
      input.decode(use, at.inTables, at.source, run);
      kernels.addRow(run.at, run.planeBytes, padded(width), share, sum, at.sum.planeBytes);
    }
    const run = { at: sum, planeBytes: at.sum.planeBytes, n: width, x: 0, y: 0 };
    output.encode(use, at.outTables, [run], at.target, 0, y, null);
    target.set(heap.bytes.subarray(made, made + rowBytes), y * rowBytes);
  }
}
