import * as z from 'zod';
import { LOOK_NAMES } from './looks';
import { companionPath } from './companion-path';
import { elementsSchema } from './element-schema';
import { focusSchema } from './focus-schema';
import { keysSchema } from './keys-schema';
import { angle, count, factor, length, light, pixels, pointSchema, ratio, share, stops } from './number-meta';
import { paceSchema } from './pace-schema';
import { tidySchema } from './tidy-schema';

/** The newest version of the format that this code reads and writes. */
export const RECIPE_VERSION = 1;

const lensSchema = z.strictObject({
  blades: count(0, 12, { label: 'Blades', spoken: 'Aperture blades' })
    .refine((n) => n === 0 || n >= 3, 'must be 0, for a round aperture, or 3 to 12')
    .default(0),
  roundness: share({ label: 'Roundness', spoken: 'Aperture roundness' }).default(0),
  rotation: angle({ label: 'Rotation', spoken: 'Aperture rotation', sliderMin: -180, sliderMax: 180 }).default(0),
  squeeze: factor(0.3, 3, { label: 'Squeeze', spoken: 'Aperture squeeze', step: 0.05, decimals: 2, start: 1 }).default(1),
  rim: ratio(-1, 1, { label: 'Rim', spoken: 'Disc rim' }).default(0),
  fringe: ratio(-1, 1, { label: 'Fringe', spoken: 'Colour fringe' }).default(0),
  cat: share({ label: 'Cat’s eyes', spoken: 'Cat’s eyes towards the corners' }).default(0),
  highlights: z
    .strictObject({
      stops: stops(0, 5, { label: 'Boost', spoken: 'Highlight boost' }).default(0),
      threshold: light(0.5, 1, { label: 'Threshold', spoken: 'Highlight threshold' }).default(0.9),
      tint: share({ label: 'Tint', spoken: 'Highlight tint' }).default(0),
    })
    .prefault({}),
}); // prettier-ignore

/** What an aperture does to light. */
export type Lens = z.infer<typeof lensSchema>;

const blurSchema = z.strictObject({
  on: z.boolean().default(true),
  kind: z.enum(['gaussian', 'lens', 'motion', 'spin', 'zoom']).default('gaussian'),
  radius: length(0, 0.1, {
    label: 'Radius',
    spoken: 'Blur radius',
    decimals: 1,
    sliderMax: 0.03,
    start: 0.01,
  }).default(0),
  lens: lensSchema.prefault({}),
  motion: z
    .strictObject({
      angle: angle({ label: 'Angle', spoken: 'Angle of the movement', sliderMin: -90, sliderMax: 90 }).default(0),
    })
    .prefault({}),
  spin: z.strictObject({ centre: pointSchema('Centre of the spin').default([0.5, 0.5]) }).prefault({}),
  zoom: z.strictObject({ centre: pointSchema('Centre of the zoom').default([0.5, 0.5]) }).prefault({}),
}); // prettier-ignore

/** A shift of Oklab's a and b. */
const shift = (of: string) =>
  z
    .tuple([
      ratio(-0.2, 0.2, { label: 'Green to red', spoken: `${of}, green to red`, decimals: 1 }),
      ratio(-0.2, 0.2, { label: 'Blue to yellow', spoken: `${of}, blue to yellow`, decimals: 1 }),
    ])
    .default([0, 0]);
const hue = (label: string) => ratio(-1, 1, { label, spoken: `${label} luminance` }).default(0);

const colourSchema = z.strictObject({
  on: z.boolean().default(true),
  exposure: stops(-3, 3, { label: 'Exposure', decimals: 2 }).default(0),
  warmth: ratio(-1, 1, { label: 'Warmth' }).default(0),
  tint: ratio(-1, 1, { label: 'Tint', spoken: 'Tint of all light' }).default(0),
  contrast: ratio(-1, 1, { label: 'Contrast' }).default(0),
  clarity: ratio(-1, 1, { label: 'Clarity' }).default(0),
  vibrance: ratio(-1, 1, { label: 'Vibrance' }).default(0),
  saturation: ratio(-1, 1, { label: 'Saturation' }).default(0),
  balance: z
    .strictObject({ shadows: shift('Shadows'), middle: shift('Midtones'), lights: shift('Highlights') })
    .prefault({}),
  look: z
    .strictObject({
      name: z.enum(LOOK_NAMES).optional(),
      image: companionPath.optional(),
      amount: share({ label: 'Amount', spoken: 'Amount of the look' }).default(1),
    })
    .refine(
      ({ name, image }) => (name === undefined) !== (image === undefined),
      'must have either a name or an image, which is a table of colours',
    )
    .optional(),
  mono: z
    .strictObject({
      on: z.boolean().default(false),
      mix: z
        .strictObject({
          red: hue('Red'),
          yellow: hue('Yellow'),
          green: hue('Green'),
          cyan: hue('Cyan'),
          blue: hue('Blue'),
          magenta: hue('Magenta'),
        })
        .prefault({}),
    })
    .prefault({}),
});

const finishSchema = z.strictObject({
  on: z.boolean().default(true),
  vignette: z
    .strictObject({
      amount: ratio(-1, 1, { label: 'Amount', spoken: 'Amount of the vignette' }).default(0),
      middle: share({ label: 'Start', spoken: 'Vignette start' }).default(0.5),
      feather: share({ label: 'Feather', spoken: 'Feather of the vignette' }).default(0.7),
      roundness: share({ label: 'Roundness', spoken: 'Roundness of the vignette' }).default(0.5),
      centre: pointSchema('Centre of the vignette').default([0.5, 0.5]),
    })
    .prefault({}),
  grain: z
    .strictObject({
      match: share({ label: 'Match original', spoken: 'Grain matched to the source' }).default(0),
      amount: share({ label: 'Extra grain', spoken: 'Extra grain' }).default(0),
      size: pixels(0.5, 6, { label: 'Size', spoken: 'Size of the grain' }).default(1.5),
      roughness: share({ label: 'Roughness', spoken: 'Roughness of the grain' }).default(0.5),
      seed: count(0, 2 ** 31 - 1, { label: 'Seed', spoken: 'Seed of the grain' }).default(1),
    })
    .prefault({}),
}); // prettier-ignore

/** All that is done to a picture; see docs/recipe.md. */
export const recipeSchema = z.strictObject({
  format: z.literal('hazy-lens-recipe'),
  version: z.literal(RECIPE_VERSION),
  tidy: tidySchema.prefault({}),
  focus: focusSchema.prefault({}),
  elements: elementsSchema,
  blur: blurSchema.prefault({}),
  colour: colourSchema.prefault({}),
  finish: finishSchema.prefault({}),
  pace: paceSchema.prefault({}),
  keys: keysSchema,
});

export type Recipe = z.infer<typeof recipeSchema>;
