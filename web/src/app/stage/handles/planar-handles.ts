import { type BandSide, type PlanarBand, diagonal, planarDistance, planarFrame } from '@hazy-lens/core';
import { moveBand } from '../../model/bands';
import {
  type Grip,
  type Handles,
  type Outline,
  TURN,
  clampToVisible,
  normalAngle,
  rangeDown,
  dragRotation,
} from './handles';
import { stageWords } from '../../words/stage';

/** The contours of a planar band, which the profile has knots for too. */
export type EdgeName = 'near-clear' | 'near-outer' | 'far-clear' | 'far-outer';

export const EDGE_NAMES: Record<EdgeName, string> = {
  'near-clear': stageWords.nearSideClearEdge,
  'near-outer': stageWords.nearSideOuterEdge,
  'far-clear': stageWords.farSideClearEdge,
  'far-outer': stageWords.farSideOuterEdge,
};

/** Lengths stay within what a recipe may hold. */
const MOST = { clear: 2, falloff: 4 } as const;

/** Where along the focus line each grip stands, as a fraction of the diagonal: apart, so that none hides another. */
const STATIONS: Record<string, number> = {
  line: 0,
  'turn-start': -0.3,
  'turn-end': 0.3,
  'near-clear': 0.09,
  'far-clear': 0.09,
  'near-outer': -0.09,
  'far-outer': -0.09,
};

export function edgeSide(edge: string): 'near' | 'far' {
  return edge.startsWith('near') ? 'near' : 'far';
}

/** Distance of an edge from the focus line. */
export function edgeDistance(band: PlanarBand, edge: string): number {
  const side = band[edgeSide(edge)];
  return edge.endsWith('clear') ? side.clear : side.clear + side.falloff;
}

/** Sets a contour's distance from the line; the clear edge leaves the outer one where it is. */
export function setEdge(side: BandSide, edge: string, distance: number): void {
  const outer = side.clear + side.falloff;
  const at = Math.max(0, distance);
  if (edge.endsWith('clear')) {
    side.clear = Math.min(MOST.clear, at);
    side.falloff = Math.max(0, outer - side.clear);
  } else {
    side.falloff = Math.min(MOST.falloff, Math.max(0, at - side.clear));
  }
}

/** The sides that a change of one of them reaches. */
export function sidesOf(edge: string, linked: boolean): readonly ('near' | 'far')[] {
  return linked ? ['near', 'far'] : [edgeSide(edge)];
}

const EDGES = ['near-outer', 'far-outer', 'near-clear', 'far-clear'] as const;
const isEdge = (grip: string): grip is EdgeName => (EDGES as readonly string[]).includes(grip);

export const planarHandles: Handles<PlanarBand> = {
  outlines(band, size) {
    const frame = planarFrame(band, size);
    const d = diagonal(size);
    const line = (at: number): Outline['points'] => {
      const [x, y] = [frame.x + frame.vx * at * d, frame.y + frame.vy * at * d];
      return [-2, 2].map((t) => ({ x: x + frame.ux * t * d, y: y + frame.uy * t * d }));
    };
    return [
      ...EDGES.map((edge) => ({
        grip: edge,
        look: edge.endsWith('clear') ? ('clear' as const) : edgeSide(edge),
        points: line((edgeSide(edge) === 'near' ? 1 : -1) * edgeDistance(band, edge)),
      })),
      { grip: 'line', look: 'middle', points: line(0) },
    ];
  },

  grips(band, size, sight) {
    const frame = planarFrame(band, size);
    const d = diagonal(size);
    const grip = (id: string, across: number, more: Omit<Grip, 'id' | 'x' | 'y'>): Grip => {
      const base = { x: frame.x + frame.vx * across * d, y: frame.y + frame.vy * across * d };
      return { id, ...clampToVisible(base, { x: frame.ux, y: frame.uy }, STATIONS[id]! * d, sight), ...more };
    };
    const centre = [band.centre[0] * size.width, band.centre[1] * size.height] as const;
    const turn = {
      look: 'middle',
      value: band.angle,
      range: TURN,
      text: `${band.angle.toFixed(1)}°`,
      turns: true,
    } as const;
    return [
      ...EDGES.map((edge) => {
        const far = edgeDistance(band, edge);
        return grip(edge, edgeSide(edge) === 'near' ? far : -far, {
          look: edge.endsWith('clear') ? 'clear' : edgeSide(edge),
          name: EDGE_NAMES[edge],
          value: far * d,
          range: [0, (edge.endsWith('clear') ? MOST.clear : MOST.clear + MOST.falloff) * d],
          text: `${edge.endsWith('clear') ? 'clear' : 'outer'} ${(far * d).toFixed(0)} px`,
        });
      }),
      grip('line', 0, {
        look: 'middle',
        name: stageWords.focusLine,
        value: centre[1],
        range: rangeDown(size),
        text: `${centre[0].toFixed(0)}, ${centre[1].toFixed(0)} px`,
      }),
      grip('turn-start', 0, { ...turn, name: stageWords.rotationOneEnd }),
      grip('turn-end', 0, { ...turn, name: stageWords.rotationOtherEnd }),
    ];
  },

  drag(band, start, size, drag) {
    const { grip, from, to } = drag;
    if (isEdge(grip)) {
      const sign = edgeSide(grip) === 'near' ? 1 : -1;
      const by = planarDistance(start, size, to.x, to.y) - planarDistance(start, size, from.x, from.y);
      const distance = edgeDistance(start, grip) + sign * by;
      for (const one of sidesOf(grip, drag.linked)) {
        band[one] = { ...start[one] };
        setEdge(band[one], grip, distance);
      }
    } else if (grip === 'line') {
      band.centre = [...start.centre];
      moveBand(band, (to.x - from.x) / size.width, (to.y - from.y) / size.height);
    } else {
      const centre = { x: start.centre[0] * size.width, y: start.centre[1] * size.height };
      band.angle = dragRotation(start.angle, centre, drag);
    }
  },

  nudge(band, size, grip, dx, dy, linked) {
    if (isEdge(grip)) {
      // Up and right grow a value, as in every number.
      const grow = (dx - dy) / diagonal(size);
      for (const one of sidesOf(grip, linked)) {
        const edge = grip.replace(/near|far/, one);
        setEdge(band[one], edge, edgeDistance(band, edge) + grow);
      }
    } else if (grip === 'line') moveBand(band, dx / size.width, dy / size.height);
    else band.angle = normalAngle(band.angle + dx + dy);
  },
};
