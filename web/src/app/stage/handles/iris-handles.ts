import { type IrisBand, type Size, diagonal, irisFalloff, irisOutline, rotatedAxes } from '@hazy-lens/core';
import { moveBand } from '../../model/bands';
import { toBandAxes, fromBandAxes } from './elliptical-handles';
import { type Grip, type Handles, type Spot, TURN, normalAngle, rangeDown, dragRotation } from './handles';
import { stageWords } from '../../words/stage';

const AROUND = 144;
const [MIN_RADIUS, MAX_RADIUS, MAX_FALLOFF] = [0.002, 4, 20];
const [MIN_OUTLINE, MAX_OUTLINE] = [0.1, 4];
/** Grips of the whole iris lie between those of its outline, and stretching half-way to its rim. */
const [CORNER_AT, TURN_AT] = [(5 * Math.PI) / 8, (9 * Math.PI) / 8];
const STRETCH_AT = 0.5;
export const EIGHTHS = [0, 1, 2, 3, 4, 5, 6, 7] as const;

const clamp = (v: number, low: number, high: number): number => Math.min(high, Math.max(low, v));

/** Places on the rim and on the outer edge at an angle of the band's own frame. */
function edges(band: IrisBand, size: Size): (theta: number) => { half: Spot; rim: Spot; outer: Spot } {
  const frame = rotatedAxes(band.centre, band.angle, size);
  const rim = irisOutline(band);
  const falloff = irisFalloff(band);
  const radius = band.radius * diagonal(size);
  return (theta) => {
    const at = (scale: number): Spot => {
      const r = radius * rim(theta) * scale;
      return fromBandAxes(frame, r * Math.cos(theta) * band.aspect, r * Math.sin(theta));
    };
    return { half: at(STRETCH_AT), rim: at(1), outer: at(1 + falloff(theta)) };
  };
}

/** What a grip of one eighth moves, and which; null for a grip of the whole iris. */
function eighthOf(grip: string): { of: 'outline' | 'falloff'; eighth: number } | null {
  const [, of, eighth] = /^(outline|falloff)-(\d)$/.exec(grip) ?? [];
  return of ? { of: of as 'outline' | 'falloff', eighth: Number(eighth) } : null;
}

