import {
  type Band,
  type EllipticalBand,
  type IrisBand,
  type Profile,
  type Size,
  bandField,
  diagonal,
  ellipticalDistance,
  irisFalloff,
  irisPolar,
  startEndHaze,
  planarFrame,
  profileAt,
  profilePieces,
  innerOuterHaze,
} from '@hazy-lens/core';
import type { Spot } from '../stage/handles/handles';
import { setFalloff } from '../stage/handles/iris-handles';
import {
  EDGE_NAMES,
  type EdgeName,
  edgeDistance,
  edgeSide,
  setEdge,
  sidesOf,
} from '../stage/handles/planar-handles';
import { profileWords } from '../words/profile';

/** The line through the picture that a profile is taken along: it runs down the screen, or to the right where level. */
export interface RailAxis {
  /** Where the band has its middle or its start, in pixels of the picture; the rail's own zero. */
  origin: Spot;
  /** Unit vector. */
  direction: Spot;
  /** 1 where the band's own direction is the axis', -1 where it is the other one. */
  sense: 1 | -1;
}

/** A knot on the profile: a value of the band, where it is along the axis and how hazy. */
export interface RailKnot {
  id: string;
  name: string;
  /** Pixels of the picture along the axis from its origin. */
  along: number;
  haze: number;
  side: 'near' | 'far';
  /** A knot of the profile itself, which can be taken away. */
  own: boolean;
}

export interface KnotMove {
  id: string;
  /** Pixels of the picture along the axis. */
  along: number;
  haze: number;
  linked: boolean;
}

export function railAxis(band: Band, size: Size, rayAngle: number): RailAxis {
  const axis = (origin: Spot, x: number, y: number): RailAxis => {
    const turned = y < -1e-9 || (Math.abs(y) <= 1e-9 && x < 0);
    const sense = turned ? -1 : 1;
    return { origin, direction: { x: x * sense, y: y * sense }, sense };
  };
  if (band.kind === 'planar') {
    const frame = planarFrame(band, size);
    return axis({ x: frame.x, y: frame.y }, frame.vx, frame.vy);
  }
  if (band.kind === 'linear') {
    const origin = { x: band.start[0] * size.width, y: band.start[1] * size.height };
    const [dx, dy] = [band.end[0] * size.width - origin.x, band.end[1] * size.height - origin.y];
    const length = Math.hypot(dx, dy);
    return length < 1e-3 ? axis(origin, 0, 1) : axis(origin, dx / length, dy / length);
  }
  const a = (rayAngle * Math.PI) / 180;
  const origin = { x: band.centre[0] * size.width, y: band.centre[1] * size.height };
  return axis(origin, Math.cos(a), Math.sin(a));
}

/** From where to where the picture reaches along an axis, in pixels from its origin. */
export function axisExtent({ origin, direction }: RailAxis, size: Size): [number, number] {
  const ends = [0, size.width].flatMap((x) =>
    [0, size.height].map((y) => (x - origin.x) * direction.x + (y - origin.y) * direction.y),
  );
  return [Math.min(...ends), Math.max(...ends)];
}

/** The band's own haze along the axis. */
export function ownAlong(band: Band, size: Size, { origin, direction }: RailAxis): (along: number) => number {
  const field = bandField(band, size);
  return (along) => field(origin.x + direction.x * along, origin.y + direction.y * along);
}

/** Where a falloff begins and ends along the axis, and its haze there: what a profile is stretched over. */
interface Stretch {
  side: 'near' | 'far';
  from: number;
  to: number;
  hazeFrom: number;
  hazeTo: number;
}

function ringStretch(band: EllipticalBand | IrisBand, size: Size, axis: RailAxis): Stretch {
  const [hazeFrom, hazeTo] = innerOuterHaze(band);
  const ray = { x: axis.direction.x * axis.sense, y: axis.direction.y * axis.sense };
  const [x, y] = [axis.origin.x + ray.x, axis.origin.y + ray.y];
  const [rho, falloff] =
    band.kind === 'elliptical'
      ? [ellipticalDistance(band, size)(x, y), band.falloff]
      : (() => {
          const [distance, theta] = irisPolar(band, size)(x, y);
          return [distance, irisFalloff(band)(theta)] as const;
        })();
  const rim = axis.sense / Math.max(1e-9, rho);
  return { side: 'far', from: rim, to: rim * (1 + falloff), hazeFrom, hazeTo };
}

