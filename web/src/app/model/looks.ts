import type { LookName, Recipe } from '@hazy-lens/core';

type Colour = Recipe['colour'];

/** Colours under another look, as strong as the one before; under none where `name` is null. */
export function withLook(colour: Colour, name: LookName | null): Colour {
  const { look, ...own } = colour;
  return name === null ? own : { ...own, on: true, look: { name, amount: look?.amount ?? 1 } };
}
