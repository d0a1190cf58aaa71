import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  type Key,
  type Recipe,
  RecipeError,
  normaliseRecipe,
  storeEditInKeys,
  keyPath,
  repairRecipe,
  parseRecipe,
  recipeAt,
  retimed,
  strongestBlur,
  withKey,
  withoutKey,
} from '../src/index';
import { recipe } from './harness';

/** Bands here are planar. */
const planar = (how: Recipe, i = 0) => how.focus.bands[i] as { centre: [number, number] };

const BAND = { id: 'b1', kind: 'planar', centre: [0.5, 0.5], angle: 350 };
const CENTRE = 'focus/bands/b1/centre';
const keyed = (keys: Partial<Key>[], parts: object = {}): Recipe =>
  recipe({ focus: { bands: [BAND] }, blur: { radius: 0.01 }, ...parts, keys });
const radius = (now: Recipe): number => now.blur.radius;

describe('keys', () => {
  it('lead from value to value, and stay beyond the ends', () => {
    const how = keyed([
      { of: 'blur/radius', at: 1, value: 0.01, ease: 'linear' },
      { of: 'blur/radius', at: 3, value: 0.05, ease: 'hold' },
      { of: 'blur/radius', at: 4, value: 0.02, ease: 'smooth' },
    ]);
    const at = (time: number): number => radius(recipeAt(how, time));
    expect([0, 1, 2, 3, 3.9, 4, 99].map(at)).toEqual(
      [0.01, 0.01, 0.03, 0.05, 0.05, 0.02, 0.02].map((v) => expect.closeTo(v, 9)),
    );
  });

  it('are soft where they stand still at both of their ends', () => {
    const how = keyed([
      { of: 'blur/radius', at: 0, value: 0.01, ease: 'soft' },
      { of: 'blur/radius', at: 2, value: 0.05, ease: 'soft' },
      { of: 'blur/radius', at: 4, value: 0.09 },
    ]);
    const at = (time: number): number => radius(recipeAt(how, time));
    // The cubic 3t² − 2t³, on every piece by itself.
    for (const t of [0, 0.1, 0.5, 0.8, 1]) {
      const eased = 0.04 * (3 * t ** 2 - 2 * t ** 3);
      expect(at(2 * t)).toBeCloseTo(0.01 + eased, 12);
      expect(at(2 + 2 * t)).toBeCloseTo(0.05 + eased, 12);
    }
  });

  it('go smoothly without passing their values', () => {
    const values = fc.array(fc.double({ min: 0, max: 0.1, noNaN: true }), { minLength: 2, maxLength: 6 });
    fc.assert(
      fc.property(values, fc.double({ min: 0, max: 1, noNaN: true }), (list, share) => {
        const how = keyed(list.map((value, at) => ({ of: 'blur/radius', at, value })));
        const time = share * (list.length - 1);
        const [a, b] = [list[Math.floor(time)]!, list[Math.ceil(time)]!];
        const value = radius(recipeAt(how, time));
        expect(value).toBeGreaterThanOrEqual(Math.min(a, b) - 1e-12);
        expect(value).toBeLessThanOrEqual(Math.max(a, b) + 1e-12);
      }),
    );
  });

  it('turn the short way round', () => {
    const of = 'focus/bands/b1/angle';
    const how = keyed([{ of, at: 0, value: 350, ease: 'linear' }, { of, at: 2, value: 10 }]); // prettier-ignore
    const angle = recipeAt(how, 1).focus.bands[0] as { angle: number };
    expect(((angle.angle % 360) + 360) % 360).toBeCloseTo(0, 9);
  });

  it('change points by both coordinates, and leave all else the same object', () => {
    const how = keyed([
      { of: CENTRE, at: 0, value: [0.2, 0.8], ease: 'linear' },
      { of: CENTRE, at: 1, value: [0.4, 0.4] },
    ]);
    const now = recipeAt(how, 0.5);
    expect(planar(now).centre).toEqual([expect.closeTo(0.3, 9), expect.closeTo(0.6, 9)]);
    expect(now.blur).toBe(how.blur);
    expect(now.focus.soundings).toBe(how.focus.soundings);
    const still = keyed([]);
    expect(recipeAt(still, 3)).toBe(still);
  });

  it('that name no number are refused by their place, and dropped from what is mended or edited', () => {
    for (const [key, message] of [
      [
        { of: 'focus/bands/b9/centre', at: 0, value: [0, 0] },
        'keys[0].of: "focus/bands/b9/centre" is no number of this recipe.',
      ],
      [
        { of: 'focus/bands/b1/name', at: 0, value: 1 },
        'keys[0].of: "focus/bands/b1/name" is no number of this recipe.',
      ],
      [{ of: 'pace/speed', at: 0, value: 1 }, 'keys[0].of: "pace/speed" is no number of this recipe.'],
      [{ of: CENTRE, at: 0, value: 1 }, 'keys[0].value: must be a point.'],
      [{ of: 'blur/radius', at: 0, value: [1, 2] }, 'keys[0].value: must be a number.'],
      [{ of: 'blur/radius', at: 0, value: 1 }, 'keys[0].value: must lie between 0 and 0.1.'],
      [
        { of: 'constructor/name', at: 0, value: 1 },
        'keys[0].of: "constructor/name" is no number of this recipe.',
      ],
    ] as const)
      expect(() => keyed([key as Key])).toThrow(new RecipeError(message));
    const bare = { format: 'hazy-lens-recipe', version: 1, keys: [{ of: CENTRE, at: 0, value: [0, 0] }] };
    expect(() => parseRecipe(bare)).toThrow('keys[0].of');
    expect(repairRecipe(bare).keys).toEqual([]);
    const how = keyed([{ of: CENTRE, at: 0, value: [0, 0] }, { of: 'blur/radius', at: 2, value: 0.02 }]); // prettier-ignore
    const without = normaliseRecipe({ ...how, focus: { ...how.focus, bands: [] } });
    expect(without.keys.map(({ of }) => of)).toEqual(['blur/radius']);
  });

  it('say how strong the blur gets at most', () => {
    const keys = [0.01, 0.06, 0.03].map((value, at) => ({ of: 'blur/radius', at, value }));
    expect(strongestBlur(keyed(keys)).radius).toBe(0.06);
    expect(strongestBlur(keyed([])).radius).toBe(0.01);
  });

  it('are named by ids', () => {
    expect(keyPath(keyed([]), ['focus', 'bands', 0, 'near', 'falloff'])).toBe('focus/bands/b1/near/falloff');
  });

  it('are set, moved over and taken away', () => {
    const one = withKey([], 'blur/radius', 1, 0.02, 'linear');
    const two = withKey(one, 'blur/radius', 2, 0.03);
    expect(two.map(({ at, ease }) => [at, ease])).toEqual([[1, 'linear'], [2, 'linear']]); // prettier-ignore
    expect(withKey(two, 'blur/radius', 1.0005, 0.04)[0]).toEqual({
      of: 'blur/radius',
      at: 1,
      value: 0.04,
      ease: 'linear',
    });
    expect(withoutKey(two, 'blur/radius', 2)).toEqual(one);
  });
});

