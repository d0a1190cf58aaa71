import type { Band } from '../recipe/focus-schema';
import { profilePieces } from './profile';

/** Floats of the table of an iris: its rim, and two rounds of eight cubics. */
export const RIM_FLOATS = 8 + 2 * 8 * 4;

/** A side of a band as the kernel `bandRow` reads it: haze goes from `from` to `to` as u = (|s| - clear) x rate goes 0..1. */
export interface PackedSide {
  clear: number;
  rate: number;
  from: number;
  to: number;
}

/** A distance that grows evenly over the region: its value at the first pixel, and per column and row. */
export interface Affine {
  start: number;
  perColumn: number;
  perRow: number;
}

/** Where a band's distances come from: an affine ramp, or its shape's kernel. */
export type DistanceSource =
  | ({ kind: 'affine' } & Affine)
  /** s = sqrt(p² + q²), p and q even over the picture. */
  | { kind: 'elliptical'; p: Affine; q: Affine }
  /** See `irisDistanceRow`: the same axes, and the table of its rim, falloff and outline. */
  | { kind: 'iris'; p: Affine; q: Affine; rim: Float32Array };

/** A band ready for the kernels: its measure, and the parameters of `bandRow`. */
export interface PackedBand {
  measure: DistanceSource;
  parameters: Float32Array;
}

/** Floats before the profile's pieces. */
const HEADER = 10;
/** Most floats that `parameters` may have: a profile of 32 knots. */
export const BAND_FLOATS = HEADER + 5 * 34;

/** 1 / falloff; a falloff of nothing is a very steep one, so that no arithmetic leaves the finite. */
export function inverseFalloff(falloff: number): number {
  return 1 / Math.max(falloff, 1e-7);
}

/** A side on which the band stays as it is at its edge. */
export function constantSide(haze: number): PackedSide {
  return { clear: 0, rate: 0, from: haze, to: haze };
}

export function packBand(
  band: Pick<Band, 'mode' | 'profile'>,
  near: PackedSide,
  far: PackedSide,
  measure: DistanceSource,
): PackedBand {
  const pieces = profilePieces(band.profile);
  const side = ({ clear, rate, from, to }: PackedSide): number[] => [clear, rate, from, to - from];
  const parameters = new Float32Array(HEADER + pieces.length * 5);
  parameters.set([...side(near), ...side(far), band.mode === 'haze' ? 1 : 0, pieces.length]);
  pieces.forEach((piece, i) => parameters.set([piece.start, ...piece.coefficients], HEADER + i * 5));
  return { measure, parameters };
}

export function affineBand(
  band: Pick<Band, 'mode' | 'profile'>,
  near: PackedSide,
  far: PackedSide,
  measure: Affine,
): PackedBand {
  return packBand(band, near, far, { kind: 'affine', ...measure });
}
