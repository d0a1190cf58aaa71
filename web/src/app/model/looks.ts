import type { LookName, Recipe } from '@hazy-lens/core';

type Colour = Recipe['colour'];

/** A look that comes with the application, or a table of colours that was kept under a file's name. */
export type LookChoice = { name: LookName } | { image: string };

/** Colours under another look, as strong as the one before; under none where there is no choice. */
export function withLook(colour: Colour, choice: LookChoice | null): Colour {
  const { look, ...own } = colour;
  return choice === null ? own : { ...own, on: true, look: { ...choice, amount: look?.amount ?? 1 } };
}

/** The look that colours have, or null. */
export function choiceOf({ look }: Colour): LookChoice | null {
  if (!look) return null;
  return look.name ? { name: look.name } : { image: look.image! };
}
