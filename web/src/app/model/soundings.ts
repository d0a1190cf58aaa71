import type { ElementFocus, Point } from '@hazy-lens/core';

/** Most soundings that a recipe may hold. */
export const MAX_SOUNDINGS = 500;

/** Adds a sounding, clear and hazy in turn so that two of them already make a field. */
export function addSounding(focus: ElementFocus, at: Point): void {
  const last = focus.soundings.at(-1)?.haze;
  focus.soundings.push({ at, haze: last === undefined ? 0 : last < 0.5 ? 0.8 : 0.2 });
  focus.soundingsOn = true;
}
