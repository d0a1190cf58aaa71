import { distinctNames, safeName } from '@hazy-lens/core';

/** What a pattern of file names can hold. */
export const PATTERN_WORDS = ['{name}', '{recipe}', '{number}'] as const;

/**
 * Names of files by a pattern, without their extension: each is its own, whatever the pictures are called.
 * @param names of the pictures, with their extensions. @param recipe what the recipe is called.
 */
export function filledPattern(pattern: string, names: readonly string[], recipe: string): string[] {
  const digits = Math.max(2, String(names.length).length);
  return distinctNames(
    names.map((name, i) =>
      safeName(
        pattern
          .replaceAll('{name}', name.replace(/\.[^.]+$/, ''))
          .replaceAll('{recipe}', recipe)
          .replaceAll('{number}', String(i + 1).padStart(digits, '0')),
      ),
    ),
  );
}
