import type { Rows } from '../memory';

/** Columns that are made together. */
export const SEGMENT = 64;

/** Which stretches of which rows are made: a flag for each 64 columns of a row; the last stretch is longer by the rest. */
export class ComputedSegments {
  private readonly segments: number;
  private readonly flags: Uint8Array;

  constructor(private readonly rows: Rows) {
    this.segments = Math.max(1, Math.floor(rows.width / SEGMENT));
    this.flags = new Uint8Array(this.segments * rows.count);
  }

  clear(): void {
    this.flags.fill(0);
  }

  /** Calls `work` for each stretch of row i that is asked for and not there yet, with its first column and its end. */
  ensure(i: number, from: number, to: number, work: (x: number, end: number) => void): void {
    const { flags, segments } = this;
    const base = i * segments;
    const first = this.segmentOf(from);
    const last = this.segmentOf(to - 1);
    for (let s = first; s <= last; s++) {
      if (flags[base + s]) continue;
      const start = s;
      while (s <= last && !flags[base + s]) flags[base + s++] = 1;
      work(start * SEGMENT, s === segments ? this.rows.width : s * SEGMENT);
    }
  }

  private segmentOf(x: number): number {
    return Math.min(this.segments - 1, Math.max(0, Math.floor(x / SEGMENT)));
  }
}
