import { parseRecipe } from '@hazy-lens/core';
import { describe, expect, it } from 'vitest';
import { RECIPE_PARTS, withParts } from '../src/app/model/recipe-parts';

const recipe = (parts: object) => parseRecipe({ format: 'hazy-lens-recipe', version: 1, ...parts });
const own = recipe({
  focus: { bands: [{ id: 'mine', kind: 'planar' }] },
  blur: { radius: 0.01 },
  colour: { contrast: 0.5 },
  keys: [
    { of: 'focus/bands/mine/angle', at: 1, value: 5 },
    { of: 'blur/radius', at: 2, value: 0.03 },
  ],
});
const other = recipe({
  focus: { bands: [{ id: 'theirs', kind: 'iris' }] },
  blur: { radius: 0.02, kind: 'lens' },
  tidy: { crop: { turn: 3 } },
  keys: [
    { of: 'blur/radius', at: 1.5, value: 0.05 },
    { of: 'focus/bands/theirs/angle', at: 0, value: 40 },
  ],
});

describe('a recipe used in parts', () => {
  it('gives those parts, with their keys, and leaves all else', () => {
    const used = withParts(own, other, new Set(['blur']));
    expect(used).toEqual({
      ...own,
      blur: other.blur,
      keys: [own.keys[0], other.keys[0]],
    });
    expect(parseRecipe(used)).toEqual(used);
  });

  it('is the other one where all parts are used, and one’s own where none is', () => {
    const all = withParts(own, other, new Set(RECIPE_PARTS));
    expect({ ...all, keys: [] }).toEqual({ ...other, keys: [] });
    expect(all.keys.map(({ at }) => at)).toEqual([0, 1.5]);
    expect(withParts(own, other, new Set())).toEqual(own);
  });
});
