import type { Recipe } from '@hazy-lens/core';

/** Names of the files that a recipe needs beside it: its depth map, its mattes, the table of its look. */
export function namedFiles({ focus, colour }: Recipe): string[] {
  return [
    ...(focus.depthMap ? [focus.depthMap.image] : []),
    ...focus.mattes.map(({ image }) => image),
    ...(colour.look?.image === undefined ? [] : [colour.look.image]),
  ];
}

/** The recipe with other names for these files. */
export function renamedFiles(recipe: Recipe, names: ReadonlyMap<string, string>): Recipe {
  const copy = structuredClone(recipe);
  const nameOf = (image: string): string => names.get(image) ?? image;
  if (copy.focus.depthMap) copy.focus.depthMap.image = nameOf(copy.focus.depthMap.image);
  for (const matte of copy.focus.mattes) matte.image = nameOf(matte.image);
  if (copy.colour.look?.image) copy.colour.look.image = nameOf(copy.colour.look.image);
  return copy;
}
