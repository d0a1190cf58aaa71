import {
  MEND_LIMITS,
  type Mend,
  type Point,
  type Size,
  toCurrentFrame,
  toOriginFrame,
  isIdentityCarry,
} from '@hazy-lens/core';

/** What the mend of a list is called: its kind, and which of its kind it is. */
export function mendName(mends: readonly Mend[], i: number): string {
  const { kind } = mends[i]!;
  const nth = mends.slice(0, i + 1).filter((one) => one.kind === kind).length;
  return `${kind === 'fill' ? 'Fill' : 'Clone'} ${nth}`;
}

/** A mend as it lies on the frame in view. */
export function carriedMend(mend: Mend, picture: Size): Mend {
  if (isIdentityCarry(mend.carry)) return mend;
  const points = mend.points.map(toCurrentFrame(mend.carry, picture));
  return { ...mend, points, radius: mend.radius * mend.carry.scale };
}

/**
 * A mend elsewhere, as far as a recipe may hold it. @param way there on the frame in view, in widths and heights of the
 * picture.
 */
export function movedMend(mend: Mend, way: Point, picture: Size): Mend {
  const home = toOriginFrame(mend.carry, picture);
  const [start, end] = [home([0, 0]), home(way)];
  const by = [end[0] - start[0], end[1] - start[1]] as const;
  const [least, most] = MEND_LIMITS.place;
  const [dx, dy] = ([0, 1] as const).map((axis) => {
    const places = mend.points.map((point) => point[axis]);
    return Math.min(most - Math.max(...places), Math.max(least - Math.min(...places), by[axis]));
  }) as [number, number];
  const points = mend.points.map(([x, y]): Point => [within(x + dx), within(y + dy)]);
  return { ...mend, points };
}

/** What rounding has taken a hair too far. */
const within = (place: number): number =>
  Math.min(MEND_LIMITS.place[1], Math.max(MEND_LIMITS.place[0], place));
