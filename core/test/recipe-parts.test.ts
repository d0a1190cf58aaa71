import { LOOK_PARTS, RECIPE_PARTS, parseRecipe, withParts } from '../src/index';
import { describe, expect, it } from 'vitest';

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

  it('leaves with its picture what was made on that: crop, mends, subjects, strokes, depth map, and their keys', () => {
    const points = [[0.5, 0.5]];
    const bound = recipe({
      tidy: { crop: { turn: 3 } },
      focus: {
        bands: [{ id: 'theirs', kind: 'iris' }],
        depthMap: { image: 'deep.png' },
        strokes: [{ mode: 'clear', radius: 0.1, softness: 0, strength: 1, pressure: 'none', points }],
        mattes: [{ id: 'm', image: 'm.png' }],
      },
      keys: [
        { of: 'focus/strokesCarry/turn', at: 0, value: 5 },
        { of: 'focus/bands/theirs/angle', at: 0, value: 40 },
      ],
    });
    const used = withParts(own, bound, LOOK_PARTS);
    expect(used.focus).toEqual({ ...own.focus, bands: bound.focus.bands });
    expect(used.tidy).toEqual(own.tidy);
    expect(used.keys.map(({ of }) => of)).toEqual(['focus/bands/theirs/angle']);
    const subjects = withParts(own, bound, new Set(['subjects']));
    expect(subjects.focus).toEqual({ ...bound.focus, bands: own.focus.bands });
    expect(subjects.keys.map(({ of }) => of)).toEqual([
      'focus/strokesCarry/turn',
      ...own.keys.map(({ of }) => of),
    ]);
  });
});
