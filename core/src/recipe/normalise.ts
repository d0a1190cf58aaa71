import type * as z from 'zod';
import { MAX_STROKES } from './focus-schema';
import { pruneKeys } from './keys';
import { RecipeError, checkPoints, parseRecipe, formatPath } from './parse';
import { type Recipe, recipeSchema } from './schema';
import { thinned } from './stroke-points';

/** Rounds of putting right what a check finds: one change can uncover the next. */
const ROUNDS = 4;

type Path = readonly PropertyKey[];

/** A copy of a value with another one at a path; what lies beside the path stays the same object. */
function withAt(value: unknown, path: Path, change: (old: unknown) => unknown): unknown {
  const [key, ...rest] = path;
  if (key === undefined) return change(value);
  const copy = (Array.isArray(value) ? [...value] : { ...(value as object) }) as Record<PropertyKey, unknown>;
  copy[key] = withAt(copy[key], rest, change);
  return copy;
}

/** What an issue of Zod asks for, where a nearest value within the range exists. */
function nearest(issue: z.core.$ZodIssue): ((old: unknown) => unknown) | null {
  if (issue.code === 'too_big') {
    const most = Number(issue.maximum);
    if (issue.origin === 'number' || issue.origin === 'int') return () => most;
    if (issue.origin === 'string') return (old) => (old as string).slice(0, most).trimEnd();
  }
  if (issue.code === 'too_small' && (issue.origin === 'number' || issue.origin === 'int'))
    return () => Number(issue.minimum);
  return null;
}

/**
 * A value as a schema takes it: numbers that are out of range become the nearest that are in it, texts that are too long
 * are cut. What is right already stays the same object.
 * @throws RecipeError that names the first field where no nearest value exists: too many of something, no number at all.
 */
export function clampToSchema<T>(schema: z.ZodType<T>, value: T): T {
  let now: unknown = value;
  for (let round = 0; ; round++) {
    const result = schema.safeParse(now, { reportInput: true });
    if (result.success) return now as T;
    for (const issue of leaves(result.error.issues)) {
      const change = round < ROUNDS ? nearest(issue) : null;
      if (!change) throw new RecipeError(`${formatPath(issue.path)}: ${issue.message}.`);
      now = withAt(now, issue.path, change);
    }
  }
}

/** Issues with those of a union's nearest branch in place of the union's own. */
function leaves(issues: readonly z.core.$ZodIssue[], above: Path = []): z.core.$ZodIssue[] {
  return issues.flatMap((issue) => {
    const path = [...above, ...issue.path];
    if (issue.code !== 'invalid_union' || issue.errors.length === 0) return [{ ...issue, path }];
    const branches = issue.errors.map((errors) => leaves(errors, path));
    const mendable = branches.find((branch) => branch.every((one) => nearest(one) !== null));
    return mendable ?? branches[0]!;
  });
}

/** The recipe in a value; numbers out of range and texts too long are put right. @throws RecipeError where it is none. */
export function repairRecipe(value: unknown): Recipe {
  try {
    return parseRecipe(value);
  } catch {
    const fit = clampToSchema(recipeSchema as z.ZodType<unknown>, thinned(value));
    return parseRecipe(pruneKeys(recipeSchema.parse(fit)));
  }
}

/** Already validated: immutable and long, so not checked again. */
const known = new WeakSet<object>();

/**
 * A recipe as the schema takes it, see `clampToSchema`; cheap for one that has many strokes, each of which is looked at once.
 * Keys of what is no longer there go.
 * @throws RecipeError
 */
export function normaliseRecipe(recipe: Recipe): Recipe {
  return pruneKeys(fitParts(recipe));
}

/** The same as far as the schema says it of each part. */
function fitParts(recipe: Recipe): Recipe {
  const { strokes, mattes } = recipe.focus;
  if (strokes.length > MAX_STROKES)
    throw new RecipeError(`focus.strokes: there can be at most ${MAX_STROKES}.`);
  checkPoints(recipe);
  const fresh = strokes.flatMap((stroke, i) => (known.has(stroke) ? [] : [i]));
  const light: Recipe = {
    ...recipe,
    keys: known.has(recipe.keys) ? [] : recipe.keys,
    focus: {
      ...recipe.focus,
      strokes: fresh.map((i) => strokes[i]!),
      mattes: mattes.map((matte) => (known.has(matte.scribbles) ? { ...matte, scribbles: [] } : matte)),
    },
  };
  const fit = clampToSchema(recipeSchema as z.ZodType<Recipe>, light);
  fresh.forEach((_, k) => known.add(fit.focus.strokes[k]!));
  fit.focus.mattes.forEach((matte) => known.add(matte.scribbles));
  const keys = known.has(recipe.keys) ? recipe.keys : fit.keys;
  known.add(keys);
  if (fit === light && keys === recipe.keys) return recipe;
  const all = [...strokes];
  fresh.forEach((i, k) => (all[i] = fit.focus.strokes[k]!));
  return {
    ...fit,
    keys,
    focus: {
      ...fit.focus,
      strokes: all,
      mattes: fit.focus.mattes.map((matte, i) =>
        known.has(mattes[i]!.scribbles) ? { ...matte, scribbles: mattes[i]!.scribbles } : matte,
      ),
    },
  };
}
