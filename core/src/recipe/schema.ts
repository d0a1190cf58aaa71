import { z } from 'zod';
import { focusSchema } from './focus-schema';
import { keysSchema } from './keys-schema';
import { length, ratio } from './number-meta';
import { paceSchema } from './pace-schema';

/** The newest version of the format that this code reads and writes. */
export const RECIPE_VERSION = 1;

const blurSchema = z.strictObject({
  on: z.boolean().default(true),
  kind: z.literal('gaussian').default('gaussian'),
  radius: length(0, 0.1, {
    label: 'Radius',
    spoken: 'Blur radius',
    decimals: 1,
    sliderMax: 0.03,
    start: 0.01,
  }).default(0),
});

const colourSchema = z.strictObject({
  on: z.boolean().default(true),
  saturation: ratio(-1, 1, { label: 'Saturation' }).default(0),
});

/** All that is done to a picture; see docs/recipe.md. */
export const recipeSchema = z.strictObject({
  format: z.literal('hazy-lens-recipe'),
  version: z.literal(RECIPE_VERSION),
  focus: focusSchema.prefault({}),
  blur: blurSchema.prefault({}),
  colour: colourSchema.prefault({}),
  pace: paceSchema.prefault({}),
  keys: keysSchema,
});

export type Recipe = z.infer<typeof recipeSchema>;
