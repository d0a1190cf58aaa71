import type { Matte } from '@hazy-lens/core';

/** What the subject of a list is called: by its name, else by which it is. */
export function matteName(mattes: readonly Matte[], i: number): string {
  return mattes[i]?.name ?? `Subject ${i + 1}`;
}
