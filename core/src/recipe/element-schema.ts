import * as z from 'zod';
import { companionPath } from './companion-path';
import { carrySchema } from './carry-schema';
import { bandSchema, entryId, entryName, ownIds, soundingSchema } from './focus-schema';
import { angle, length, pointSchema, share } from './number-meta';

/** The haze of an element: measured on the picture, as the picture's own bands are. */
const elementFocusSchema = z.strictObject({
  rest: share({ label: 'Base haze', spoken: 'Base haze' }).default(0),
  soundingsOn: z.boolean().default(true),
  soundings: z.array(soundingSchema).max(500).default([]),
  bands: z.array(bandSchema).max(500).refine(ownIds, 'every band needs an id of its own').default([]),
});

/** A picture that lies over the picture, with a focus of its own. */
export const elementSchema = z.strictObject({
  id: entryId,
  name: entryName.optional(),
  on: z.boolean().default(true),
  image: companionPath,
  centre: pointSchema('Centre of the element').default([0.5, 0.5]),
  width: length(0.01, 4, { label: 'Width', spoken: 'Width of the element', sliderMax: 1, start: 0.3 }).default(0.3),
  turn: angle({ label: 'Rotation', spoken: 'Rotation of the element', decimals: 1, sliderMin: -180, sliderMax: 180 }).default(0),
  flip: z.boolean().default(false),
  opacity: share({ label: 'Opacity', spoken: 'Opacity of the element' }).default(1),
  /** Where it stands on the picture, whose haze there it takes on; null where it has a focus of its own. */
  foot: pointSchema('Foot').nullable().default(null),
  focus: elementFocusSchema.prefault({}),
  carry: carrySchema.prefault({}),
}); // prettier-ignore

/** Most elements that a recipe may hold. */
export const MAX_ELEMENTS = 50;

/** The nearest last. */
export const elementsSchema = z
  .array(elementSchema)
  .max(MAX_ELEMENTS)
  .refine(ownIds, 'every element needs an id of its own')
  .default([]);

export type Element = z.infer<typeof elementSchema>;
export type ElementFocus = Element['focus'];
