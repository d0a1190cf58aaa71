import { IDENTITY_CARRY, type Matte } from '@hazy-lens/core';

/** What the subject of a list is called: by its name, else by which it is. */
export function matteName(mattes: readonly Matte[], i: number): string {
  return mattes[i]?.name ?? `Subject ${i + 1}`;
}

/** A subject that is not cut out yet. @param image the name of an empty matte. */
export function newMatte(id: string, image: string): Matte {
  return {
    id,
    image,
    on: true,
    combine: 'add',
    invert: false,
    grow: 0,
    feather: 0,
    as: 'clear',
    foot: null,
    lifted: false,
    scribbles: [],
    carry: IDENTITY_CARRY,
  };
}
