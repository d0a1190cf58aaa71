import { describe, expect, it } from 'vitest';
import * as z from 'zod';
import { RecipeError, neutralRecipe, parseRecipe, readRecipe } from '../src/index';
import { recipeSchema } from '../src/recipe/schema';

const base = { format: 'hazy-lens-recipe', version: 1 };

describe('a recipe', () => {
  it('takes defaults for what is missing', () => {
    const recipe = parseRecipe({
      ...base,
      focus: { bands: [{ id: 'b1', kind: 'planar', near: { clear: 0.1 } }] },
    });
    expect(recipe.focus.rest).toBe(1);
    expect(recipe.focus.bands[0]).toMatchObject({
      mode: 'clear',
      profile: 'smooth',
      near: { clear: 0.1, falloff: 0.2, haze: 1 },
    });
    expect(recipe.blur).toMatchObject({ on: true, kind: 'gaussian', radius: 0, lens: { squeeze: 1 } });
  });

  it('survives writing and reading', () => {
    const recipe = neutralRecipe();
    expect(readRecipe(JSON.stringify(recipe))).toEqual(recipe);
  });

  it.each([
    ['a wrong type', { ...base, blur: { radius: '24' } }, /^blur\.radius: /],
    [
      'NaN',
      { ...base, focus: { bands: [{ id: 'a', kind: 'planar', angle: NaN }] } },
      /^focus\.bands\[0\]\.angle: /,
    ],
    ['an infinite number', { ...base, colour: { saturation: Infinity } }, /^colour\.saturation: /],
    ['a number out of range', { ...base, colour: { saturation: 3 } }, /^colour\.saturation: .*1/],
    ['an unknown key', { ...base, focus: { blobs: [] } }, /^focus\.blobs: isn’t a field/],
    ['a missing id', { ...base, focus: { bands: [{ kind: 'planar' }] } }, /^focus\.bands\[0\]\.id: /],
    [
      'two bands of one id',
      {
        ...base,
        focus: {
          bands: [
            { id: 'a', kind: 'planar' },
            { id: 'a', kind: 'planar' },
          ],
        },
      },
      /^focus\.bands: .*id/,
    ],
    [
      'an unknown kind of band',
      { ...base, focus: { bands: [{ id: 'a', kind: 'blob' }] } },
      /^focus\.bands\[0\]\.kind: /,
    ],
    [
      'knots that go back',
      {
        ...base,
        focus: {
          bands: [
            {
              id: 'a',
              kind: 'planar',
              profile: {
                knots: [
                  [0.5, 0.5],
                  [0.4, 0.6],
                ],
              },
            },
          ],
        },
      },
      /profile/,
    ],
    ['no version', { format: 'hazy-lens-recipe' }, /^version: is missing/],
    ['a newer version', { ...base, version: 2 }, /version 2; .* up to version 1/],
    ['another format', { format: 'cake', version: 1 }, /^format: /],
    ['a list', [], /JSON object/],
    ['nothing', null, /JSON object/],
  ])('with %s is refused by name', (_, value, message) => {
    expect(() => parseRecipe(value)).toThrow(RecipeError);
    expect(() => parseRecipe(value)).toThrow(message);
  });

  it('of broken text is refused', () => {
    expect(() => readRecipe('{"format": ')).toThrow(/Not valid JSON/);
    expect(() => readRecipe('{"version": NaN}')).toThrow(/Not valid JSON/);
    expect(() => readRecipe('')).toThrow(/Not valid JSON/);
  });
});

describe('the documented schema', () => {
  it('is the one in force (renew it with: npx vitest run core/test/recipe.test.ts -u)', async () => {
    const schema = z.toJSONSchema(recipeSchema, { io: 'input' });
    await expect(`${JSON.stringify(schema, null, 2)}\n`).toMatchFileSnapshot('../../docs/recipe.schema.json');
  });

  it('is refused in one line, whatever the text is', () => {
    for (const text of ['\n\u0000\u0007{', '{"a":\n\n"b', '[\r\n'])
      expect(() => readRecipe(text)).toThrow(/^Not valid JSON: [^\n\r\0]+\.$/);
  });
});
