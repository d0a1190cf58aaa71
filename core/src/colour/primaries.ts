import { linearTable } from '../pixels/transfer';
import { FROM_CONES, TO_CONES, times } from './oklab';

/** Which red, green and blue light is made of; both have the white of daylight (D65), and the transfer of sRGB. */
export type Primaries = 'srgb' | 'display-p3';

/**
 * Linear light of Display P3 to that of sRGB, and back, row by row: from the chromaticities of SMPTE EG 432-1 and
 * ITU-R BT.709.
 */
export const P3_TO_SRGB = [
  1.2249401763, -0.2249401763, 0, -0.0420569547, 1.0420569547, 0, -0.0196375546, -0.0786360456, 1.0982736001,
] as const;
export const SRGB_TO_P3 = [
  0.8224619687, 0.1775380313, 0, 0.0331941989, 0.9668058011, 0, 0.0170826307, 0.0723974407, 0.9105199286,
] as const;

/** The matrix from one to the other; null where they are the same. */
export function primariesMatrix(from: Primaries, to: Primaries): readonly number[] | null {
  if (from === to) return null;
  return from === 'srgb' ? SRGB_TO_P3 : P3_TO_SRGB;
}

/** How far outside of sRGB still counts as inside: half an 8-bit level near black. */
const ROUNDING = 1.6e-4;
let linear: Float32Array | null = null;

/** True for a coded colour of Display P3, 0..255 each, that sRGB has, too. */
export function isInSrgb(r: number, g: number, b: number): boolean {
  linear ??= linearTable(1);
  return times(P3_TO_SRGB, [linear[r]!, linear[g]!, linear[b]!]).every(
    (value) => value >= -ROUNDING && value <= 1 + ROUNDING,
  );
}

/** A 3 x 3 matrix after another one, both row by row. */
export const product = (a: readonly number[], b: readonly number[]): number[] =>
  Array.from({ length: 9 }, (_, i) => {
    const [row, column] = [3 * Math.floor(i / 3), i % 3];
    return [0, 1, 2].reduce((sum, k) => sum + a[row + k]! * b[3 * k + column]!, 0);
  });

/** Linear light of primaries to the responses of three cones, and back, see `oklab.ts`. */
export const CONES_OF: Readonly<Record<Primaries, { to: readonly number[]; from: readonly number[] }>> = {
  srgb: { to: TO_CONES, from: FROM_CONES },
  'display-p3': { to: product(TO_CONES, P3_TO_SRGB), from: product(SRGB_TO_P3, FROM_CONES) },
};
