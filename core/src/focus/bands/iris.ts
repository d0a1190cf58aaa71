import type { IrisBand } from '../../recipe/focus-schema';
import type { FieldFunction } from '../field-function';
import { type Region, type Size, diagonal } from '../../geometry/size';
import { rotatedAxes } from '../../geometry/axes';
import { type PackedBand, RIM_FLOATS, constantSide, packBand, inverseFalloff } from '../pack';
import { cubicAt, periodicPieces } from '../profile';
import { affineAlong, clampRadius, innerOuterHaze, ringProfile } from './elliptical';

const TURN = 2 * Math.PI;
/** Coefficients of eight pieces. */
const EIGHTHS = 8 * 4;

/** Angle within 0..2π. */
function wrapped(theta: number): number {
  const turned = theta % TURN;
  return turned < 0 ? turned + TURN : turned;
}

/**
 * R(θ): the rim's distance from the centre as a share of the radius to a corner. A regular polygon of n sides has
 * cos(π/n) / cos((θ mod 2π/n) − π/n); roundness mixes it with a circle.
 */
export function irisRim(band: Pick<IrisBand, 'sides' | 'roundness'>): (theta: number) => number {
  const { sides, roundness } = band;
  const half = Math.PI / sides;
  return (theta) => {
    const within = wrapped(theta) % (2 * half);
    return ((1 - roundness) * Math.cos(half)) / Math.cos(within - half) + roundness;
  };
}

/** Eight ratios of a turn, joined by a periodic cubic. */
function aroundTurn(ratios: IrisBand['falloff']): (theta: number) => number {
  const pieces = periodicPieces(ratios);
  return (theta) => Math.max(0, cubicAt(pieces, (wrapped(theta) / TURN) * 8));
}

/** The falloff ratio at an angle of the band's own frame. */
export const irisFalloff = (band: Pick<IrisBand, 'falloff'>): ((theta: number) => number) =>
  aroundTurn(band.falloff);

/** R(θ) O(θ): the rim with its eight points pulled out or in. */
export function irisOutline(
  band: Pick<IrisBand, 'sides' | 'roundness' | 'outline'>,
): (theta: number) => number {
  const rim = irisRim(band);
  const outline = aroundTurn(band.outline);
  return (theta) => rim(theta) * outline(theta);
}

/** Where a point lies in the band's frame: ρ (1 on the rim) and the polar angle, of the turned, unstretched frame. */
export function irisPolar(band: IrisBand, size: Size): (x: number, y: number) => [number, number] {
  const frame = rotatedAxes(band.centre, band.angle, size);
  const radius = clampRadius(band.radius) * diagonal(size);
  const outline = irisOutline(band);
  return (x, y) => {
    const [dx, dy] = [x - frame.x, y - frame.y];
    const p = (dx * frame.ux + dy * frame.uy) / (radius * band.aspect);
    const q = (dx * frame.vx + dy * frame.vy) / radius;
    const theta = Math.atan2(q, p);
    return [Math.hypot(p, q) / outline(theta), theta];
  };
}

export function irisField(band: IrisBand, size: Size): FieldFunction {
  const polar = irisPolar(band, size);
  const falloff = irisFalloff(band);
  const profile = ringProfile(band);
  return (x, y) => {
    const [rho, theta] = polar(x, y);
    return profile((rho - 1) * inverseFalloff(falloff(theta)));
  };
}

export function packIris(band: IrisBand, region: Region): PackedBand {
  const frame = rotatedAxes(band.centre, band.angle, region.picture);
  const radius = clampRadius(band.radius) * diagonal(region.picture);
  const [from, to] = innerOuterHaze(band);
  const rim = new Float32Array(RIM_FLOATS);
  rim.set([
    band.sides / TURN,
    Math.PI / band.sides,
    (1 - band.roundness) * Math.cos(Math.PI / band.sides),
    band.roundness,
    // Most outlines are not pulled.
    band.outline.every((ratio) => ratio === 1) ? 0 : 1,
  ]);
  for (const [k, ratios] of [band.falloff, band.outline].entries())
    periodicPieces(ratios).forEach((piece, i) => rim.set(piece.coefficients, 8 + k * EIGHTHS + i * 4));
  return packBand(band, { clear: 0, rate: 1, from, to }, constantSide(from), {
    kind: 'iris',
    p: affineAlong(frame, [frame.ux, frame.uy], radius * band.aspect, region),
    q: affineAlong(frame, [frame.vx, frame.vy], radius, region),
    rim,
  });
}
