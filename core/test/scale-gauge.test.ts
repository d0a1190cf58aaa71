import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { blurForScale, diagonal, readScale } from '../src/index';
import { focusField } from '../src/focus/field';
import { recipe } from './harness';

const size = { width: 1200, height: 800 };
const view = { horizon: -0.4, distance: 60, focal: 50, fNumber: 4 };

/** The haze that a lens draws of level ground: the formula, row by row. */
const ground =
  (aperture: number, row: number, radius: number) =>
  (_x: number, y: number): number => {
    const horizon = view.horizon * size.height;
    // One over the distance, 1 / d at the row in focus and 0 at the horizon.
    const over = (y - horizon) / (row * size.height - horizon) / view.distance;
    const angle = aperture * Math.abs(1 / view.distance - over);
    // As a radius in diagonals of the picture, behind a lens of 50 mm on 36 x 24.
    return Math.min(1, ((angle / 2) * (50 / Math.hypot(36, 24))) / radius);
  };

describe('the scale gauge', () => {
  it('reads the model that an ordinary lens would see so', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.3, max: 6, noNaN: true }),
        fc.double({ min: 0.25, max: 0.75, noNaN: true }),
        (aperture, row) => {
          const read = readScale(ground(aperture, row, 0.05), size, 0.05, view);
          // An aperture of 12.5 mm sees as much blur of a model that is so much smaller.
          expect(read!.scale / (aperture / 0.0125)).toBeCloseTo(1, 1);
          expect(read!.aperture / aperture).toBeCloseTo(1, 1);
          expect(Math.abs(read!.row - row)).toBeLessThan(0.02);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('gives a band and a blur that it reads again', () => {
    for (const scale of [24, 43, 87, 160]) {
      const { radius, falloff, isHeld } = blurForScale(scale, 0.6, size, view);
      const side = { clear: 0, falloff, haze: 1 };
      const how = recipe({
        focus: {
          bands: [{ id: 'p', kind: 'planar', centre: [0.5, 0.6], profile: 'linear', near: side, far: side }],
        },
        blur: { radius },
      });
      const read = readScale(focusField(how.focus, size), size, radius, view)!;
      expect(isHeld).toBe(false);
      expect(Math.abs(read.scale / scale - 1), `${scale}`).toBeLessThan(0.03);
    }
  });

  it('holds a blur that would be too strong, and reads the same scale of it all the same', () => {
    const { radius, falloff, isHeld } = blurForScale(1500, 0.6, size, view);
    expect([radius, isHeld]).toEqual([0.1, true]);
    const side = { clear: 0, falloff, haze: 1 };
    const how = recipe({
      focus: {
        bands: [{ id: 'p', kind: 'planar', centre: [0.5, 0.6], profile: 'linear', near: side, far: side }],
      },
    });
    const read = readScale(focusField(how.focus, size), size, radius, view)!;
    expect(read.scale).toBeGreaterThan(1400);
    expect(read.scale).toBeLessThan(1600);
  });

  it('reads nothing where nothing is blurred, all is, or what is in focus is sky', () => {
    expect(readScale(() => 0, size, 0.05, view)).toBeNull();
    expect(readScale(() => 1, size, 0.05, view)).toBeNull();
    expect(readScale(ground(2, 0.5, 0.05), size, 0, view)).toBeNull();
    expect(readScale(ground(2, 0.5, 0.05), size, 0.05, { ...view, horizon: 2 })).toBeNull();
    expect(() => blurForScale(87, 0.2, size, { ...view, horizon: 0.3 })).toThrow(RangeError);
    expect(diagonal(size)).toBeGreaterThan(0);
  });
});
