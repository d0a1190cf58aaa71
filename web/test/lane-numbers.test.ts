import { type Key, parseRecipe, tracksOf } from '@hazy-lens/core';
import { describe, expect, it } from 'vitest';
import type { Lane } from '../src/app/project/footage/keyframes';
import { curveValues, laneNumbers, shownIn, spanOf, withNumber } from '../src/app/reel/lane-numbers';

const SIZE = { width: 1000, height: 500 };
const key = (of: string, at: number, value: Key['value']): object => ({ of, at, value, ease: 'linear' });
const recipe = parseRecipe({
  format: 'hazy-lens-recipe',
  version: 1,
  focus: {
    bands: [
      {
        id: 'b',
        kind: 'planar',
        centre: [0.5, 0.5],
        near: { clear: 0.1, falloff: 0.1 },
        far: { clear: 0.1, falloff: 0.1 },
      },
    ],
  },
  keys: [
    key('focus/bands/b/centre', 0, [0.2, 0.5]),
    key('focus/bands/b/centre', 2, [0.4, 0.5]),
    key('focus/bands/b/angle', 0, 170),
    key('focus/bands/b/angle', 2, -170),
  ],
});
const tracks = tracksOf(recipe.keys);
const lane: Lane = { owner: 'focus/bands/b', label: 'Planar 1', tracks, keyTimes: [] };
const [across, down, angle] = laneNumbers(recipe, lane, SIZE);

describe('the numbers of a lane', () => {
  it('are those of its tracks, two for a point, with their names and as people see them', () => {
    expect(laneNumbers(recipe, lane, SIZE)).toHaveLength(3);
    expect([across, down, angle].map((number) => number!.part)).toEqual([0, 1, 0]);
    expect(across!.label).toContain('across');
    expect(down!.label).toContain('down');
    expect(curveValues(recipe, across!, [0, 1, 2])).toEqual([200, expect.closeTo(300), 400]);
    expect(shownIn(recipe.keys[0]!, down!)).toBe(250);
  });

  it('of an angle go on where half a turn is passed', () => {
    const values = curveValues(recipe, angle!, [0, 0.5, 1, 1.5, 2]);
    expect(values).toEqual([170, 175, 180, 185, 190].map((value) => expect.closeTo(value)));
  });

  it('are put into a key beside the other of its point, within their range', () => {
    expect(withNumber([0.2, 0.5], across!, 300)).toEqual([0.3, 0.5]);
    expect(withNumber([0.2, 0.5], down!, 100)).toEqual([0.2, 0.2]);
    expect(withNumber(10, angle!, 20)).toBe(20);
    expect(withNumber(10, angle!, 1e9)).toBe(angle!.range.max);
  });

  it('are drawn with room above and below, also where nothing changes', () => {
    const { least, most } = spanOf([200, 400], across!);
    expect(least).toBeLessThan(200);
    expect(most).toBeGreaterThan(400);
    const flat = spanOf([250, 250], down!);
    expect(flat.most - flat.least).toBeGreaterThanOrEqual(8 * down!.range.step);
    expect((flat.most + flat.least) / 2).toBeCloseTo(250);
  });

  it('that name nothing of the recipe are left out', () => {
    const gone: Lane = { ...lane, tracks: tracksOf([key('focus/bands/x/angle', 0, 1)] as Key[]) };
    expect(laneNumbers(recipe, gone, SIZE)).toEqual([]);
  });
});
