import type { Arena, Heap, Run, Use } from '../memory';
import { type ColourTable, TABLE_FLOATS } from './cube';

/** Bytes before the values: the domain, as `latticeRow` and `curvesRow` read it. */
const DOMAIN_BYTES = 32;

/** Room for the largest table; memory that is never written costs nothing. @returns its address. */
export function planTable(arena: Arena): number {
  return arena.take(DOMAIN_BYTES + TABLE_FLOATS * 4);
}

/** Puts a table into its room. */
export function fillTable(at: number, heap: Heap, { size, from, to, values }: ColourTable): void {
  heap.setFloats(at, [...from, ...from.map((value, c) => (size - 1) / (to[c]! - value))]);
  heap.setFloats(at + DOMAIN_BYTES, values);
}

/** Takes linear light a share of the way to what the table in a room says. */
export function applyTable(
  { kernels }: Use,
  room: number,
  { kind, size }: ColourTable,
  share: number,
  { at, plane, n }: Run,
): void {
  const apply = kind === 'lattice' ? kernels.latticeRow : kernels.curvesRow;
  apply(at, plane, n, room + DOMAIN_BYTES, size, room, share);
}
