import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { numberSpecAt, numberSpec, parseRecipe, displayRange, valueAt } from '../src/index';
import { NUMBERS } from '../src/recipe/numbers';
import { recipeSchema } from '../src/recipe/schema';
import { focus } from './arbitraries';
import { recipe } from './harness';

const size = { width: 3000, height: 4000 };

const whole = recipe({
  colour: { look: { name: 'enamel' } },
  focus: {
    bands: [
      { id: 'a', kind: 'planar' },
      { id: 'b', kind: 'linear' },
      { id: 'c', kind: 'elliptical' },
      { id: 'd', kind: 'iris' },
    ],
    soundings: [{ at: [0.2, 0.3], haze: 0.4 }],
    depthMap: { image: 'a.png', nearFalloff: 0.3 },
    strokes: [{ mode: 'clear', points: [[0.5, 0.5]] }],
    mattes: [{ id: 'm', image: 'b.png', scribbles: [{ inside: true, points: [[0.5, 0.5]] }] }],
  },
});

/** Paths of all numbers in a value, but for those that are points of a line, of a profile or the format's own. */
function* numberPaths(value: unknown, at: (string | number)[] = []): Generator<(string | number)[]> {
  if (typeof value === 'number' && at[0] !== 'version') yield at;
  else if (typeof value === 'object' && value !== null)
    for (const [key, part] of Object.entries(value))
      if (key !== 'points' && key !== 'knots')
        yield* numberPaths(part, [...at, Array.isArray(value) ? Number(key) : key]);
}

describe('the table of numbers', () => {
  it('knows every number of a recipe, each with a name, a range that holds it and the start that the schema has', () => {
    const paths = [...numberPaths(whole)];
    expect(paths.length).toBeGreaterThan(45);
    for (const at of paths) {
      const spec = numberSpecAt(whole, at);
      const value = valueAt(whole, at) as number;
      expect(spec.label, at.join('.')).not.toBe('');
      expect(value).toBeGreaterThanOrEqual(spec.min);
      expect(value).toBeLessThanOrEqual(spec.max);
    }
    expect(numberSpec('focus.bands[planar].near.clear')).toMatchObject({ min: 0, max: 2, start: 0.05 });
    expect(numberSpec('focus.bands[iris].falloff[7]')).toMatchObject({ label: 'Falloff', start: 0.8 });
    expect(numberSpec('focus.bands[elliptical].radii[1]')).toMatchObject({ start: 0.12 });
    expect(() => numberSpec('focus.bands[].clear')).toThrow(RangeError);
  });

  it('has the very ranges that the schema holds to', () => {
    for (const [path, spec] of NUMBERS) {
      if (/\[|depthMap/.test(path)) continue;
      const with_ = (value: number): unknown => {
        const copy = structuredClone(whole);
        const parts = path.split('.');
        const holder = valueAt(copy, parts.slice(0, -1)) as Record<string, number>;
        holder[parts.at(-1)!] = value;
        return copy;
      };
      for (const value of [spec.min, spec.max]) expect(() => parseRecipe(with_(value))).not.toThrow();
      for (const value of [spec.min - 0.01, spec.max + 0.01])
        expect(recipeSchema.safeParse(with_(value)).success, path).toBe(false);
    }
  });

  it('shows lengths in pixels of the picture, shares in percent and angles as they are', () => {
    expect(displayRange(numberSpec('focus.bands[planar].far.falloff'), size)).toMatchObject({
      label: 'Falloff',
      spoken: 'Far side, falloff',
      unit: 'px',
      min: 0,
      max: 20_000,
      start: 1000,
      slider: [0, 3000],
    });
    expect(displayRange(numberSpec('focus.bands[planar].centre[1]'), size)).toMatchObject({
      unit: 'px',
      min: -4000,
      max: 8000,
      start: 2000,
    });
    expect(displayRange(numberSpec('colour.saturation'), size)).toMatchObject({
      unit: '%',
      min: -100,
      max: 100,
    });
    expect(displayRange(numberSpec('focus.bands[iris].angle'), size)).toMatchObject({ unit: '°', scale: 1 });
  });
});

describe('the recipes that other tests draw', () => {
  it('have every number of the focus at least once in a hundred, and not always the same', () => {
    const seen = new Map<string, Set<number>>();
    for (const parts of fc.sample(focus, { numRuns: 100, seed: 7 })) {
      const how = recipe({ focus: parts });
      for (const at of numberPaths(how)) {
        const { path } = numberSpecAt(how, at);
        seen.set(path, (seen.get(path) ?? new Set()).add(valueAt(how, at) as number));
      }
    }
    for (const path of NUMBERS.keys())
      if (path.startsWith('focus.')) expect(seen.get(path)?.size ?? 0, path).toBeGreaterThan(1);
  });
});
