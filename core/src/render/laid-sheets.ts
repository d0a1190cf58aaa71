import { type Heap, type Rows, type Run, type KernelContext, sampleAddress } from '../memory';
import type { PixelReader, PlaneLayout } from '../pixels/format';
import type { LayerSheet } from './layer-sheets';
import { RUN } from './plan';

/** A sheet as a worker reads it. */
export interface LaidSheet extends LayerSheet {
  floats: Float32Array;
}

export const laidSheets = (sheets: readonly LayerSheet[]): readonly LaidSheet[] =>
  sheets.map((sheet) => ({ ...sheet, floats: new Float32Array(sheet.buffer) }));

/** The sheets that lie on one of two strips alone, or not alike. */
export function changedSheets(before: readonly LaidSheet[], now: readonly LaidSheet[]): readonly LaidSheet[] {
  const keyOf = ({ key, opacity }: LaidSheet): string => `${key} ${opacity}`;
  const [old, own] = [before.map(keyOf), now.map(keyOf)];
  if (old.join() === own.join()) return [];
  const first = old.findIndex((key, i) => key !== own[i]);
  // From the first that differs on: their order counts, too.
  const at = first < 0 ? old.length : first;
  return [...before.slice(at), ...now.slice(at)];
}

/** True where a sheet lies on a run. */
export function lies({ x, y, width, height }: LaidSheet, run: Run): boolean {
  return run.y >= y && run.y < y + height && run.x < x + width && run.x + run.n > x;
}

/**
 * Copies what of a sheet lies on a run of at most `RUN` pixels to four planes; nothing is there beside it.
 */
export function copySheet(heap: Heap, sheet: LaidSheet, run: Run, over: Rows): void {
  const from = Math.max(run.x, sheet.x);
  const n = Math.min(run.x + run.n, sheet.x + sheet.width) - from;
  const first = (sheet.at + (run.y - sheet.y) * sheet.row + 4 * (from - sheet.x)) / 4;
  if (n < RUN) heap.fillFloats(over.at, over.rowBytes / 4, 0);
  for (let k = 0; k < 4; k++) {
    const start = first + (k * sheet.plane) / 4;
    heap.setFloats(
      sampleAddress(over.at + k * over.planeBytes, from - run.x),
      sheet.floats.subarray(start, start + n),
    );
  }
}

/** Reads a picture into which sheets are laid. */
export class LaidReader implements PixelReader {
  sheets: readonly LaidSheet[] = [];

  /** @param over room for a run of a sheet. @param none a run of zeros. */
  constructor(
    private readonly picture: PixelReader,
    private readonly over: Rows,
    private readonly none: number,
  ) {}

  decode(use: KernelContext, tables: number, planes: readonly PlaneLayout[], run: Run): void {
    this.picture.decode(use, tables, planes, run);
    const { over } = this;
    for (const sheet of this.sheets) {
      if (!lies(sheet, run)) continue;
      const [from, end] = [Math.max(run.x, sheet.x), Math.min(run.x + run.n, sheet.x + sheet.width)];
      for (let x = from; x < end; x += RUN) {
        const part = { ...run, x, n: Math.min(RUN, end - x) };
        copySheet(use.heap, sheet, part, over);
        // What it would tell of the haze is of no use here.
        const touched = over.at + 3 * over.planeBytes;
        const overlay = use.parameters('Overlay', {
          row: over.at,
          plane: over.planeBytes,
          opacity: sheet.opacity,
          factor: 1,
        });
        const start = sampleAddress(run.at, x - run.x);
        use.kernels.compositeRow(start, run.planeBytes, part.n, overlay, this.none, touched, 0);
      }
    }
  }
}
