import { type BandSide, type PlanarBand, type Size, diagonal, planarDistance } from '@hazy-lens/core';

/** What a grip on the stage or a knot on the profile moves. */
export type GripKind =
  'line' | 'turn-start' | 'turn-end' | 'near-clear' | 'near-outer' | 'far-clear' | 'far-outer';

export const GRIP_NAMES: Record<GripKind, string> = {
  line: 'Focus line',
  'turn-start': 'Turn, one end',
  'turn-end': 'Turn, other end',
  'near-clear': 'Near side, clear edge',
  'near-outer': 'Near side, outer edge',
  'far-clear': 'Far side, clear edge',
  'far-outer': 'Far side, outer edge',
};

/** Lengths stay within what a recipe may hold. */
const MOST = { clear: 2, falloff: 4 } as const;

export function sideOf(kind: GripKind): 'near' | 'far' | null {
  return kind.startsWith('near') ? 'near' : kind.startsWith('far') ? 'far' : null;
}

/** Sets a contour's distance from the line; the clear edge leaves the outer one where it is. */
export function setEdge(side: BandSide, edge: 'clear' | 'outer', distance: number): void {
  const outer = side.clear + side.falloff;
  const at = Math.max(0, distance);
  if (edge === 'clear') {
    side.clear = Math.min(MOST.clear, at);
    side.falloff = Math.max(0, outer - side.clear);
  } else {
    side.falloff = Math.min(MOST.falloff, Math.max(0, at - side.clear));
  }
}

/** An angle between -180 and 180. */
export function normalAngle(deg: number): number {
  const turned = ((((deg + 180) % 360) + 360) % 360) - 180;
  return Object.is(turned, -0) ? 0 : turned;
}

export interface Drag {
  kind: GripKind;
  /** The band as it was when the drag began. */
  start: PlanarBand;
  /** Pointer then and now, in pixels of the picture. */
  from: { x: number; y: number };
  to: { x: number; y: number };
  /** Changes both sides alike. */
  linked: boolean;
  /** Holds angles to steps of 15 degrees. */
  stepped: boolean;
}

/** Writes the drag's result into a band. */
export function applyDrag(band: PlanarBand, size: Size, drag: Drag): void {
  const { kind, start, from, to } = drag;
  if (kind === 'line') {
    const within = (v: number): number => Math.min(2, Math.max(-1, v));
    band.centre = [
      within(start.centre[0] + (to.x - from.x) / size.width),
      within(start.centre[1] + (to.y - from.y) / size.height),
    ];
    return;
  }
  if (kind === 'turn-start' || kind === 'turn-end') {
    const [cx, cy] = [start.centre[0] * size.width, start.centre[1] * size.height];
    const turn = (Math.atan2(to.y - cy, to.x - cx) - Math.atan2(from.y - cy, from.x - cx)) * (180 / Math.PI);
    const angle = normalAngle(start.angle + turn);
    band.angle = drag.stepped ? Math.round(angle / 15) * 15 : angle;
    return;
  }
  const side = sideOf(kind)!;
  const edge = kind.endsWith('clear') ? 'clear' : 'outer';
  const sign = side === 'near' ? 1 : -1;
  const offset = (at: { x: number; y: number }): number => sign * planarDistance(start, size, at.x, at.y);
  const old = edge === 'clear' ? start[side].clear : start[side].clear + start[side].falloff;
  const distance = old + offset(to) - offset(from);
  for (const one of drag.linked ? (['near', 'far'] as const) : [side]) {
    band[one] = { ...start[one] };
    setEdge(band[one], edge, distance);
  }
}

/** A length of a recipe in pixels of the picture, for people. */
export function lengthPx(length: number, size: Size): number {
  return length * diagonal(size);
}
