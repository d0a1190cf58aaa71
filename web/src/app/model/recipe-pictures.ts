import type { Recipe } from '@hazy-lens/core';

/** Names of the pictures that a recipe needs beside it. */
export function namedPictures({ focus }: Recipe): string[] {
  return [...(focus.depthMap ? [focus.depthMap.image] : []), ...focus.mattes.map(({ image }) => image)];
}

/** The recipe with other names for its pictures. */
export function renamedPictures(recipe: Recipe, names: ReadonlyMap<string, string>): Recipe {
  const copy = structuredClone(recipe);
  const nameOf = (image: string): string => names.get(image) ?? image;
  if (copy.focus.depthMap) copy.focus.depthMap.image = nameOf(copy.focus.depthMap.image);
  for (const matte of copy.focus.mattes) matte.image = nameOf(matte.image);
  return copy;
}
