import * as z from 'zod';
import { carrySchema } from './carry-schema';
import { angle, extent, length, timeSchema, pointSchema, share } from './number-meta';

const cropSchema = z.strictObject({
  centre: pointSchema('Centre of the crop', 0).default([0.5, 0.5]),
  /** Of the picture's width and height. */
  size: extent('of the crop').default([1, 1]),
  turn: angle({ label: 'Rotation', spoken: 'Rotation of the crop', decimals: 1, step: 0.1, sliderMin: -45, sliderMax: 45 }).default(0),
  flip: z.boolean().default(false),
}); // prettier-ignore

/** What is left of a picture: a rectangle, which may be turned and flipped. */
export type Crop = z.infer<typeof cropSchema>;

/** What a recipe holds of mends at most: how many, points of one, where they lie, and the way a copy comes. */
export const MEND_LIMITS = { mends: 200, points: 5000, place: [-1, 2], from: [-1, 1] } as const;

const point = ([least, most]: readonly [number, number]) =>
  z.tuple([z.number().min(least).max(most), z.number().min(least).max(most)]);

const mendSchema = z.strictObject({
  id: z.string().min(1).max(64),
  on: z.boolean().default(true),
  kind: z.enum(['fill', 'copy']),
  radius: length(0, 0.5, { label: 'Radius', spoken: 'Touch-up radius', sliderMax: 0.05 }).default(0.01),
  softness: share({ label: 'Softness', spoken: 'Touch-up softness' }).default(0.3),
  points: z.array(point(MEND_LIMITS.place)).min(1).max(MEND_LIMITS.points),
  /** Where a copy comes from, as a way from here in widths and heights. */
  from: point(MEND_LIMITS.from).default([0, 0]),
  /** On footage: the time of the frame that it was painted on, and how it is carried from there. */
  at: timeSchema.optional(),
  carry: carrySchema.prefault({}),
});

/** A place or an object that is made to disappear, or copied over from elsewhere. */
export type Mend = z.infer<typeof mendSchema>;

/** What is done to a picture before everything else. */
export const tidySchema = z.strictObject({
  on: z.boolean().default(true),
  crop: cropSchema.prefault({}),
  mends: z
    .array(mendSchema)
    .max(MEND_LIMITS.mends)
    .refine((list) => new Set(list.map(({ id }) => id)).size === list.length, 'each mend needs its own id')
    .default([]),
});

export type Tidy = z.infer<typeof tidySchema>;
