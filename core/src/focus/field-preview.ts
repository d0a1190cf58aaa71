import { Arena, Heap, type Rows, createMemory, rowAt } from '../memory';
import { instantiateKernels } from '../kernels';
import type { FieldLook } from './field';
import { FieldRows, planField } from './field-rows';
import type { Size } from '../geometry/size';
import type { FieldGrid } from './blur-edge';

/** Cells beyond the picture's edge on each side, so that contours run out of the picture. */
export const SHEET_RIM = 1;

/**
 * A small picture of the whole field, computed on the spot by the same kernels that render: for contours and for small
 * pictures of a field. The grid has `columns` x `rows` cells over the picture, and a rim of one cell round it.
 */
export class FieldSheet {
  private constructor(
    private readonly fieldRows: FieldRows,
    private readonly haze: Rows,
    private readonly heap: Heap,
    readonly columns: number,
    readonly rows: number,
  ) {}

  static async create(module: WebAssembly.Module, columns: number, rows: number): Promise<FieldSheet> {
    const [width, height] = [columns + 2 * SHEET_RIM, rows + 2 * SHEET_RIM];
    const arena = new Arena();
    const plan = planField(width, height, arena);
    const haze = arena.rows(width, height, 1);
    const memory = createMemory(arena.bytes);
    const region = { x: -SHEET_RIM, y: -SHEET_RIM, width, height, picture: { width: columns, height: rows } };
    const use = { kernels: await instantiateKernels(module, memory), heap: new Heap(memory) };
    return new FieldSheet(new FieldRows(use, plan, haze, region), haze, use.heap, columns, rows);
  }

  /** Haze 0..1 of every cell, the rim included: (columns + 2) x (rows + 2) values. */
  draw(look: FieldLook): Float32Array {
    const [width, height] = [this.columns + 2 * SHEET_RIM, this.rows + 2 * SHEET_RIM];
    this.fieldRows.fill(look, 0, height);
    const values = new Float32Array(width * height);
    for (let y = 0; y < height; y++) values.set(this.heap.floatsAt(rowAt(this.haze, y), width), y * width);
    return values;
  }

  /** The cells of a drawing without the rim. */
  inner(values: Float32Array): FieldGrid {
    const width = this.columns + 2 * SHEET_RIM;
    const cells = new Float32Array(this.columns * this.rows);
    for (let y = 0; y < this.rows; y++) {
      const start = (y + SHEET_RIM) * width + SHEET_RIM;
      cells.set(values.subarray(start, start + this.columns), y * this.columns);
    }
    return { columns: this.columns, rows: this.rows, values: cells };
  }
}

/** Columns and rows of a sheet over a picture: `longest` cells along its longer side. */
export function sheetSize(picture: Size, longest: number): { columns: number; rows: number } {
  const scale = longest / Math.max(picture.width, picture.height);
  return {
    columns: Math.max(4, Math.round(picture.width * scale)),
    rows: Math.max(4, Math.round(picture.height * scale)),
  };
}
