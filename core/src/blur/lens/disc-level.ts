import { BLOCK_BYTES, type BlockValues } from '../../kernels';
import { type Arena, type Heap, padded } from '../../memory';
import { SEGMENT } from '../computed-segments';
import { type InnerTaps, type Taps, apertureTaps, innerTaps } from './aperture';
import { gatherReach, maxDiscSamples } from './levels';
import type { Aperture } from './aperture';

/** Rows and samples around one that its discs can reach on any level. */
export const MAX_REACH = gatherReach(2);
const MAX_TAPS = (2 * MAX_REACH + 1) ** 2;
const QUARTERS = Math.ceil(maxDiscSamples(2) * 4) + 2;
/** Words of an entry of `inner`, see `Inner` in `kernels/lens.ts`. */
const INNER_WORDS = 4;

/** Where a worker keeps what the kernels that gather and scatter discs read, see `DiscLevel` in `kernels/lens.ts`. */
export interface DiscRoom {
  /** A `DiscLevel` of each level, `BLOCK_BYTES` each. */
  blocks: number;
  /** Addresses of the rows around the one in hand. */
  rows: number;
  taps: number;
  counts: number;
  inner: number;
  sums: number;
  sumsPlane: number;
  summed: number;
  /** By how much the discs of a row are cut. */
  cat: number;
}

/** @param levels how many there are, with the picture itself. @param gathers discs are gathered, else scattered. */
export function planDiscs(arena: Arena, levels: number, gathers: boolean): DiscRoom {
  const columns = padded(SEGMENT + 2 * MAX_REACH);
  return {
    blocks: arena.take(levels * BLOCK_BYTES),
    rows: arena.floats(2 * MAX_REACH + 1),
    taps: arena.floats(4 * MAX_TAPS),
    counts: arena.floats(QUARTERS),
    inner: arena.floats(QUARTERS * (INNER_WORDS + 2 * (2 * MAX_REACH + 1))),
    sums: arena.floats(gathers ? (2 * MAX_REACH + 2) * 4 * columns : 0),
    sumsPlane: columns * 4,
    summed: arena.floats(16),
    cat: arena.floats(4),
  };
}

/** Writes an aperture's taps. */
export function fillTaps(room: DiscRoom, heap: Heap, aperture: Aperture): void {
  const taps = apertureTaps(aperture, maxDiscSamples(2));
  taps.list.forEach(([dy, dx, scale, reach], i) => {
    const at = room.taps + 16 * i;
    heap.setInt32(at, 4 * (dy + MAX_REACH));
    heap.setInt32(at + 4, 4 * dx);
    heap.setFloats(at + 8, [scale, reach]);
  });
  taps.counts.forEach((count, i) => heap.setInt32(room.counts + 4 * i, count));
  fillInner(room, heap, taps);
}

function fillInner(room: DiscRoom, heap: Heap, taps: Taps): void {
  const words = (at: number, values: readonly number[]): void =>
    values.forEach((value, i) => heap.setInt32(at + 4 * i, value));
  const written = new Map<InnerTaps, number[]>();
  let next = room.inner + 4 * INNER_WORDS * taps.counts.length;
  innerTaps(taps).forEach((inner, quarter) => {
    let entry = written.get(inner);
    if (!entry) {
      const { count, columns } = inner;
      const across = (columns.length - 1) / 2;
      const down = Math.max(0, ...columns.flat().map(Math.abs));
      entry = [count, Math.max(0, across), down, next];
      written.set(inner, entry);
      // Row i of the column sums has what lies above row i of those that are summed.
      const place = (row: number, i: number): number => 4 * room.sumsPlane * (row + down) + 4 * i;
      words(
        next,
        columns.flatMap(([top, bottom], i) => [place(bottom + 1, i), place(top, i)]),
      );
      next += 8 * columns.length;
    }
    words(room.inner + 4 * INNER_WORDS * quarter, entry);
  });
}

type RoomOfDiscs = Omit<
  BlockValues<'DiscLevel'>,
  'plane' | 'top' | 'bound' | 'outPlane' | 'rim' | 'fringe' | 'unit'
>;

/** What of a `DiscLevel` lies in the worker's room, whatever the level. @param isCut the discs are, by what stands in `cat`. */
export function roomOfDiscs(room: DiscRoom, isCut: boolean): RoomOfDiscs {
  const { rows, taps, counts, inner, sums, sumsPlane, summed, cat } = room;
  return { rows, middle: MAX_REACH, taps, counts, inner, sums, sumsPlane, summed, cat: isCut ? cat : 0 };
}