function stretches(band: Band, size: Size, axis: RailAxis): Stretch[] {
  const d = diagonal(size);
  if (band.kind === 'planar')
    return (['far', 'near'] as const).map((side) => {
      const { clear, falloff, haze } = band[side];
      const sign = (side === 'near' ? 1 : -1) * axis.sense * d;
      const [hazeFrom, hazeTo] = band.invert ? [haze, 0] : [0, haze];
      return { side, from: sign * clear, to: sign * (clear + falloff), hazeFrom, hazeTo };
    });
  if (band.kind === 'linear') {
    const [hazeFrom, hazeTo] = startEndHaze(band);
    const length = Math.hypot(
      (band.end[0] - band.start[0]) * size.width,
      (band.end[1] - band.start[1]) * size.height,
    );
    return [{ side: 'far', from: 0, to: axis.sense * length, hazeFrom, hazeTo }];
  }
  return [ringStretch(band, size, axis)];
}

/** Names of the ends of a stretch by kind of band. */
const END_NAMES = {
  linear: [profileWords.start, 'End'],
  elliptical: [profileWords.rim, profileWords.outerEdge],
  iris: [profileWords.rim, profileWords.outerEdge],
} as const;

export function railKnots(band: Band, size: Size, axis: RailAxis): RailKnot[] {
  return stretches(band, size, axis).flatMap(({ side, from, to, hazeFrom, hazeTo }) => {
    const ends =
      band.kind === 'planar'
        ? (['clear', 'outer'] as const).map((edge) => ({
            id: `${side}-${edge}`,
            name: EDGE_NAMES[`${side}-${edge}` as EdgeName],
          }))
        : END_NAMES[band.kind].map((name, i) => ({ id: i === 0 ? 'from' : 'to', name }));
    const knots = typeof band.profile === 'string' ? [] : band.profile.knots;
    return [
      { ...ends[0]!, along: from, haze: hazeFrom, side, own: false },
      ...knots.map(([u, p], i) => ({
        id: `${side}-knot-${i}`,
        name: profileWords.knotOfTheProfileNamed(i + 1),
        along: from + (to - from) * u,
        haze: hazeFrom + (hazeTo - hazeFrom) * p,
        side,
        own: true,
      })),
      { ...ends[1]!, along: to, haze: hazeTo, side, own: false },
    ];
  });
}

/** A profile as knots: those it has, or four that draw a named one. */
export function knotsOf(profile: Profile): [number, number][] {
  if (typeof profile !== 'string') return profile.knots.map(([u, p]) => [u, p]);
  const pieces = profilePieces(profile);
  return [0.2, 0.4, 0.6, 0.8].map((u) => [u, Number(profileAt(pieces, u).toFixed(4))]);
}

const GAP = 0.01;
const MAX_KNOTS = 32;

/** A place along the axis and a haze as a knot (u, p) of the stretch it falls on, or null where it falls on none. */
function knotAt(stretch: Stretch, along: number, haze: number): [number, number] | null {
  const u = (along - stretch.from) / (stretch.to - stretch.from);
  const span = stretch.hazeTo - stretch.hazeFrom;
  if (!(u > GAP && u < 1 - GAP)) return null;
  return [u, span === 0 ? u : Math.min(1, Math.max(0, (haze - stretch.hazeFrom) / span))];
}

/** Adds a knot to the profile where the rail was pointed at; false where there is no falloff. */
export function addKnot(band: Band, size: Size, axis: RailAxis, along: number, haze: number): boolean {
  for (const stretch of stretches(band, size, axis)) {
    const knot = knotAt(stretch, along, haze);
    const knots = knotsOf(band.profile).filter(([u]) => !knot || Math.abs(u - knot[0]) > 4 * GAP);
    if (!knot || knots.length >= MAX_KNOTS) continue;
    const at = knots.findIndex(([u]) => u > knot[0]);
    knots.splice(at < 0 ? knots.length : at, 0, knot);
    band.profile = { knots: risen(knots, at < 0 ? knots.length - 1 : at) };
    return true;
  }
  return false;
}

