import type { BandSide, PlanarBand } from '../recipe/schema';
import { profileAt, profilePieces } from './profile';

/** Width and height of the whole picture in pixels. */
export interface Size {
  width: number;
  height: number;
}

/** Length of the picture's diagonal in pixels: the unit of every length in a recipe. */
export function diagonal(size: Size): number {
  return Math.hypot(size.width, size.height);
}

/** Where the band's own frame stands, in pixels; the normal points to the near side. */
export interface PlanarFrame {
  x: number;
  y: number;
  lineX: number;
  lineY: number;
  normalX: number;
  normalY: number;
}

export function planarFrame(band: PlanarBand, size: Size): PlanarFrame {
  const a = (band.angle * Math.PI) / 180;
  const [cos, sin] = [Math.cos(a), Math.sin(a)];
  return {
    x: band.centre[0] * size.width,
    y: band.centre[1] * size.height,
    lineX: cos,
    lineY: sin,
    normalX: -sin,
    normalY: cos,
  };
}

/** Signed distance of a point (pixels) from the focus line as a fraction of the diagonal; near side positive. */
export function planarDistance(band: PlanarBand, size: Size, x: number, y: number): number {
  const frame = planarFrame(band, size);
  return ((x - frame.x) * frame.normalX + (y - frame.y) * frame.normalY) / diagonal(size);
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

/** Part of a picture that is computed: its size and place, and the size of the whole. */
export interface Region extends Size {
  x: number;
  y: number;
  picture: Size;
}

/** Number of floats that `packPlanarBand` fills for a band with so many profile pieces. */
const HEADER = 11;

/**
 * The band as the kernel reads it (see `planarRow`), with the distance at the region's first pixel in front and its
 * step per row behind.
 */
export function packPlanarBand(band: PlanarBand, region: Region): { floats: Float32Array; rowStep: number } {
  const { picture } = region;
  const frame = planarFrame(band, picture);
  const d = diagonal(picture);
  const pieces = profilePieces(band.profile);
  const floats = new Float32Array(HEADER + pieces.length * 5);
  const rate = (side: BandSide): number => 1 / Math.max(side.falloff, 1e-7);
  floats.set([
    planarDistance(band, picture, region.x + 0.5, region.y + 0.5),
    frame.normalX / d,
    band.near.clear, rate(band.near), band.near.haze,
    band.far.clear, rate(band.far), band.far.haze,
    band.invert ? 1 : 0,
    band.mode === 'haze' ? 1 : 0,
    pieces.length,
  ]); // prettier-ignore
  pieces.forEach((piece, i) => floats.set([piece.start, ...piece.coefficients], HEADER + i * 5));
  return { floats, rowStep: frame.normalY / d };
}
