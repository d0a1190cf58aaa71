import { Arena, type Heap, KernelContext, type Rows, createMemory, rowAddress } from '../memory';
import { instantiateKernels } from '../kernels';
import type { ResolvedFocus } from './field';
import { FieldRows, planField } from './rows';
import type { Size } from '../geometry/size';
import type { FieldGrid } from './blur-edge';

/** Cells beyond the picture's edge on each side, so that contours run out of the picture. */
export const PREVIEW_MARGIN = 1;

/**
 * A small picture of the whole field, computed on the spot by the same kernels that render: for contours and for small
 * pictures of a field. The grid has `columns` x `rows` cells over the picture, and a rim of one cell round it.
 */
export class FieldPreview {
  private constructor(
    private readonly fieldRows: FieldRows,
    private readonly haze: Rows,
    private readonly heap: Heap,
    readonly columns: number,
    readonly rows: number,
  ) {}

  static async create(module: WebAssembly.Module, columns: number, rows: number): Promise<FieldPreview> {
    const [width, height] = [columns + 2 * PREVIEW_MARGIN, rows + 2 * PREVIEW_MARGIN];
    const arena = new Arena();
    const plan = planField(width, height, arena);
    const haze = arena.rows(width, height, 1);
    const memory = createMemory(arena.bytes);
    const region = {
      x: -PREVIEW_MARGIN,
      y: -PREVIEW_MARGIN,
      width,
      height,
      picture: { width: columns, height: rows },
    };
    const use = new KernelContext(await instantiateKernels(module, memory), memory);
    return new FieldPreview(new FieldRows(use, plan, haze, region), haze, use.heap, columns, rows);
  }

  /** Haze 0..1 of every cell, the rim included: (columns + 2) x (rows + 2) values. */
  draw(look: ResolvedFocus): Float32Array {
    const [width, height] = [this.columns + 2 * PREVIEW_MARGIN, this.rows + 2 * PREVIEW_MARGIN];
    this.fieldRows.fill(look, 0, height);
    const values = new Float32Array(width * height);
    for (let y = 0; y < height; y++)
      values.set(this.heap.floatsAt(rowAddress(this.haze, y), width), y * width);
    return values;
  }

  /** The cells of a drawing without the rim. */
  inner(values: Float32Array): FieldGrid {
    const width = this.columns + 2 * PREVIEW_MARGIN;
    const cells = new Float32Array(this.columns * this.rows);
    for (let y = 0; y < this.rows; y++) {
      const start = (y + PREVIEW_MARGIN) * width + PREVIEW_MARGIN;
      cells.set(values.subarray(start, start + this.columns), y * this.columns);
    }
    return { columns: this.columns, rows: this.rows, values: cells };
  }
}

/** Columns and rows of a sheet over a picture: `longest` cells along its longer side. */
export function previewSize(picture: Size, longest: number): { columns: number; rows: number } {
  const scale = longest / Math.max(picture.width, picture.height);
  return {
    columns: Math.max(4, Math.round(picture.width * scale)),
    rows: Math.max(4, Math.round(picture.height * scale)),
  };
}
