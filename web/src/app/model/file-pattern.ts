import { distinctNames, safeName } from '@hazy-lens/core';

/** What a pattern of file names can hold. */
export const PATTERN_WORDS = ['{name}', '{recipe}', '{number}'] as const;

/**
 * Names of files by a pattern, without their extension: each is its own, whatever the pictures are called.
 * @param pictures their names, with extensions, and what the recipe of each is called.
 */
export function filledPattern(
  pattern: string,
  pictures: readonly { name: string; recipe: string }[],
): string[] {
  const digits = Math.max(2, String(pictures.length).length);
  return distinctNames(
    pictures.map(({ name, recipe }, i) =>
      safeName(
        pattern
          .replaceAll('{name}', name.replace(/\.[^.]+$/, ''))
          .replaceAll('{recipe}', recipe)
          .replaceAll('{number}', String(i + 1).padStart(digits, '0')),
      ),
    ),
  );
}
