import type { EllipticalBand, IrisBand } from '../../recipe/focus-schema';
import type { FieldFunction } from '../field-function';
import { type Axes, rotatedAxes } from '../../geometry/axes';
import { type Region, type Size, diagonal } from '../../geometry/size';
import { type Affine, type PackedBand, type PackedSide, packBand, inverseFalloff } from '../pack';
import { profileAt, profilePieces } from '../profile';

/** A radius of nothing is a very small one, so that no arithmetic leaves the finite. */
const MIN_RADIUS = 1e-6;

export const clampRadius = (radius: number): number => Math.max(radius, MIN_RADIUS);

/** Haze inside and outside, with the band turned inside out or not. */
export function innerOuterHaze(band: EllipticalBand | IrisBand): [number, number] {
  return band.invert ? [band.haze, band.innerHaze] : [band.innerHaze, band.haze];
}

/** The own haze of a band with an inside and an outside, as a function of u: 0 at its rim, 1 at its outer edge. */
export function ringProfile(band: EllipticalBand | IrisBand): (u: number) => number {
  const pieces = profilePieces(band.profile);
  const [from, to] = innerOuterHaze(band);
  return (u) => from + (to - from) * profileAt(pieces, u);
}

/** A coordinate of a turned frame over a region, divided by `unit` pixels. */
export function affineAlong(
  frame: Axes,
  [ax, ay]: readonly [number, number],
  unit: number,
  region: Region,
): Affine {
  const start = (region.x + 0.5 - frame.x) * ax + (region.y + 0.5 - frame.y) * ay;
  return { start: start / unit, perColumn: ax / unit, perRow: ay / unit };
}

/** ρ: 1 on the rim. */
export function ellipticalDistance(band: EllipticalBand, size: Size): FieldFunction {
  const frame = rotatedAxes(band.centre, band.angle, size);
  const d = diagonal(size);
  const [a, b] = band.radii.map((radius) => clampRadius(radius) * d) as [number, number];
  return (x, y) => {
    const [dx, dy] = [x - frame.x, y - frame.y];
    return Math.hypot((dx * frame.ux + dy * frame.uy) / a, (dx * frame.vx + dy * frame.vy) / b);
  };
}

export function ellipticalField(band: EllipticalBand, size: Size): FieldFunction {
  const distance = ellipticalDistance(band, size);
  const profile = ringProfile(band);
  const rate = inverseFalloff(band.falloff);
  return (x, y) => profile((distance(x, y) - 1) * rate);
}

export function packElliptical(band: EllipticalBand, region: Region): PackedBand {
  const frame = rotatedAxes(band.centre, band.angle, region.picture);
  const d = diagonal(region.picture);
  const [from, to] = innerOuterHaze(band);
  const side: PackedSide = { clear: 1, rate: inverseFalloff(band.falloff), from, to };
  return packBand(band, side, side, {
    kind: 'elliptical',
    p: affineAlong(frame, [frame.ux, frame.uy], clampRadius(band.radii[0]) * d, region),
    q: affineAlong(frame, [frame.vx, frame.vy], clampRadius(band.radii[1]) * d, region),
  });
}
