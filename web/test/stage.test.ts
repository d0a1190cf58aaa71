import { readFileSync } from 'node:fs';
import {
  FieldPreview,
  type PlanarBand,
  NO_ASSETS,
  resolveFocus,
  parseRecipe,
  planarBandSchema,
  planarDistance,
  previewSize,
} from '@hazy-lens/core';
import { describe, expect, it } from 'vitest';
import { contourSteps, contoursOf } from '../src/app/stage/contours';
import { fitView, placeRegion, regionFor, zoomAt } from '../src/app/workspace/view-transform';
import { timeLeft } from '../src/app/jobs/time-left';

const size = { width: 1200, height: 800 };
const band = (parts: object = {}): PlanarBand =>
  planarBandSchema.parse({ id: 'a', kind: 'planar', ...parts });

describe('contours', () => {
  it('lie where the field has their blur, and run out of the picture', async () => {
    const own = band({
      angle: 20,
      profile: 'linear',
      near: { clear: 0.05, falloff: 0.3 },
      far: { clear: 0.05, falloff: 0.3 },
    });
    const { focus } = parseRecipe({ format: 'hazy-lens-recipe', version: 1, focus: { bands: [own] } });
    const kernels = readFileSync(new URL('../../core/dist/kernels.wasm', import.meta.url));
    const { columns, rows } = previewSize(size, 72);
    const sheet = await FieldPreview.create(new WebAssembly.Module(kernels), columns, rows);
    const lines = contoursOf(sheet.draw(resolveFocus(focus, size, NO_ASSETS)), columns, rows, size, 40);
    expect(lines.map(({ px }) => px)).toEqual([10, 20, 30]);
    for (const { px, lines: parts } of lines) {
      expect(parts.length).toBe(2);
      for (const line of parts) {
        for (const [x, y] of line) {
          const s = Math.abs(planarDistance(own, size, x, y));
          expect(s).toBeCloseTo(0.05 + (px / 40) * 0.3, 2);
        }
        const ends = [line[0]!, line.at(-1)!];
        for (const [x, y] of ends)
          expect(x <= 0 || y <= 0 || x >= size.width || y >= size.height, `${x}, ${y}`).toBe(true);
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
    const reach = () => 35;
    const whole = regionFor(fitView(stage, large), stage, large, 1, reach, null);
    expect([whole.width, whole.height]).toEqual([whole.picture.width, whole.picture.height]);
    const view = { zoom: 1, x: -2000, y: -1500 };
    const part = regionFor(view, stage, large, 1, reach, null);
    expect(part.picture).toEqual(large);
    expect(part.x).toBeLessThanOrEqual(2000 - 35);
    expect(part.x + part.width).toBeGreaterThanOrEqual(2760 + 35);
    expect(part.width).toBeLessThan(1200);
    expect(regionFor({ ...view, x: -2040 }, stage, large, 1, reach, part)).toBe(part);
    expect(regionFor({ ...view, x: -2400 }, stage, large, 1, reach, part)).not.toBe(part);
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
