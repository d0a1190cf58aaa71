import type { ColourLut } from '../src/index';
import { coded as codedOf, decoded } from './srgb';

type Triple = readonly [number, number, number];

/** Where a coded value lies in the steps of a table. */
function inSteps({ from, to, size }: ColourLut, coded: number, c: number): number {
  const share = (coded - from[c]!) / (to[c]! - from[c]!);
  return Math.min(size - 1, Math.max(0, share * (size - 1)));
}

/**
 * What a table makes of linear light, by the definition: the place's weights in its tetrahedron are the differences of its
 * three fractions in falling order, and the nodes are reached by walking along the axes in that order.
 */
export function throughTable(table: ColourLut, light: Triple, share: number): [number, number, number] {
  const { kind, size, values } = table;
  const steps = light.map((v, c) => inSteps(table, codedOf(Math.min(1, Math.max(0, v))), c));
  const cell = steps.map((v) => Math.min(size - 2, Math.floor(v)));
  const parts = steps.map((v, c) => v - cell[c]!);
  const coded =
    kind === 'curves'
      ? steps.map((_, c) => {
          const at = c * size + cell[c]!;
          return values[at]! * (1 - parts[c]!) + values[at + 1]! * parts[c]!;
        })
      : onLattice(table, cell, parts);
  return light.map((v, c) => v + share * (decoded(coded[c]!) - v)) as [number, number, number];
}

function onLattice({ size, values }: ColourLut, cell: readonly number[], parts: readonly number[]): number[] {
  const axes = [0, 1, 2].sort((a, b) => parts[b]! - parts[a]!);
  const node = [...cell];
  let before = 1;
  const sum = [0, 0, 0];
  for (const axis of [...axes, null]) {
    const after = axis === null ? 0 : parts[axis]!;
    const at = (node[0]! + size * (node[1]! + size * node[2]!)) * 4;
    for (let c = 0; c < 3; c++) sum[c]! += (before - after) * values[at + c]!;
    before = after;
    if (axis !== null) node[axis]!++;
  }
  return sum;
}
