import { type Band, CUT_RISE, type FieldFunction, type Size } from '@hazy-lens/core';
import { type RailAxis, axisExtent, ownAlong } from './rail-axis';

/** Where haze 0 and haze 1 stand across the rail, in its pixels. */
export const [LEFT, RIGHT] = [12, 74] as const;
const SAMPLES = 240;
/** How far the mark of a seam stands beside the curve. */
const BESIDE = 4;

export interface RailScene {
  axis: RailAxis;
  size: Size;
  field: FieldFunction;
  /** Radius in pixels of the picture where haze is 1. */
  radiusPx: number;
  /** Where the axis' zero is down the rail, and the rail's pixels to one of the picture. */
  scale: { middle: number; perPixel: number };
  height: number;
  band: Band | null;
  /** The band's own curve stands out from the field's. */
  showsOwn: boolean;
}

/** A stretch down the rail. */
interface Span {
  top: number;
  height: number;
}

/** The cross-section as drawings: paths of SVG, and where each side begins and ends. */
export interface RailCurve {
  middle: number;
  top: number;
  bottom: number;
  line: string;
  area: string;
  own: string | null;
  seams: string[];
  near: Span;
  far: Span;
}

/** Where a haze stands across the rail. */
export function xOf(haze: number): number {
  return LEFT + haze * (RIGHT - LEFT);
}

export function railCurve(scene: RailScene): RailCurve {
  const { axis, size, field, radiusPx, scale, band, showsOwn } = scene;
  const { middle, perPixel } = scale;
  const [first, last] = axisExtent(axis, size);
  const points = Array.from({ length: SAMPLES + 1 }, (_, i) => {
    const along = first + ((last - first) * i) / SAMPLES;
    const haze = field(axis.origin.x + axis.direction.x * along, axis.origin.y + axis.direction.y * along);
    return { along, haze, x: xOf(haze), y: middle + along * perPixel };
  });
  const line = path(points);
  const [top, bottom] = [points[0]!.y, points.at(-1)!.y];
  const own = band && showsOwn ? ownAlong(band, size, axis) : null;
  const step = (last - first) / SAMPLES;
  const isSteep = points
    .slice(1)
    .map((p, i) => (Math.abs(p.haze - points[i]!.haze) * radiusPx) / step > CUT_RISE);
  return {
    middle,
    top,
    bottom,
    line,
    area: `${line}L${LEFT} ${bottom}L${LEFT} ${top}Z`,
    own: own ? path(points.map(({ along, y }) => ({ x: xOf(own(along)), y }))) : null,
    seams: runs(isSteep).map(([from, to]) =>
      path(points.slice(from, to + 2).map(({ x, y }) => ({ x: x + BESIDE, y }))),
    ),
    ...sides(scene),
  };
}

/** The near side lies below the line, unless the band's own direction is up; other kinds have one side. */
function sides({ axis, scale: { middle }, height, band }: RailScene): { near: Span; far: Span } {
  const below = { top: middle, height: Math.max(0, height - middle) };
  const above = { top: 0, height: Math.max(0, Math.min(height, middle)) };
  if (band?.kind !== 'planar') return { near: { top: 0, height: 0 }, far: { top: 0, height } };
  return axis.sense === 1 ? { near: below, far: above } : { near: above, far: below };
}

function path(points: readonly { x: number; y: number }[]): string {
  return points.map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${x.toFixed(2)} ${y.toFixed(2)}`).join('');
}

/** First and last index of each stretch of true. */
function runs(flags: readonly boolean[]): [number, number][] {
  const found: [number, number][] = [];
  flags.forEach((flag, i) => {
    if (flag && !flags[i - 1]) found.push([i, i]);
    else if (flag) found.at(-1)![1] = i;
  });
  return found;
}
