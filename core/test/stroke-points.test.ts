import { describe, expect, it } from 'vitest';
import { RecipeError, normaliseRecipe, repairRecipe, parseRecipe, simplified } from '../src/index';
import { recipe } from './harness';

const size = { width: 1500, height: 1000 };

/** Strokes of 500 points each: `off` is how far every other one lies beside the way. */
const zigzags = (count: number, off: number) =>
  Array.from({ length: count }, (_, i) => ({
    mode: 'clear',
    points: Array.from({ length: 500 }, (_, k) => [k / 500, 0.3 + i / 1e4 + (k % 2) * off]),
  }));

const withStrokes = (strokes: object[]) => ({
  format: 'hazy-lens-recipe',
  version: 1,
  focus: { strokes },
});

describe('points of strokes', () => {
  it('are left out where they do not matter, and only there', () => {
    const points = Array.from({ length: 600 }, (_, i) => {
      const t = i / 599;
      return [t, 0.5 + 0.2 * Math.sin(t * 9), i < 300 ? 0.4 : 0.9] as [number, number, number];
    });
    const few = simplified(points, size, 1.5);
    expect(few.length).toBeLessThan(80);
    expect([few[0], few.at(-1)]).toEqual([points[0], points.at(-1)]);
    for (const [x, y, pressure] of points) {
      const i = Math.max(
        1,
        few.findIndex(([u]) => u >= x),
      );
      const [a, b] = [few[i - 1]!, few[i]!];
      const t = (x - a[0]) / (b[0] - a[0] || 1);
      expect(Math.abs(a[1] + (b[1] - a[1]) * t - y) * size.height).toBeLessThan(3);
      expect(Math.abs(a[2]! + (b[2]! - a[2]!) * t - pressure)).toBeLessThan(0.06);
    }
    expect(simplified([[0.5, 0.5]], size, 1)).toEqual([[0.5, 0.5]]);
    const parts = { strokes: [{ mode: 'clear', points: few }] };
    expect(parseRecipe({ format: 'hazy-lens-recipe', version: 1, focus: parts }).focus.strokes).toHaveLength(
      1,
    );
  });

  it('are thinned where a recipe has far more than can be seen', () => {
    const { strokes } = parseRecipe(withStrokes(zigzags(200, 4e-5))).focus;
    expect(strokes).toHaveLength(200);
    for (const { points } of strokes) {
      expect(points.length).toBeLessThan(5);
      expect([points[0]![0], points.at(-1)![0]]).toEqual([0, 499 / 500]);
    }
    const few = zigzags(100, 4e-5);
    expect(parseRecipe(withStrokes(few)).focus.strokes[0]!.points).toEqual(few[0]!.points);
  });

  it('are thinned in scribbles, too, and in a recipe that has to be mended', () => {
    const scribbles = zigzags(110, 0).map(({ points }) => ({ inside: true, points }));
    const mattes = [{ id: 'm', image: 'm.png', scribbles }];
    const value = { ...withStrokes([]), focus: { rest: 7, mattes } };
    const { focus } = repairRecipe(value);
    expect(focus.rest).toBe(1);
    expect(focus.mattes[0]!.scribbles.map(({ points }) => points.length)).toEqual(scribbles.map(() => 3));
  });

  it('are refused where too many matter, and named where they are wrong', () => {
    expect(() => parseRecipe(withStrokes(zigzags(101, 0.01)))).toThrow(/50500 points .* at most 50000/);
    const wrong = zigzags(150, 0);
    wrong[7]!.points[3] = ['x', 2] as never;
    expect(() => parseRecipe(withStrokes(wrong))).toThrow(/focus\.strokes\[7\]\.points\[3\]/);
    expect(() => parseRecipe({ ...withStrokes([]), focus: 7 })).toThrow(RecipeError);
    expect(() => parseRecipe({ ...withStrokes([]), focus: { strokes: 7, mattes: [7] } })).toThrow(
      RecipeError,
    );
  });

  it('are counted when one more stroke is drawn', () => {
    const full = recipe({ focus: { strokes: zigzags(100, 0.01) as never } });
    expect(normaliseRecipe(full)).toBe(full);
    const more = {
      ...full,
      focus: { ...full.focus, strokes: [...full.focus.strokes, full.focus.strokes[0]!] },
    };
    expect(() => normaliseRecipe(more)).toThrow(RecipeError);
  });
});
