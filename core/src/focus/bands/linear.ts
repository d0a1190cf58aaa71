import type { LinearBand } from '../../recipe/focus-schema';
import type { FieldFunction } from '../field-function';
import type { Region, Size } from '../../geometry/size';
import { type PackedBand, affineBand, constantSide } from '../pack';
import { profileAt, profilePieces } from '../profile';

/** The gradient in pixels: where it starts, and the vector whose dot product with (p - start) is t. */
export interface Gradient {
  x: number;
  y: number;
  tx: number;
  ty: number;
}

/** Null where start and end fall together: there is no direction then. */
export function linearGradient(band: LinearBand, size: Size): Gradient | null {
  const [x, y] = [band.start[0] * size.width, band.start[1] * size.height];
  const [dx, dy] = [band.end[0] * size.width - x, band.end[1] * size.height - y];
  const square = dx * dx + dy * dy;
  return square < 1e-6 ? null : { x, y, tx: dx / square, ty: dy / square };
}

/** Haze at both ends, with the band turned inside out or not. */
export function startEndHaze(band: LinearBand): [number, number] {
  return band.invert ? [band.endHaze, band.startHaze] : [band.startHaze, band.endHaze];
}

/** The band's own haze as a function of t, the place between start (0) and end (1). */
export function linearProfile(band: LinearBand): (t: number) => number {
  const pieces = profilePieces(band.profile);
  const [from, to] = startEndHaze(band);
  return (t) => from + (to - from) * profileAt(pieces, t);
}

/** Without a direction the band is the haze of its end everywhere. */
export function linearField(band: LinearBand, size: Size): FieldFunction {
  const gradient = linearGradient(band, size);
  const profile = linearProfile(band);
  if (!gradient) return () => profile(1);
  const { x: x0, y: y0, tx, ty } = gradient;
  return (x, y) => profile((x - x0) * tx + (y - y0) * ty);
}

export function packLinear(band: LinearBand, region: Region): PackedBand {
  const gradient = linearGradient(band, region.picture);
  const [from, to] = startEndHaze(band);
  if (!gradient)
    return affineBand(band, constantSide(to), constantSide(to), { start: 0, perColumn: 0, perRow: 0 });
  const { x, y, tx, ty } = gradient;
  return affineBand(band, { clear: 0, rate: 1, from, to }, constantSide(from), {
    start: (region.x + 0.5 - x) * tx + (region.y + 0.5 - y) * ty,
    perColumn: tx,
    perRow: ty,
  });
}
