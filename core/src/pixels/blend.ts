import type { Size } from '../geometry/size';
import { Arena, type Use, padded, rowAt } from '../memory';
import type { FrameFormat, PixelFormat } from './format';
import { pixelsOf } from './codec';
import { DECODED_ROW, ROWS_HELD, rowReader } from './source-rows';

/** What frames are averaged to: 16 bits, so that nothing of the sum is lost. */
export const BLENDED: PixelFormat = { channels: 3, bytes: 2 };

/** Frames that are averaged in linear light, as a longer shutter would. */
export interface BlendTask {
  format: FrameFormat;
  size: Size;
  sources: readonly { pixels: SharedArrayBuffer; share: number }[];
  /** Takes the average, in the format `BLENDED`. */
  target: SharedArrayBuffer;
  /** Rows that are made, the last not included. */
  rows: readonly [number, number];
}

function layout({ format, size }: Pick<BlendTask, 'format' | 'size'>) {
  const arena = new Arena();
  const [input, output] = [pixelsOf(format), pixelsOf(BLENDED)];
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
export function blendRows({ kernels, heap }: Use, task: BlendTask): void {
  const { format, size, rows } = task;
  const at = layout(task);
  const [input, output] = [pixelsOf(format), pixelsOf(BLENDED)];
  input.fillTables(at.inTables, heap);
  output.fillTables(at.outTables, heap);
  const readers = task.sources.map(({ pixels, share }) => ({
    share,
    bring: rowReader(format, size, new Uint8Array(pixels), at.source, heap),
  }));
  const target = new Uint8Array(task.target);
  const { at: made, row: rowBytes } = at.target[0]!;
  const { width } = size;
  const sum = rowAt(at.sum, 0);
  for (let y = rows[0]; y < rows[1]; y++) {
    heap.fillFloats(sum, (3 * at.sum.plane) / 4, 0);
    for (const { share, bring } of readers) {
      bring(y, 0, width);
      const run = { at: rowAt(at.decoded, 0), plane: at.decoded.plane, n: width, x: 0, y: DECODED_ROW };
      input.decode(kernels, at.inTables, at.source, run);
      kernels.addRow(run.at, run.plane, padded(width), share, sum, at.sum.plane);
    }
    const run = { at: sum, plane: at.sum.plane, n: width, x: 0, y: 0 };
    output.encode(kernels, at.outTables, [run], at.target, 0, y, null);
    target.set(heap.bytes.subarray(made, made + rowBytes), y * rowBytes);
  }
}
