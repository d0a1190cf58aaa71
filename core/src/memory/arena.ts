import type { Rows } from './rows';

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
    return { at, width, count, margin, planeBytes: plane, rowBytes: plane * planes };
  }
}
