import { z } from 'zod';

/** The newest version of the format that this code reads and writes. */
export const RECIPE_VERSION = 1;

const unit = z.number().min(0).max(1);
const point = z.tuple([z.number().min(-1).max(2), z.number().min(-1).max(2)]);
const id = z.string().min(1).max(64);

const knot = z.tuple([unit, unit]);
const knots = z
  .array(knot)
  .max(32)
  .refine(
    (list) => list.every((k, i) => i === 0 || k[0] > list[i - 1]![0]),
    'knots must go from left to right',
  )
  .refine((list) => list.every((k, i) => i === 0 || k[1] >= list[i - 1]![1]), 'knots must not fall');

export const profileSchema = z.union([
  z.enum(['linear', 'smooth', 'late', 'early']),
  z.strictObject({ knots }),
]);

/** One side of a band; lengths are fractions of the picture's diagonal. */
export const sideSchema = z.strictObject({
  clear: z.number().min(0).max(2).default(0.05),
  falloff: z.number().min(0).max(4).default(0.2),
  haze: unit.default(1),
});

export const planarBandSchema = z.strictObject({
  id,
  kind: z.literal('planar'),
  name: z.string().max(80).optional(),
  on: z.boolean().default(true),
  mode: z.enum(['clear', 'haze']).default('clear'),
  invert: z.boolean().default(false),
  centre: point.default([0.5, 0.5]),
  angle: z.number().min(-360).max(360).default(0),
  profile: profileSchema.default('smooth'),
  near: sideSchema.prefault({}),
  far: sideSchema.prefault({}),
});

const focusSchema = z.strictObject({
  on: z.boolean().default(true),
  rest: unit.default(1),
  bands: z
    .array(planarBandSchema)
    .max(500)
    .refine(
      (bands) => new Set(bands.map((band) => band.id)).size === bands.length,
      'every band needs an id of its own',
    )
    .default([]),
});

const blurSchema = z.strictObject({
  on: z.boolean().default(true),
  kind: z.literal('gaussian').default('gaussian'),
  radius: z.number().min(0).max(0.1).default(0),
});

const colourSchema = z.strictObject({
  on: z.boolean().default(true),
  saturation: z.number().min(-1).max(1).default(0),
});

/** All that is done to a picture; see docs/recipe.md. */
export const recipeSchema = z.strictObject({
  format: z.literal('hazy-lens-recipe'),
  version: z.literal(RECIPE_VERSION),
  focus: focusSchema.prefault({}),
  blur: blurSchema.prefault({}),
  colour: colourSchema.prefault({}),
});

export type Recipe = z.infer<typeof recipeSchema>;
export type PlanarBand = z.infer<typeof planarBandSchema>;
export type BandSide = z.infer<typeof sideSchema>;
export type Profile = z.infer<typeof profileSchema>;
export type Focus = Recipe['focus'];

/** A recipe that cannot be used; the message is one sentence for the person who gave it. */
export class RecipeError extends Error {
  override readonly name = 'RecipeError';
}

/**
 * Checks a value and fills in its defaults.
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
      `version: this recipe is of version ${version}; this Hazy Lens reads up to version ${RECIPE_VERSION}. Please update Hazy Lens.`,
    );
  }
  const result = recipeSchema.safeParse(value);
  if (result.success) return result.data;
  const issue = firstIssue(result.error.issues[0]!);
  throw new RecipeError(`${placeName(issue.path)}: ${issue.message}.`);
}

/** Reads a recipe from JSON text. @throws RecipeError as parseRecipe, and where the text is no JSON. */
export function readRecipe(text: string): Recipe {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    throw new RecipeError(`Not valid JSON: ${(error as Error).message}.`);
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
    return { path: [...issue.path, issue.keys[0]!], message: 'is not a field of a recipe' };
  }
  if (issue.code === 'invalid_type' && issue.input === undefined && issue.message.includes('undefined')) {
    return { path: issue.path, message: 'is missing' };
  }
  return { path: issue.path, message: issue.message };
}

function placeName(path: readonly PropertyKey[]): string {
  const text = path.map((part) => (typeof part === 'number' ? `[${part}]` : `.${String(part)}`)).join('');
  return text.replace(/^\./, '') || 'recipe';
}
