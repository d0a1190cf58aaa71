import { type ElementFocus, type Point, type Size, soundingField } from '@hazy-lens/core';

/** Most soundings that a recipe may hold. */
export const MAX_SOUNDINGS = 500;

/** Adds a sounding with the haze that is there already: what it changes is what the person does with it next. */
export function addSounding(focus: ElementFocus, at: Point, size: Size): void {
  const { soundings, rest } = focus;
  const haze =
    soundings.length === 0 ? rest : soundingField(soundings, size)(at[0] * size.width, at[1] * size.height);
  soundings.push({ at, haze });
  focus.soundingsOn = true;
}
