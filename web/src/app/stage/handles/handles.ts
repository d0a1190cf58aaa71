import type { Band, Size } from '@hazy-lens/core';

/** What a line or a grip belongs to; it says how it looks. */
export type HandleLook = 'middle' | 'clear' | 'near' | 'far';

export interface Spot {
  x: number;
  y: number;
}

/** A small tab on a contour, in pixels of the picture. */
export interface Grip extends Spot {
  id: string;
  look: HandleLook;
  /** What it moves, spoken. */
  name: string;
  value: number;
  /** Least and most that the value can be. */
  range: readonly [number, number];
  /** Its value for people. */
  text: string;
  /** It turns the band, and stands lower. */
  turns?: boolean;
}

/** A line of a band on the picture, in its pixels; dragging it moves what its grip moves. */
export interface Outline {
  grip: string;
  look: HandleLook;
  points: readonly Spot[];
}

/** A hand that moves a grip, in pixels of the picture. */
export interface GripDrag {
  grip: string;
  from: Spot;
  to: Spot;
  /** Moves what is alike together: both sides, all falloffs. */
  linked: boolean;
  /** Holds angles to steps of 15 degrees. */
  stepped: boolean;
}

/** The part of the picture that is on the stage, in its pixels: the corners of a convex form, in order. */
export type VisibleQuad = readonly Spot[];

/** How a kind of band is held: pure functions, without a browser. */
export interface Handles<B extends Band = Band> {
  grips(band: B, size: Size, sight: VisibleQuad): Grip[];
  outlines(band: B, size: Size): Outline[];
  /** Writes what a drag makes of a band; `start` is the band as it was when the drag began. */
  drag(band: B, start: B, size: Size, drag: GripDrag): void;
  /** Writes what an arrow key makes of it: (dx, dy) is one step, (1, 0) is to the right. */
  nudge(band: B, size: Size, grip: string, dx: number, dy: number, linked: boolean): void;
}

/** Where a place down the picture can be, in pixels of it. */
export const rangeDown = (size: Size): readonly [number, number] => [-size.height, 2 * size.height];
/** Where an angle can be. */
export const TURN = [-180, 180] as const;

/** An angle between -180 and 180. */
export function normalAngle(deg: number): number {
  const turned = ((((deg + 180) % 360) + 360) % 360) - 180;
  return Object.is(turned, -0) ? 0 : turned;
}

/** The angle after a hand went round a centre. */
export function dragRotation(start: number, centre: Spot, { from, to, stepped }: GripDrag): number {
  const angleOf = (spot: Spot): number => Math.atan2(spot.y - centre.y, spot.x - centre.x);
  const angle = normalAngle(start + ((angleOf(to) - angleOf(from)) * 180) / Math.PI);
  return stepped ? Math.round(angle / 15) * 15 : angle;
}

/** A place on a line through `base`, `along` pixels from it, moved along it until it is in sight. */
export function clampToVisible(base: Spot, direction: Spot, along: number, sight: VisibleQuad): Spot {
  let [low, high] = [-Infinity, Infinity];
  const cross = (a: Spot, b: Spot): number => a.x * b.y - a.y * b.x;
  const sense = Math.sign(sight.reduce((sum, a, i) => sum + cross(a, sight[(i + 1) % sight.length]!), 0));
  for (const [i, a] of sight.entries()) {
    const b = sight[(i + 1) % sight.length]!;
    const edge = { x: b.x - a.x, y: b.y - a.y };
    // How far the line's base lies inside this edge, and how fast it gets farther.
    const inside = sense * cross(edge, { x: base.x - a.x, y: base.y - a.y });
    const faster = sense * cross(edge, direction);
    if (Math.abs(faster) < 1e-3 * Math.hypot(edge.x, edge.y)) continue;
    if (faster > 0) low = Math.max(low, -inside / faster);
    else high = Math.min(high, -inside / faster);
  }
  const t = low <= high ? Math.min(high, Math.max(low, along)) : along;
  return { x: base.x + direction.x * t, y: base.y + direction.y * t };
}