export function removeKnot(band: Band, id: string): void {
  const i = Number(id.split('-').at(-1));
  if (typeof band.profile === 'string') return;
  const knots = band.profile.knots.filter((_, k) => k !== i);
  band.profile = knots.length === 0 ? 'linear' : { knots };
}

/** Keeps knots from falling when one of them moved: it gives way to its neighbours. */
function risen(knots: [number, number][], moved: number): [number, number][] {
  const low = knots[moved - 1]?.[1] ?? 0;
  const high = knots[moved + 1]?.[1] ?? 1;
  return knots.map(([u, p], i) => (i === moved ? [u, Math.min(high, Math.max(low, p))] : [u, p]));
}

/** Writes what moving a knot makes of a band; `start` is the band as it was when the move began. */
export function moveKnot(band: Band, start: Band, size: Size, axis: RailAxis, move: KnotMove): void {
  const knot = railKnots(start, size, axis).find(({ id }) => id === move.id);
  if (!knot) return;
  const along = knot.along + move.along;
  const haze = Math.min(1, Math.max(0, knot.haze + move.haze));
  if (knot.own) {
    const stretch = stretches(start, size, axis).find(({ side }) => side === knot.side)!;
    const i = Number(move.id.split('-').at(-1));
    const knots = knotsOf(start.profile);
    const span = stretch.hazeTo - stretch.hazeFrom;
    const low = (knots[i - 1]?.[0] ?? 0) + GAP;
    const high = (knots[i + 1]?.[0] ?? 1) - GAP;
    const u = (along - stretch.from) / (stretch.to - stretch.from);
    knots[i] = [
      Number.isFinite(u) ? Math.min(high, Math.max(low, u)) : knots[i]![0],
      span === 0 ? knots[i]![1] : Math.min(1, Math.max(0, (haze - stretch.hazeFrom) / span)),
    ];
    band.profile = { knots: risen(knots, i) };
  } else if (band.kind === 'planar' && start.kind === 'planar') {
    const out = (edgeSide(move.id) === 'near' ? 1 : -1) * axis.sense * (move.along / diagonal(size));
    const turned = move.id.endsWith('outer') && !start.invert ? move.haze : 0;
    for (const side of sidesOf(move.id, move.linked)) {
      band[side] = {
        ...start[side],
        haze: Math.min(1, Math.max(0, start[side].haze + turned)),
      };
      if (out !== 0) setEdge(band[side], move.id, edgeDistance(start, move.id) + out);
    }
  } else if (band.kind === 'linear' && start.kind === 'linear') {
    const isStart = move.id === 'from';
    const [x, y] = isStart ? start.start : start.end;
    const moved: [number, number] = [
      x + (axis.direction.x * move.along) / size.width,
      y + (axis.direction.y * move.along) / size.height,
    ];
    if (isStart) band.start = moved;
    else band.end = moved;
    if (isStart !== start.invert) band.startHaze = haze;
    else band.endHaze = haze;
  } else if (band.kind !== 'planar' && band.kind !== 'linear')
    moveRing(band, start as typeof band, size, axis, move, along, haze);
}

function moveRing(
  band: EllipticalBand | IrisBand,
  start: EllipticalBand | IrisBand,
  size: Size,
  axis: RailAxis,
  move: KnotMove,
  along: number,
  haze: number,
): void {
  const { from } = ringStretch(start, size, axis);
  if (move.id === 'from') {
    const scale = Math.max(0.01, along / from);
    if (band.kind === 'elliptical' && start.kind === 'elliptical')
      band.radii = [start.radii[0] * scale, start.radii[1] * scale];
    else if (band.kind === 'iris' && start.kind === 'iris') band.radius = start.radius * scale;
  } else {
    const ratio = Math.min(20, Math.max(0, along / from - 1));
    if (band.kind === 'elliptical') band.falloff = ratio;
    else if (band.kind === 'iris' && start.kind === 'iris') {
      const ray = irisPolar(start, size)(
        axis.origin.x + axis.direction.x * axis.sense,
        axis.origin.y + axis.direction.y * axis.sense,
      )[1];
      const eighth = (Math.round((ray / Math.PI) * 4) + 8) % 8;
      setFalloff(band, start, eighth, ratio, move.linked);
    }
  }
  if ((move.id === 'from') !== start.invert) band.innerHaze = haze;
  else band.haze = haze;
}
