import {
  type FieldGrid,
  type FieldLook,
  FieldRows,
  type Size,
  createMemory,
  instantiateKernels,
  planField,
} from '@hazy-lens/core';

/** Cells beyond the picture's edge on each side, so that contours run out of the picture. */
export const SHEET_RIM = 1;

/**
 * A small picture of the whole field, computed on the spot by the same kernels that render: for contours and for small
 * pictures of a field. The grid has `columns` x `rows` cells over the picture, and a rim of one cell round it.
 */
export class FieldSheet {
  private constructor(
    private readonly fieldRows: FieldRows,
    private readonly floats: Float32Array,
    readonly columns: number,
    readonly rows: number,
  ) {}

  static async create(module: WebAssembly.Module, columns: number, rows: number): Promise<FieldSheet> {
    const [width, height] = [columns + 2 * SHEET_RIM, rows + 2 * SHEET_RIM];
    let cursor = 64;
    const take = (floats: number): number => {
      const at = cursor;
      cursor += Math.ceil(floats / 16) * 64;
      return at;
    };
    const plan = planField(Math.ceil(width / 8) * 8, height, take);
    const memory = createMemory(cursor);
    const region = { x: -SHEET_RIM, y: -SHEET_RIM, width, height, picture: { width: columns, height: rows } };
    const kernels = await instantiateKernels(module, memory);
    return new FieldSheet(
      new FieldRows(kernels, memory, plan, region),
      new Float32Array(memory.buffer),
      columns,
      rows,
    );
  }

  /** Haze 0..1 of every cell, the rim included: (columns + 2) x (rows + 2) values. */
  draw(look: FieldLook): Float32Array {
    const [width, height] = [this.columns + 2 * SHEET_RIM, this.rows + 2 * SHEET_RIM];
    this.fieldRows.fill(look, 0, height);
    const values = new Float32Array(width * height);
    for (let y = 0; y < height; y++) {
      const start = this.fieldRows.row(y) >> 2;
      values.set(this.floats.subarray(start, start + width), y * width);
    }
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
