import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { RecipeError, normaliseRecipe, parseRecipe, planarBandSchema } from '../src/index';
import { clampToSchema } from '../src/recipe/normalise';
import { recipeSchema } from '../src/recipe/schema';
import { focus } from './arbitraries';
import { recipe } from './harness';

/** Any number that arithmetic on the screen may come to. */
const wild = fc.oneof(
  fc.double({ noNaN: true, noDefaultInfinity: true }),
  fc.integer({ min: -1000, max: 1000 }),
  fc.constantFrom(1e300, -1e300, 0),
);

describe('fitting a recipe', () => {
  it('leaves what is right as the very object it is', () => {
    fc.assert(
      fc.property(focus, (parts) => {
        const how = recipe({ focus: parts });
        expect(normaliseRecipe(how)).toBe(how);
      }),
    );
  });

  it('takes every number to the nearest within its range, and the result can be read', () => {
    fc.assert(
      fc.property(focus, wild, wild, wild, (parts, a, b, c) => {
        const how = structuredClone(recipe({ focus: parts }));
        how.focus.rest = a;
        how.blur.radius = b;
        how.colour.saturation = c;
        for (const band of how.focus.bands) {
          band.name = 'x'.repeat(90);
          if (band.kind === 'linear') band.end = [a, b];
          else band.centre = [b, c];
          if (band.kind === 'iris') band.falloff = [a, b, c, a, b, c, a, b];
          if (band.kind === 'planar') band.near.falloff = c;
          if (band.kind === 'elliptical') band.radii = [a, c];
        }
        for (const sounding of how.focus.soundings) sounding.at = [a, b];
        const fit = normaliseRecipe(how);
        expect(() => parseRecipe(structuredClone(fit))).not.toThrow();
        expect(fit.focus.rest).toBeCloseTo(Math.min(1, Math.max(0, a)), 12);
        expect(fit.blur.radius).toBeCloseTo(Math.min(0.1, Math.max(0, b)), 12);
      }),
    );
  });

  it('looks at strokes too, whether they are new or known', () => {
    const how = recipe({ focus: { strokes: [{ mode: 'clear', points: [[0.5, 0.5]] }] } });
    expect(normaliseRecipe(how)).toBe(how);
    const wide = { ...how.focus.strokes[0]!, radius: 99 };
    const fit = normaliseRecipe({
      ...how,
      focus: { ...how.focus, rest: 7, strokes: [...how.focus.strokes, wide] },
    });
    expect(fit.focus.strokes[0]).toBe(how.focus.strokes[0]);
    expect(fit.focus.strokes[1]!.radius).toBe(4);
    expect(fit.focus.rest).toBe(1);
  });

  it('refuses what has no nearest value, and names it', () => {
    const how = recipe({});
    const many = Array.from({ length: 51 }, (_, i) => ({ id: `m${i}`, image: 'a.png' }));
    const cases: [unknown, RegExp][] = [
      [{ ...how, blur: { ...how.blur, radius: NaN } }, /blur\.radius/],
      [{ ...how, focus: { ...how.focus, rest: Infinity } }, /focus\.rest/],
      [{ ...how, focus: { ...how.focus, mattes: many } }, /focus\.mattes/],
    ];
    for (const [value, message] of cases)
      expect(() => clampToSchema(recipeSchema, value as never)).toThrow(message);
    const strokes = Array.from({ length: 5001 }, () => ({ mode: 'clear', points: [[0, 0]] }));
    expect(() => normaliseRecipe({ ...how, focus: { ...how.focus, strokes } } as never)).toThrow(RecipeError);
  });

  it('cuts a text that is too long', () => {
    const band = { ...planarBandSchema.parse({ id: 'a', kind: 'planar' }), name: 'y'.repeat(200) };
    expect(clampToSchema(planarBandSchema, band).name).toHaveLength(80);
  });
});
