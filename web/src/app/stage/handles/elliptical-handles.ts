import { type EllipticalBand, type Axes, diagonal, rotatedAxes } from '@hazy-lens/core';
import { moveBand } from '../../model/bands';
import { type Handles, type Spot, TURN, normalAngle, rangeDown, dragRotation } from './handles';
import { stageWords } from '../../words/stage';

const AROUND = 96;
const [MIN_RADIUS, MAX_RADIUS, MAX_FALLOFF] = [0.002, 20, 20];

/** A place in the band's own axes, in pixels of the picture. */
export function fromBandAxes(frame: Axes, u: number, v: number): Spot {
  return { x: frame.x + frame.ux * u + frame.vx * v, y: frame.y + frame.uy * u + frame.vy * v };
}

/** A movement along the band's own axes. */
export function toBandAxes(frame: Axes, from: Spot, to: Spot): { u: number; v: number } {
  const [dx, dy] = [to.x - from.x, to.y - from.y];
  return { u: dx * frame.ux + dy * frame.uy, v: dx * frame.vx + dy * frame.vy };
}

const clamp = (v: number, low: number, high: number): number => Math.min(high, Math.max(low, v));

export const ellipticalHandles: Handles<EllipticalBand> = {
  outlines(band, size) {
    const frame = rotatedAxes(band.centre, band.angle, size);
    const [a, b] = band.radii.map((radius) => radius * diagonal(size)) as [number, number];
    const ring = (scale: number): Spot[] =>
      Array.from({ length: AROUND + 1 }, (_, i) => {
        const t = (i / AROUND) * 2 * Math.PI;
        return fromBandAxes(frame, a * scale * Math.cos(t), b * scale * Math.sin(t));
      });
    return [
      { grip: 'outer', look: band.invert ? 'near' : 'far', points: ring(1 + band.falloff) },
      { grip: 'rim', look: 'clear', points: ring(1) },
    ];
  },

  grips(band, size) {
    const frame = rotatedAxes(band.centre, band.angle, size);
    const [a, b] = band.radii.map((radius) => radius * diagonal(size)) as [number, number];
    const outer = b * (1 + band.falloff);
    const radii = [MIN_RADIUS * diagonal(size), MAX_RADIUS * diagonal(size)] as const;
    return [
      { id: 'centre', ...fromBandAxes(frame, 0, 0), look: 'middle', name: stageWords.centreOfTheEllipse, value: frame.y, range: rangeDown(size), text: `${frame.x.toFixed(0)}, ${frame.y.toFixed(0)} px` },
      { id: 'stretch-a', ...fromBandAxes(frame, a, 0), look: 'clear', name: stageWords.radiusAlong, value: a, range: radii, text: stageWords.alongPx(a.toFixed(0)) },
      { id: 'stretch-b', ...fromBandAxes(frame, 0, b), look: 'clear', name: stageWords.radiusAcross, value: b, range: radii, text: stageWords.acrossPx(b.toFixed(0)) },
      { id: 'turn', ...fromBandAxes(frame, -a, 0), look: 'middle', name: stageWords.rotation, value: band.angle, range: TURN, text: `${band.angle.toFixed(1)}°`, turns: true },
      { id: 'outer', ...fromBandAxes(frame, 0, -outer), look: 'far', name: stageWords.outerEdge, value: band.falloff * 100, range: [0, MAX_FALLOFF * 100], text: stageWords.falloff((band.falloff * 100).toFixed(0)) },
    ]; // prettier-ignore
  },

  drag(band, start, size, drag) {
    const { grip, from, to } = drag;
    const frame = rotatedAxes(start.centre, start.angle, size);
    const d = diagonal(size);
    const moved = toBandAxes(frame, from, to);
    const radius = (r: number): number => clamp(r, MIN_RADIUS, MAX_RADIUS);
    switch (grip) {
      case 'centre':
        band.centre = [...start.centre];
        moveBand(band, (to.x - from.x) / size.width, (to.y - from.y) / size.height);
        return;
      case 'stretch-a':
        band.radii = [radius(start.radii[0] + moved.u / d), start.radii[1]];
        return;
      case 'stretch-b':
        band.radii = [start.radii[0], radius(start.radii[1] + moved.v / d)];
        return;
      case 'turn':
        band.angle = dragRotation(start.angle, frame, drag);
        return;
    }
    // A ring follows the hand: its share of the ellipse through where the hand was and is.
    const reach = (spot: Spot): number => {
      const { u, v } = toBandAxes(frame, frame, spot);
      return Math.hypot(u / (start.radii[0] * d), v / (start.radii[1] * d));
    };
    const scale = reach(to) / Math.max(1e-6, reach(from));
    if (grip === 'outer') band.falloff = clamp((1 + start.falloff) * scale - 1, 0, MAX_FALLOFF);
    else band.radii = [radius(start.radii[0] * scale), radius(start.radii[1] * scale)];
  },

  nudge(band, size, grip, dx, dy) {
    const grow = dx - dy;
    const length = grow / diagonal(size);
    if (grip === 'centre') moveBand(band, dx / size.width, dy / size.height);
    else if (grip === 'turn') band.angle = normalAngle(band.angle + dx + dy);
    else if (grip === 'outer') band.falloff = clamp(band.falloff + grow / 100, 0, MAX_FALLOFF);
    else {
      const axis = grip === 'stretch-a' ? 0 : 1;
      band.radii[axis] = clamp(band.radii[axis] + length, MIN_RADIUS, MAX_RADIUS);
    }
  },
};
