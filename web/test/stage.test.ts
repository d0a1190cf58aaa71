import { type PlanarBand, planarBandSchema, planarDistance } from '@hazy-lens/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type GripKind, applyDrag, normalAngle } from '../src/app/stage/band-drag';
import { contourSteps, contoursOf } from '../src/app/stage/contours';
import { fitView, placeRegion, regionFor, zoomAt } from '../src/app/stage/view';
import { timeLeft } from '../src/app/steps/output/time-left';

const size = { width: 1200, height: 800 };
const band = (parts: object = {}): PlanarBand =>
  planarBandSchema.parse({ id: 'a', kind: 'planar', ...parts });

function dragged(
  start: PlanarBand,
  kind: GripKind,
  from: [number, number],
  to: [number, number],
  more: { linked?: boolean; stepped?: boolean } = {},
): PlanarBand {
  const result = structuredClone(start);
  applyDrag(result, size, {
    kind,
    start,
    from: { x: from[0], y: from[1] },
    to: { x: to[0], y: to[1] },
    linked: false,
    stepped: false,
    ...more,
  });
  return result;
}

describe('dragging a band', () => {
  it('keeps the contour under the pointer, whatever the angle', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -180, max: 180 }),
        fc.constantFrom<GripKind>('near-clear', 'near-outer', 'far-clear', 'far-outer'),
        fc.integer({ min: 5, max: 60 }),
        (angle, kind, by) => {
          const start = band({ angle });
          const a = (angle * Math.PI) / 180;
          const sign = kind.startsWith('near') ? 1 : -1;
          const result = dragged(
            start,
            kind,
            [600, 400],
            [600 - Math.sin(a) * by * sign, 400 + Math.cos(a) * by * sign],
          );
          const side = kind.startsWith('near') ? 'near' : 'far';
          const [old, now] = [start[side], result[side]];
          const moved = by / Math.hypot(size.width, size.height);
          if (kind.endsWith('clear')) expect(now.clear).toBeCloseTo(old.clear + moved, 9);
          const outer = old.clear + old.falloff + (kind.endsWith('outer') ? moved : 0);
          expect(now.clear + now.falloff).toBeCloseTo(Math.max(outer, now.clear), 9);
        },
      ),
    );
  });

  it('moves the line with the pointer and turns it round its centre', () => {
    expect(dragged(band(), 'line', [600, 400], [660, 440]).centre).toEqual([0.55, 0.55]);
    expect(dragged(band(), 'turn-end', [900, 400], [600 + 212, 400 + 212]).angle).toBeCloseTo(45, 6);
    expect(dragged(band(), 'turn-start', [300, 400], [310, 340], { stepped: true }).angle).toBe(15);
    expect([190, -190, 360, 540].map(normalAngle)).toEqual([-170, 170, 0, -180]);
  });

  it('never makes a length negative, and moves linked sides together', () => {
    const inwards = dragged(band(), 'near-clear', [600, 500], [600, 100]);
    expect(inwards.near.clear).toBe(0);
    const both = dragged(band(), 'far-outer', [600, 300], [600, 200], { linked: true });
    expect(both.near).toEqual(both.far);
  });
});

describe('contours', () => {
  it('lie where the field has their blur', () => {
    const focus = {
      on: true,
      rest: 1,
      bands: [
        band({
          angle: 20,
          profile: 'linear',
          near: { clear: 0.05, falloff: 0.3 },
          far: { clear: 0.05, falloff: 0.3 },
        }),
      ],
    };
    const lines = contoursOf(focus, size, 40);
    expect(lines.map(({ px }) => px)).toEqual([10, 20, 30]);
    for (const { px, lines: parts } of lines) {
      expect(parts.length).toBe(2);
      for (const [x, y] of parts.flat()) {
        const s = Math.abs(planarDistance(focus.bands[0]!, size, x!, y!));
        expect(s).toBeCloseTo(0.05 + (px / 40) * 0.3, 2);
      }
    }
  });

  it('have round numbers, about four of them, and none for no blur', () => {
    expect(contourSteps(0)).toEqual([]);
    expect(contourSteps(61)).toEqual([20, 40, 60]);
    for (const most of [1, 3, 7.5, 24, 180]) expect(contourSteps(most).length).toBeGreaterThan(1);
    for (const most of [1, 3, 7.5, 24, 180]) expect(contourSteps(most).length).toBeLessThan(7);
  });
});

describe('the view', () => {
  const stage = { width: 760, height: 756 };

  it('fits the picture and zooms round a point', () => {
    const view = fitView(stage, { width: 4800, height: 3200 });
    expect(view.x).toBeGreaterThan(0);
    expect(4800 * view.zoom + 2 * view.x).toBeCloseTo(760, -1);
    const near = zoomAt(view, 1, 300, 400);
    expect((300 - near.x) / near.zoom).toBeCloseTo((300 - view.x) / view.zoom, 9);
    expect(fitView(stage, { width: 100, height: 50 }).zoom).toBe(1);
  });

  it('asks for the whole of a small picture, for what is in sight of a large one, and keeps it while it is enough', () => {
    const large = { width: 6000, height: 4000 };
    const sigma = () => 10;
    const whole = regionFor(fitView(stage, large), stage, large, 1, sigma, null);
    expect([whole.width, whole.height]).toEqual([whole.picture.width, whole.picture.height]);
    const view = { zoom: 1, x: -2000, y: -1500 };
    const part = regionFor(view, stage, large, 1, sigma, null);
    expect(part.picture).toEqual(large);
    expect(part.x).toBeLessThanOrEqual(2000 - 35);
    expect(part.x + part.width).toBeGreaterThanOrEqual(2760 + 35);
    expect(part.width).toBeLessThan(1200);
    expect(regionFor({ ...view, x: -2040 }, stage, large, 1, sigma, part)).toBe(part);
    expect(regionFor({ ...view, x: -2400 }, stage, large, 1, sigma, part)).not.toBe(part);
    expect(placeRegion(part, view, large, 1)).toEqual({
      left: part.x - 2000,
      top: part.y - 1500,
      width: part.width,
      height: part.height,
    });
  });
});

describe('time left', () => {
  it('is said once it is known', () => {
    expect(timeLeft(0.01, 5000)).toBeNull();
    expect(timeLeft(0.5, 4000)).toBe('about 4 s left');
    expect(timeLeft(0.1, 60_000)).toBe('about 9 min left');
    expect(timeLeft(0.99, 5000)).toBe('nearly done');
  });
});
