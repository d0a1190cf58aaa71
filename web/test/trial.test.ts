import { parseRecipe } from '@hazy-lens/core';
import { describe, expect, it } from 'vitest';
import { type Trial, turnAt, swapHalves } from '../src/app/model/trial';

const blur = (radius: number) =>
  parseRecipe({ format: 'hazy-lens-recipe', version: 1, blur: { radius } }).blur;

describe('a trial of two blurs', () => {
  const start: Trial = [{ from: 4, inHand: 'first', other: blur(0.02) }];
  // Step 4 takes the second half in hand, step 5 changes it, step 6 takes the first again.
  const second = swapHalves(start, start[0], 5, blur(0.01));
  const third = swapHalves(second, turnAt(second, 6)!, 7, blur(0.03));

  it('has the half in hand, and the other blur, that each step left', () => {
    expect(turnAt(third, 4)).toEqual(start[0]);
    for (const next of [5, 6])
      expect(turnAt(third, next)).toMatchObject({ inHand: 'second', other: blur(0.01) });
    expect(turnAt(third, 7)).toMatchObject({ inHand: 'first', other: blur(0.03) });
    expect(turnAt(third, 12)).toBe(third.at(-1));
  });

  it('turns where both blurs are alike, too, which is no step', () => {
    const alike = swapHalves(start, start[0], 4, blur(0.02));
    expect(turnAt(alike, 4)!.inHand).toBe('second');
    expect(turnAt(swapHalves(alike, turnAt(alike, 4)!, 4, blur(0.02)), 4)!.inHand).toBe('first');
  });

  it('is over by steps back to before it', () => {
    expect(turnAt(third, 3)).toBeNull();
  });

  it('forgets turns that were taken back once another is made', () => {
    const other = swapHalves(third, start[0], 5, blur(0.05));
    expect(other.map(({ from }) => from)).toEqual([4, 5]);
    expect(other.at(-1)).toEqual({ from: 5, inHand: 'second', other: blur(0.05) });
  });
});
