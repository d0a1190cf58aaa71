import {
  IDENTITY_CARRY,
  type Carry,
  type Point,
  type Recipe,
  type Scribble,
  type Size,
  type Stroke,
  toCurrentFrame,
  rebaseCarryKeys,
  toOriginFrame,
  isIdentityCarry,
} from '@hazy-lens/core';

type StrokePoint = Stroke['points'][number];

/** How far outside of the picture a point of a stroke may lie, in widths and heights from its corner. */
const [LEAST, MOST] = [-4, 5];

/** Both numbers kept between the least and the most. */
export function pointWithin([x, y]: Point, [least, most]: readonly [number, number]): Point {
  return [Math.min(most, Math.max(least, x)), Math.min(most, Math.max(least, y))];
}

/** A point kept within what a stroke may hold. */
export const strokePlace = (point: Point): Point => pointWithin(point, [LEAST, MOST]);

function movedPoints(points: readonly StrokePoint[], move: (at: Point) => Point): StrokePoint[] {
  return points.map(([x, y, ...pressure]) => [...strokePlace(move([x, y])), ...pressure] as StrokePoint);
}

/** A stroke that was drawn on the frame in view, as it is on the frame that all strokes are carried from. */
export function toReferenceFrame(stroke: Stroke, carry: Carry, picture: Size): Stroke {
  if (isIdentityCarry(carry)) return stroke;
  const points = movedPoints(stroke.points, toOriginFrame(carry, picture));
  return { ...stroke, points, radius: stroke.radius / carry.scale };
}

/** Scribbles as they lie on the frame in view. */
export function carriedScribbles(scribbles: readonly Scribble[], carry: Carry, picture: Size): Scribble[] {
  if (isIdentityCarry(carry)) return [...scribbles];
  const point = toCurrentFrame(carry, picture);
  return scribbles.map((one) => ({
    ...one,
    points: movedPoints(one.points, point),
    radius: one.radius * carry.scale,
  }));
}

/**
 * Has a subject begin at the frame in view: what it was cut by so far comes along, and from here it goes on, and back, as
 * it was carried. On a still nothing changes.
 * @param draft to be changed. @param seen the same recipe as it is at `time`. @param time of the frame; null for a still.
 */
export function reanchorMatte(
  draft: Recipe,
  seen: Recipe,
  id: string,
  time: number | null,
  picture: Size,
): void {
  const index = seen.focus.mattes.findIndex((one) => one.id === id);
  const matte = draft.focus.mattes[index];
  if (!matte || time === null) return;
  matte.at = time;
  const { carry, scribbles } = seen.focus.mattes[index]!;
  if (isIdentityCarry(carry)) return;
  const keys = rebaseCarryKeys(seen, ['focus', 'mattes', index, 'carry'], time, picture);
  const others = seen.keys.filter(({ of }) => !of.startsWith(`focus/mattes/${id}/carry/`));
  draft.keys = [...others, ...keys].sort((a, b) => a.at - b.at);
  matte.carry = IDENTITY_CARRY;
  matte.scribbles = carriedScribbles(scribbles, carry, picture);
}

/** Takes all strokes away, and where they were carried to. */
export function removeStrokes(draft: Recipe): void {
  draft.focus.strokes = [];
  draft.focus.strokesCarry = IDENTITY_CARRY;
  draft.keys = draft.keys.filter(({ of }) => !of.startsWith('focus/strokesCarry/'));
}
