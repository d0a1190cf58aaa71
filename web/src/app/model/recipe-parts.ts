import type { Recipe } from '@hazy-lens/core';

/** The parts of a recipe that can be used without the others. */
export const RECIPE_PARTS = ['tidy', 'focus', 'blur', 'colour', 'finish', 'pace'] as const;
export type RecipePart = (typeof RECIPE_PARTS)[number];

/** A recipe with parts of another one in place of its own, and the keys of those parts with them. */
export function withParts(own: Recipe, other: Recipe, parts: ReadonlySet<RecipePart>): Recipe {
  const isTaken = ({ of }: Recipe['keys'][number]): boolean => parts.has(of.split('/')[0] as RecipePart);
  const taken = Object.fromEntries(
    RECIPE_PARTS.filter((part) => parts.has(part)).map((part) => [part, other[part]]),
  );
  const keys = [...own.keys.filter((key) => !isTaken(key)), ...other.keys.filter(isTaken)];
  return { ...own, ...taken, keys: keys.sort((a, b) => a.at - b.at) };
}
