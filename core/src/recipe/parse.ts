import type * as z from 'zod';
import { keyProblem } from './keys';
import { foreignText } from './foreign-text';
import { MAX_POINTS_TOGETHER, pointsTogether, thinned } from './stroke-points';
import { RECIPE_VERSION, type Recipe, recipeSchema } from './schema';

/** A recipe that cannot be used; the message is one sentence for the person who gave it. */
export class RecipeError extends Error {
  override readonly name = 'RecipeError';
}

/**
 * Checks a value and fills in its defaults; strokes with far more points than can be seen lose those, see `simplifyTrack`.
 * @throws RecipeError that names the first field at fault, or says that the recipe is of a newer version.
 */
export function parseRecipe(value: unknown): Recipe {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) {
    throw new RecipeError('A recipe must be a JSON object.');
  }
  const { format, version } = value as Record<string, unknown>;
  if (format !== 'hazy-lens-recipe') throw new RecipeError('format: must be "hazy-lens-recipe".');
  if (version === undefined) throw new RecipeError('version: is missing.');
  if (typeof version === 'number' && version > RECIPE_VERSION) {
    throw new RecipeError(
      `version: this recipe is of version ${version}; this Hazy Lens reads up to version ${RECIPE_VERSION}. Update Hazy Lens.`,
    );
  }
  const result = recipeSchema.safeParse(thinned(value));
  if (result.success) {
    checkPoints(result.data);
    const problem = keyProblem(result.data);
    if (!problem) return result.data;
    throw new RecipeError(`keys[${problem.index}].${problem.field}: ${problem.message}.`);
  }
  const issue = firstIssue(result.error.issues[0]!);
  throw new RecipeError(`${formatPath(issue.path)}: ${issue.message}.`);
}

/** @throws RecipeError where strokes and scribbles have more points together than they may. */
export function checkPoints({ focus }: Recipe): void {
  const count = pointsTogether(focus);
  if (count > MAX_POINTS_TOGETHER)
    throw new RecipeError(
      `focus: strokes and scribbles have ${count} points together; there can be at most ${MAX_POINTS_TOGETHER}.`,
    );
}

/** Reads a recipe from JSON text. @throws RecipeError as parseRecipe, and where the text is no JSON. */
export function readRecipe(text: string): Recipe {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    // The parser quotes what it stumbled over, whatever that is.
    throw new RecipeError(`Not valid JSON: ${foreignText((error as Error).message)}.`);
  }
  return parseRecipe(value);
}

/** A recipe that changes nothing. */
export function neutralRecipe(): Recipe {
  return parseRecipe({ format: 'hazy-lens-recipe', version: RECIPE_VERSION });
}

interface Place {
  path: PropertyKey[];
  message: string;
}

function firstIssue(issue: z.core.$ZodIssue): Place {
  if (issue.code === 'unrecognized_keys') {
    return { path: [...issue.path, issue.keys[0]!], message: 'isn’t a field of a recipe' };
  }
  if (issue.code === 'invalid_type' && issue.input === undefined && issue.message.includes('undefined')) {
    return { path: issue.path, message: 'is missing' };
  }
  return { path: issue.path, message: issue.message };
}

/** A field as people read it: "focus.bands[2].angle". */
export function formatPath(path: readonly PropertyKey[]): string {
  const text = path
    .map((part) => (typeof part === 'number' ? `[${part}]` : `.${foreignText(String(part))}`))
    .join('');
  return text.replace(/^\./, '') || 'recipe';
}
