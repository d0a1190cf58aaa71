/** Samples of margin on each side of a row that most filters want. */
export const MARGIN = 16;

/** Rows of floats: so many planes a row, one after the other, with margins. Plain data. */
export interface Rows {
  /** Address of the first sample of row 0. */
  at: number;
  width: number;
  count: number;
  /** Samples before the first of a row, and at least as many after the last, that filters may read. */
  margin: number;
  /** Bytes from one plane of a row to the next, and from one row to the next. */
  planeBytes: number;
  rowBytes: number;
}

/** n pixels of one row, linear light, not clamped. */
export interface Run {
  /** Address of the first sample of the first of three planes. */
  at: number;
  /** Bytes from one plane to the next. */
  planeBytes: number;
  n: number;
  /** The first pixel's place in the region. */
  x: number;
  y: number;
}

/** Address of row i. */
export function rowAddress(rows: Rows, i: number): number {
  return rows.at + i * rows.rowBytes;
}

/** Address of sample x of the row at an address. */
export function sampleAddress(row: number, x: number): number {
  return row + x * 4;
}

/** Samples behind the last of a row of these that filters may read. */
export function marginAfter(rows: Rows): number {
  return rows.planeBytes / 4 - rows.width - rows.margin;
}
