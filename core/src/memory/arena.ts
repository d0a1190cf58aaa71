import type { Kernels } from '../kernels';

/*
 * The only place where addresses are reckoned. An address is a byte offset into the one memory that the workers of a
 * render share; it may be anything below 4 GiB, so it is never shifted as a 32-bit integer.
 */

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
  plane: number;
  row: number;
}

/** n pixels of one row, linear light, not clamped. */
export interface Run {
  /** Address of the first sample of the first of three planes. */
  at: number;
  /** Bytes from one plane to the next. */
  plane: number;
  n: number;
  /** The first pixel's place in the region. */
  x: number;
  y: number;
}

const align = (value: number, to: number): number => Math.ceil(value / to) * to;

/** Samples that a row of n takes without margins: whole vectors of eight. */
export const padded = (n: number): number => align(n, 8);

/** Lays out a memory, piece after piece; nothing is allocated. */
export class Arena {
  /** @param from address of the first free byte. */
  constructor(private cursor = 64) {}

  /** Bytes laid out so far. */
  get bytes(): number {
    return this.cursor;
  }

  /** Room for so many bytes, on a boundary of 64. */
  take(bytes: number): number {
    const at = this.cursor;
    this.cursor = align(at + bytes, 64);
    return at;
  }

  floats(count: number): number {
    return this.take(count * 4);
  }

  /** Rows of n samples in `planes` planes, with so many samples of margin on both sides. */
  rows(width: number, count: number, planes: number, margin = 0): Rows {
    const plane = padded(width + 2 * margin) * 4;
    const at = this.take(plane * planes * count) + margin * 4;
    return { at, width, count, margin, plane, row: plane * planes };
  }
}

/** Address of row i. */
export function rowAt(rows: Rows, i: number): number {
  return rows.at + i * rows.row;
}

/** Address of sample x of the row at an address. */
export function sampleAt(row: number, x: number): number {
  return row + x * 4;
}

/** Samples behind the last of a row of these that filters may read. */
export function marginAfter(rows: Rows): number {
  return rows.plane / 4 - rows.width - rows.margin;
}

/** The memory as numbers; each accessor takes an address. */
export class Heap {
  readonly bytes: Uint8Array;
  private readonly floats: Float32Array;
  private readonly words: Int32Array;

  constructor(readonly memory: WebAssembly.Memory) {
    this.bytes = new Uint8Array(memory.buffer);
    this.floats = new Float32Array(memory.buffer);
    this.words = new Int32Array(memory.buffer);
  }

  setFloats(at: number, values: ArrayLike<number>): void {
    this.floats.set(values, at / 4);
  }

  fillFloats(at: number, count: number, value: number): void {
    this.floats.fill(value, at / 4, at / 4 + count);
  }

  floatsAt(at: number, count: number): Float32Array {
    return this.floats.subarray(at / 4, at / 4 + count);
  }

  /** Writes addresses or other whole numbers, four bytes each. */
  setWord(at: number, value: number): void {
    this.words[at / 4] = value;
  }

  word(at: number): number {
    return this.words[at / 4]!;
  }

  copy(to: number, from: number, count: number): void {
    this.bytes.copyWithin(to, from, from + count);
  }

  /** Adds one to a word that other threads watch. */
  countUp(at: number): void {
    Atomics.add(this.words, at / 4, 1);
  }
}

/** What a worker has to work with. */
export interface Use {
  kernels: Kernels;
  heap: Heap;
}
