import type { BandSide, PlanarBand } from '../../recipe/focus-schema';
import type { FieldFunction } from '../field-function';
import { type Axes, rotatedAxes } from '../../geometry/axes';
import { type Region, type Size, diagonal } from '../../geometry/size';
import { type PackedBand, affineBand, inverseFalloff } from '../pack';
import { profileAt, profilePieces } from '../profile';

/** The band's frame: u along the focus line, v its normal, which points to the near side. */
export function planarFrame(band: PlanarBand, size: Size): Axes {
  return rotatedAxes(band.centre, band.angle, size);
}

/** Signed distance of a point (pixels) from the focus line as a fraction of the diagonal; near side positive. */
export function planarDistance(band: PlanarBand, size: Size, x: number, y: number): number {
  const frame = planarFrame(band, size);
  return ((x - frame.x) * frame.vx + (y - frame.y) * frame.vy) / diagonal(size);
}

/** The band's own haze, 0..1, as a function of the signed distance: h = haze x P(clamp((|s| - clear) / falloff)). */
export function planarProfile(band: PlanarBand): (s: number) => number {
  const pieces = profilePieces(band.profile);
  return (s) => {
    const side: BandSide = s >= 0 ? band.near : band.far;
    const beyond = Math.abs(s) - side.clear;
    const u = side.falloff > 0 ? beyond / side.falloff : beyond > 0 ? 1 : 0;
    const h = side.haze * profileAt(pieces, u);
    return band.invert ? side.haze - h : h;
  };
}

export function planarField(band: PlanarBand, size: Size): FieldFunction {
  const frame = planarFrame(band, size);
  const profile = planarProfile(band);
  const d = diagonal(size);
  return (x, y) => profile(((x - frame.x) * frame.vx + (y - frame.y) * frame.vy) / d);
}

export function packPlanar(band: PlanarBand, region: Region): PackedBand {
  const { picture } = region;
  const { vx, vy } = planarFrame(band, picture);
  const d = diagonal(picture);
  const sideOf = ({ clear, falloff, haze }: BandSide) => ({
    clear,
    rate: inverseFalloff(falloff),
    from: band.invert ? haze : 0,
    to: band.invert ? 0 : haze,
  });
  return affineBand(band, sideOf(band.near), sideOf(band.far), {
    start: planarDistance(band, picture, region.x + 0.5, region.y + 0.5),
    perColumn: vx / d,
    perRow: vy / d,
  });
}