describe('a change at a time', () => {
  it('sets a key where there are keys, and the number itself where there are none', () => {
    const stored = keyed([{ of: 'blur/radius', at: 0, value: 0.01 }, { of: 'blur/radius', at: 2, value: 0.03 }]); // prettier-ignore
    const seen = recipeAt(stored, 1);
    const changed: Recipe = {
      ...seen,
      blur: { ...seen.blur, radius: 0.05 },
      colour: { ...seen.colour, saturation: 0.5 },
    };
    const kept = storeEditInKeys(stored, seen, changed, 1);
    expect(kept.blur.radius).toBe(0.01);
    expect(kept.colour.saturation).toBe(0.5);
    expect(kept.keys.map(({ at, value }) => [at, value])).toEqual([[0, 0.01], [1, 0.05], [2, 0.03]]); // prettier-ignore
    expect(radius(recipeAt(kept, 1))).toBeCloseTo(0.05, 12);
  });

  it('that leaves what has keys alone leaves the keys alone', () => {
    const stored = keyed([{ of: 'blur/radius', at: 0, value: 0.01 }, { of: 'blur/radius', at: 2, value: 0.03 }]); // prettier-ignore
    const seen = recipeAt(stored, 1);
    const kept = storeEditInKeys(stored, seen, { ...seen, colour: { ...seen.colour, saturation: 0.5 } }, 1);
    expect(kept.keys).toBe(stored.keys);
    expect(kept.blur).toEqual(stored.blur);
  });

  it('follows a band whose place among the bands changes', () => {
    const stored = keyed([{ of: CENTRE, at: 0, value: [0.1, 0.1] }, { of: CENTRE, at: 2, value: [0.3, 0.3] }]); // prettier-ignore
    const seen = recipeAt(stored, 1);
    const other = { ...structuredClone(stored.focus.bands[0]!), id: 'b0' };
    const moved = { ...seen.focus.bands[0]!, centre: [0.9, 0.9] as [number, number] };
    const kept = storeEditInKeys(
      stored,
      seen,
      { ...seen, focus: { ...seen.focus, bands: [other, moved] } },
      1,
    );
    expect(kept.keys.map(({ at }) => at)).toEqual([0, 1, 2]);
    expect(planar(kept, 1).centre).toEqual([0.5, 0.5]);
    expect(planar(recipeAt(kept, 1), 1).centre).toEqual([0.9, 0.9]);
  });
});

describe('another rate of the source', () => {
  it('leaves keys, trim and curve on their pictures', () => {
    const before = keyed(
      [
        { of: 'blur/radius', at: 0, value: 0.01 },
        { of: 'blur/radius', at: 2, value: 0.05 },
      ],
      {
        pace: {
          trim: [1, 3],
          curve: [
            [0.5, 1],
            [2.5, 4],
          ],
        },
      },
    );
    const after = retimed(before, 0.25);
    fc.assert(
      fc.property(fc.double({ min: 0, max: 4, noNaN: true }), (time) => {
        expect(radius(recipeAt(after, time / 4))).toBeCloseTo(radius(recipeAt(before, time)), 9);
      }),
    );
    expect(after.pace).toMatchObject({
      trim: [0.25, 0.75],
      curve: [
        [0.125, 1],
        [0.625, 4],
      ],
    });
    expect(parseRecipe(after)).toEqual(after);
  });
});
