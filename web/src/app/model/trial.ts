import type { Recipe } from '@hazy-lens/core';

export type Half = 'first' | 'second';
type BlurLook = Recipe['blur'];

/** Which half is in hand from a step on, and the blur of the other; the one in hand has the project's. */
export interface BlurTrialTurn {
  from: number;
  inHand: Half;
  other: BlurLook;
}

/** A trial of two blurs: each time that the other half was taken in hand, the first first. */
export type Trial = readonly [BlurTrialTurn, ...BlurTrialTurn[]];

/** The turn that holds before step `next`; null where the steps went back to before the trial. */
export function turnAt(trial: Trial, next: number): BlurTrialTurn | null {
  return trial.findLast(({ from }) => from <= next) ?? null;
}

/** The trial once the other half than in a turn was taken in hand, before step `next`. @param left the blur that was in hand. */
export function swapHalves(trial: Trial, { inHand }: BlurTrialTurn, next: number, left: BlurLook): Trial {
  const [first, ...later] = trial;
  const turn: BlurTrialTurn = { from: next, inHand: inHand === 'first' ? 'second' : 'first', other: left };
  return [first, ...later.filter(({ from }) => from < next), turn];
}
