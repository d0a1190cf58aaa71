import type { Recipe } from './schema';

/** Names of the files that a recipe needs beside it: its depth map, its mattes, its elements, the table of its look. */
export function referencedFiles({ focus, colour, elements }: Recipe): string[] {
  return [
    ...(focus.depthMap ? [focus.depthMap.image] : []),
    ...focus.mattes.map(({ image }) => image),
    ...elements.map(({ image }) => image),
    ...(colour.look?.image === undefined ? [] : [colour.look.image]),
  ];
}

/** The same without what is switched off: the files that rendering reads. */
export function usedFiles({ focus, colour, elements }: Recipe): string[] {
  return [
    ...(focus.on && focus.depthMap?.on ? [focus.depthMap.image] : []),
    ...focus.mattes.filter(({ on }) => focus.on && on).map(({ image }) => image),
    ...elements.filter(({ on }) => on).map(({ image }) => image),
    ...(colour.on && colour.look?.image !== undefined ? [colour.look.image] : []),
  ];
}

/** The recipe with other names for these files. */
export function renameReferences(recipe: Recipe, names: ReadonlyMap<string, string>): Recipe {
  const nameOf = (image: string): string => names.get(image) ?? image;
  const renamed = structuredClone(recipe);
  const { focus, colour, elements } = renamed;
  if (focus.depthMap) focus.depthMap.image = nameOf(focus.depthMap.image);
  for (const matte of focus.mattes) matte.image = nameOf(matte.image);
  for (const element of elements) element.image = nameOf(element.image);
  if (colour.look?.image) colour.look.image = nameOf(colour.look.image);
  return renamed;
}