export const irisHandles: Handles<IrisBand> = {
  outlines(band, size) {
    const at = edges(band, size);
    const around = Array.from({ length: AROUND + 1 }, (_, i) => at((i / AROUND) * 2 * Math.PI));
    return [
      { grip: 'falloff-6', look: 'far', points: around.map(({ outer }) => outer) },
      { grip: 'corner', look: 'clear', points: around.map(({ rim }) => rim) },
    ];
  },

  grips(band, size) {
    const frame = rotatedAxes(band.centre, band.angle, size);
    const at = edges(band, size);
    const d = diagonal(size);
    const falloffs = EIGHTHS.map((i): Grip => {
      const ratio = band.falloff[i]!;
      return { id: `falloff-${i}`, ...at((i * Math.PI) / 4).outer, look: 'far', name: stageWords.falloffAt(i * 45), value: ratio * 100, range: [0, MAX_FALLOFF * 100], text: stageWords.falloff((ratio * 100).toFixed(0)) }; // prettier-ignore
    });
    const outlines = EIGHTHS.map((i): Grip => {
      const ratio = band.outline[i]!;
      return { id: `outline-${i}`, ...at((i * Math.PI) / 4).rim, look: 'clear', name: stageWords.outlineAt(i * 45), value: ratio * 100, range: [MIN_OUTLINE * 100, MAX_OUTLINE * 100], text: stageWords.outline((ratio * 100).toFixed(0)) }; // prettier-ignore
    });
    return [
      { id: 'centre', ...fromBandAxes(frame, 0, 0), look: 'middle', name: stageWords.centreOfTheIris, value: frame.y, range: rangeDown(size), text: `${frame.x.toFixed(0)}, ${frame.y.toFixed(0)} px` },
      { id: 'stretch', ...at(0).half, look: 'clear', name: stageWords.stretch, value: band.aspect * 100, range: [5, 2000], text: stageWords.stretchNamed((band.aspect * 100).toFixed(0)) },
      { id: 'corner', ...at(CORNER_AT).rim, look: 'clear', name: stageWords.radius, value: band.radius * d, range: [MIN_RADIUS * d, MAX_RADIUS * d], text: stageWords.radiusPx((band.radius * d).toFixed(0)) },
      { id: 'turn', ...at(TURN_AT).rim, look: 'middle', name: stageWords.rotation, value: band.angle, range: TURN, text: `${band.angle.toFixed(1)}°`, turns: true },
      ...outlines,
      ...falloffs,
    ]; // prettier-ignore
  },

  drag(band, start, size, drag) {
    const { grip, from, to } = drag;
    const frame = rotatedAxes(start.centre, start.angle, size);
    if (grip === 'centre') {
      band.centre = [...start.centre];
      moveBand(band, (to.x - from.x) / size.width, (to.y - from.y) / size.height);
      return;
    }
    if (grip === 'turn') {
      band.angle = dragRotation(start.angle, frame, drag);
      return;
    }
    const own = (spot: Spot): { p: number; q: number } => {
      const { u, v } = toBandAxes(frame, frame, spot);
      return { p: u / start.aspect, q: v };
    };
    const [before, now] = [own(from), own(to)];
    if (grip === 'stretch') {
      band.aspect = clamp((start.aspect * now.p) / (before.p || 1), 0.05, 20);
      return;
    }
    const reach = ({ p, q }: { p: number; q: number }): number => Math.max(1e-6, Math.hypot(p, q));
    const scale = reach(now) / reach(before);
    const one = eighthOf(grip);
    if (!one) band.radius = clamp(start.radius * scale, MIN_RADIUS, MAX_RADIUS);
    else if (one.of === 'outline') setOutline(band, start, one.eighth, start.outline[one.eighth]! * scale);
    else {
      const ratio = clamp((1 + start.falloff[one.eighth]!) * scale - 1, 0, MAX_FALLOFF);
      setFalloff(band, start, one.eighth, ratio, drag.linked);
    }
  },

  nudge(band, size, grip, dx, dy, linked) {
    const grow = dx - dy;
    const one = eighthOf(grip);
    if (grip === 'centre') moveBand(band, dx / size.width, dy / size.height);
    else if (grip === 'turn') band.angle = normalAngle(band.angle + dx + dy);
    else if (grip === 'stretch') band.aspect = clamp(band.aspect + grow / 100, 0.05, 20);
    else if (grip === 'corner')
      band.radius = clamp(band.radius + grow / diagonal(size), MIN_RADIUS, MAX_RADIUS);
    else if (one?.of === 'outline')
      setOutline(band, band, one.eighth, band.outline[one.eighth]! + grow / 100);
    else if (one) {
      const ratio = clamp(band.falloff[one.eighth]! + grow / 100, 0, MAX_FALLOFF);
      setFalloff(band, band, one.eighth, ratio, linked);
    }
  },
};

/** Pulls one point of the outline. */
function setOutline(band: IrisBand, start: IrisBand, eighth: number, ratio: number): void {
  const held = clamp(ratio, MIN_OUTLINE, MAX_OUTLINE);
  band.outline = start.outline.map((v, i) => (i === eighth ? held : v)) as IrisBand['outline'];
}

/** Sets one falloff; linked, the others change by the same amount. */
export function setFalloff(
  band: IrisBand,
  start: IrisBand,
  eighth: number,
  ratio: number,
  linked: boolean,
): void {
  const by = ratio - start.falloff[eighth]!;
  const moved = (v: number, i: number): number =>
    i === eighth ? ratio : linked ? clamp(v + by, 0, MAX_FALLOFF) : v;
  band.falloff = start.falloff.map(moved) as IrisBand['falloff'];
}
