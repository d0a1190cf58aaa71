import { safeName } from './safe-name';

/** What a pattern of file names can hold. */
export const PATTERN_WORDS = ['{name}', '{recipe}', '{number}'] as const;

/**
 * Names of files by a pattern, without their extension: each is its own, whatever the pictures are called.
 * @param names of the pictures, with their extensions. @param recipe what the recipe is called.
 */
export function filledPattern(pattern: string, names: readonly string[], recipe: string): string[] {
  const taken = new Map<string, number>();
  const digits = Math.max(2, String(names.length).length);
  return names.map((name, i) => {
    const plain = name.replace(/\.[^.]+$/, '');
    const filled = safeName(
      pattern
        .replaceAll('{name}', plain)
        .replaceAll('{recipe}', recipe)
        .replaceAll('{number}', String(i + 1).padStart(digits, '0')),
    );
    // Systems that do not tell capitals apart must not write one over the other.
    const key = filled.toLowerCase();
    const count = (taken.get(key) ?? 0) + 1;
    taken.set(key, count);
    if (count === 1) return filled;
    const numbered = `${filled} ${count}`;
    taken.set(numbered.toLowerCase(), 1);
    return numbered;
  });
}
