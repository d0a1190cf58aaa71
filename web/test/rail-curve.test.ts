import { type Band, bandField, parseRecipe } from '@hazy-lens/core';
import { describe, expect, it } from 'vitest';
import { railAxis } from '../src/app/profile/rail-axis';
import { LEFT, RIGHT, type RailScene, railCurve, xOf } from '../src/app/profile/rail-curve';

const size = { width: 600, height: 400 };

function bandOf(parts: object): Band {
  const recipe = { format: 'hazy-lens-recipe', version: 1, focus: { bands: [{ id: 'a', ...parts }] } };
  return parseRecipe(recipe).focus.bands[0]!;
}

function scene(band: Band, more: Partial<RailScene> = {}): RailScene {
  return {
    axis: railAxis(band, size, 90),
    size,
    field: bandField(band, size),
    radiusPx: 20,
    scale: { middle: 200, perPixel: 0.5 },
    height: 500,
    band,
    showsOwn: false,
    ...more,
  };
}

/** The points of a drawn line. */
const pointsOf = (path: string): [number, number][] =>
  [...path.matchAll(/[ML](-?[\d.]+) (-?[\d.]+)/g)].map(([, x, y]) => [Number(x), Number(y)]);

describe('the profile’s curve', () => {
  const planar = bandOf({ kind: 'planar', centre: [0.5, 0.5], near: { clear: 0.05, falloff: 0.2 } });

  it('runs over the whole picture, and stands where the field has its haze', () => {
    const { line, top, bottom } = railCurve(scene(planar));
    expect([top, bottom]).toEqual([100, 300]);
    const field = bandField(planar, size);
    for (const [x, y] of pointsOf(line)) {
      const haze = field(300, 200 + (y - 200) / 0.5);
      expect(x).toBeCloseTo(xOf(haze), 0);
      expect(x).toBeGreaterThanOrEqual(LEFT - 0.01);
      expect(x).toBeLessThanOrEqual(RIGHT + 0.01);
    }
  });

  it('has the near side below the line, and above it where the band stands upside down', () => {
    expect(railCurve(scene(planar))).toMatchObject({
      near: { top: 200, height: 300 },
      far: { top: 0, height: 200 },
    });
    const upside = bandOf({ kind: 'planar', angle: 180 });
    expect(railCurve(scene(upside))).toMatchObject({
      near: { top: 0, height: 200 },
      far: { top: 200, height: 300 },
    });
    const round = bandOf({ kind: 'elliptical' });
    expect(railCurve(scene(round))).toMatchObject({ near: { height: 0 }, far: { top: 0, height: 500 } });
  });

  it('marks where the blur sets in as a seam, and only there', () => {
    expect(railCurve(scene(planar)).seams).toEqual([]);
    const cut = bandOf({ kind: 'planar', near: { clear: 0.1, falloff: 0.002 }, far: { falloff: 0.3 } });
    const { seams } = railCurve(scene(cut, { radiusPx: 40 }));
    expect(seams).toHaveLength(1);
    const edge = 200 + 0.1 * Math.hypot(600, 400) * 0.5;
    for (const [, y] of pointsOf(seams[0]!)) expect(Math.abs(y - edge)).toBeLessThan(4);
  });

  it('shows the band’s own curve beside the field’s where others speak too', () => {
    const half = scene(planar, { field: () => 0.5 });
    expect(railCurve(half).own).toBeNull();
    const { own, line } = railCurve({ ...half, showsOwn: true });
    expect(new Set(pointsOf(line).map(([x]) => x))).toEqual(new Set([xOf(0.5)]));
    expect(own).toBe(railCurve(scene(planar)).line);
  });
});
