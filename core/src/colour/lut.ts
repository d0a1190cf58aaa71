import type { Arena, Heap, Run, KernelContext } from '../memory';
import { type ColourLut, TABLE_FLOATS } from './cube';

/** Bytes before the values: the domain, as `lut3dRow` and `lut1dRow` read it. */
const DOMAIN_BYTES = 32;

/** Room for the largest table; memory that is never written costs nothing. @returns its address. */
export function planTable(arena: Arena): number {
  return arena.take(DOMAIN_BYTES + TABLE_FLOATS * 4);
}

/** Puts a table into its room. */
export function fillLut(at: number, heap: Heap, { size, from, to, values }: ColourLut): void {
  heap.setFloats(at, [...from, ...from.map((value, c) => (size - 1) / (to[c]! - value))]);
  heap.setFloats(at + DOMAIN_BYTES, values);
}

/** Takes linear light a share of the way to what the table in a room says. */
export function applyLut(
  { kernels }: KernelContext,
  room: number,
  { kind, size }: ColourLut,
  share: number,
  { at, planeBytes, n }: Run,
): void {
  const apply = kind === 'lattice' ? kernels.lut3dRow : kernels.lut1dRow;
  apply(at, planeBytes, n, room + DOMAIN_BYTES, size, room, share);
}
