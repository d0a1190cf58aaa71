import * as z from 'zod';
import { companionPath } from './companion-path';
import { carrySchema } from './carry-schema';
import { angle, count, length, timeSchema, pointSchema, ratio, share } from './number-meta';
import { MAX_POINTS } from './stroke-points';

/** A share from 0 to 1 that is no number of its own: a place in a profile, a pressure. */
export const unit = z.number().min(0).max(1);
export const entryId = z.string().min(1).max(64);
export const entryName = z.string().max(80);

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

/** What every kind of band has. */
const bandBase = {
  id: entryId,
  name: entryName.optional(),
  on: z.boolean().default(true),
  mode: z.enum(['clear', 'haze']).default('clear'),
  invert: z.boolean().default(false),
  profile: profileSchema.default('smooth'),
};

const centre = pointSchema('Centre').default([0.5, 0.5]);
const turn = angle({ label: 'Angle', spoken: 'Angle', decimals: 1 }).default(0);
/** Haze where a round band is in focus, and beyond it. */
const roundHaze = {
  innerHaze: share({ label: 'Inner haze' }).default(0),
  haze: share({ label: 'Outer haze' }).default(1),
};

/** One side of a planar band. */
const side = (name: string) =>
  z.strictObject({
    clear: length(0, 2, { label: 'Clear width', spoken: `${name}, clear width`, sliderMax: 0.4 }).default(
      0.05,
    ),
    falloff: length(0, 4, { label: 'Falloff', spoken: `${name}, falloff`, sliderMax: 0.6 }).default(0.2),
    haze: share({ label: 'Haze', spoken: `${name}, haze` }).default(1),
  });

export const planarBandSchema = z.strictObject({
  ...bandBase,
  kind: z.literal('planar'),
  centre,
  angle: turn,
  near: side('Near side').prefault({}),
  far: side('Far side').prefault({}),
});

export const linearBandSchema = z.strictObject({
  ...bandBase,
  kind: z.literal('linear'),
  start: pointSchema('Start').default([0.5, 0.6]),
  end: pointSchema('End').default([0.5, 0.2]),
  startHaze: share({ label: 'Haze', spoken: 'Start, haze' }).default(0),
  endHaze: share({ label: 'Haze', spoken: 'End, haze' }).default(1),
});

/** Ratio of a falloff to the radius it begins at. */
const ringFalloff = ratio(0, 20, { label: 'Falloff', sliderMax: 3 });
const outlineRatio = ratio(0.1, 4, { label: 'Outline', sliderMax: 2, start: 1 });

/** One of each eighth of a turn. */
const eighths = <T extends z.ZodType>(one: T): z.ZodTuple<[T, T, T, T, T, T, T, T], null> =>
  z.tuple([one, one, one, one, one, one, one, one]);
/** Least radius that a hand sets: below it there is nothing to take hold of. */
const MIN_RADIUS = 0.002;

export const ellipticalBandSchema = z.strictObject({
  ...bandBase,
  kind: z.literal('elliptical'),
  centre,
  radii: z
    .tuple([
      length(0, 20, { label: 'Along', spoken: 'Radius along', sliderMin: MIN_RADIUS, sliderMax: 0.8 }),
      length(0, 20, { label: 'Across', spoken: 'Radius across', sliderMin: MIN_RADIUS, sliderMax: 0.8 }),
    ])
    .default([0.18, 0.12]),
  angle: turn,
  falloff: ringFalloff.default(0.8),
  ...roundHaze,
});

export const irisBandSchema = z.strictObject({
  ...bandBase,
  kind: z.literal('iris'),
  centre,
  radius: length(0, 4, { label: 'Radius', sliderMin: MIN_RADIUS, sliderMax: 0.6 }).default(0.16),
  aspect: ratio(0.05, 20, { label: 'Stretch', sliderMax: 4 }).default(1),
  angle: turn,
  sides: count(3, 12, { label: 'Sides' }).default(6),
  roundness: share({ label: 'Roundness', spoken: 'Roundness' }).default(0.3),
  outline: eighths(outlineRatio).default([1, 1, 1, 1, 1, 1, 1, 1]),
  falloff: eighths(ringFalloff).default([0.8, 0.8, 0.8, 0.8, 0.8, 0.8, 0.8, 0.8]),
  ...roundHaze,
});

export const bandSchema = z.discriminatedUnion('kind', [
  planarBandSchema,
  linearBandSchema,
  ellipticalBandSchema,
  irisBandSchema,
]);

export const soundingSchema = z.strictObject({
  at: pointSchema('Sounding'),
  haze: share({ label: 'Haze', spoken: 'Haze of the sounding', start: 0.5 }),
});

export const depthMapSchema = z.strictObject({
  image: companionPath,
  on: z.boolean().default(true),
  focus: share({ label: 'Focus depth', decimals: 1 }).default(0.5),
  clear: share({ label: 'Clear range', decimals: 1 }).default(0.05),
  falloff: ratio(0, 4, { label: 'Far falloff', sliderMax: 1 }).default(0.4),
  /** On the near side; as `falloff` where it is missing. */
  nearFalloff: ratio(0, 4, { label: 'Near falloff', sliderMax: 1, start: 0.4 }).optional(),
  haze: share({ label: 'Haze', spoken: 'Depth map haze' }).default(1),
  swap: z.boolean().default(false),
  invert: z.boolean().default(false),
  profile: profileSchema.default('smooth'),
  align: share({ label: 'Align to edges' }).default(0),
});

const strokePoint = z.union([
  z.tuple([z.number().min(-4).max(5), z.number().min(-4).max(5)]),
  z.tuple([z.number().min(-4).max(5), z.number().min(-4).max(5), unit]),
]);
const strokePoints = z.array(strokePoint).min(1).max(MAX_POINTS);

export const strokeSchema = z.strictObject({
  mode: z.enum(['clear', 'haze', 'erase']),
  radius: length(0, 4, { label: 'Radius', spoken: 'Radius of the brush', sliderMax: 0.12 }).default(0.03),
  softness: share({ label: 'Softness' }).default(0.6),
  strength: share({ label: 'Strength' }).default(1),
  pressure: z.enum(['none', 'size', 'strength']).default('none'),
  points: strokePoints,
});

/** A line drawn over what belongs to a subject, or over what does not. */
export const scribbleSchema = z.strictObject({
  inside: z.boolean(),
  radius: length(0, 4, { label: 'Radius', spoken: 'Radius of the scribble', sliderMax: 0.02 }).default(0.006),
  points: strokePoints,
});

export const matteSchema = z.strictObject({
  id: entryId,
  name: entryName.optional(),
  on: z.boolean().default(true),
  image: companionPath,
  combine: z.enum(['add', 'subtract']).default('add'),
  invert: z.boolean().default(false),
  grow: length(-0.2, 0.2, { label: 'Grow', sliderMin: -0.03, sliderMax: 0.03, start: 0 }).default(0),
  feather: length(0, 0.2, { label: 'Feather', sliderMax: 0.05 }).default(0),
  /** What its subject is: clear, or as hazy all over as the ground that it stands on. */
  as: z.enum(['clear', 'standing']).default('clear'),
  /** Where that is; the middle of its lowest row where nothing is said. */
  foot: pointSchema('Foot').nullable().default(null),
  /** On a still, what lies behind it is filled in, and the subject lies over that as a layer of its own. */
  lifted: z.boolean().default(false),
  scribbles: z.array(scribbleSchema).max(500).default([]),
  /** On footage: the time of the frame that it was cut on, and how it is carried from there. */
  at: timeSchema.optional(),
  carry: carrySchema.prefault({}),
});

export const ownIds = <T extends { id: string }>(list: T[]): boolean =>
  new Set(list.map((one) => one.id)).size === list.length;

/** Most strokes that a recipe may hold. */
export const MAX_STROKES = 5000;

export const focusSchema = z.strictObject({
  on: z.boolean().default(true),
  rest: share({ label: 'Base haze', spoken: 'Base haze' }).default(1),
  soundingsOn: z.boolean().default(true),
  soundings: z.array(soundingSchema).max(500).default([]),
  depthMap: depthMapSchema.optional(),
  bands: z.array(bandSchema).max(500).refine(ownIds, 'every band needs an id of its own').default([]),
  strokesOn: z.boolean().default(true),
  strokes: z.array(strokeSchema).max(MAX_STROKES).default([]),
  /** Of all strokes together, on footage. */
  strokesCarry: carrySchema.prefault({}),
  mattes: z.array(matteSchema).max(50).refine(ownIds, 'every matte needs an id of its own').default([]),
});

export type Focus = z.infer<typeof focusSchema>;
export type Band = z.infer<typeof bandSchema>;
export type BandKind = Band['kind'];
export type PlanarBand = z.infer<typeof planarBandSchema>;
export type LinearBand = z.infer<typeof linearBandSchema>;
export type EllipticalBand = z.infer<typeof ellipticalBandSchema>;
export type IrisBand = z.infer<typeof irisBandSchema>;
export type BandSide = PlanarBand['near'];
export type Profile = z.infer<typeof profileSchema>;
export type Sounding = z.infer<typeof soundingSchema>;
export type DepthMap = z.infer<typeof depthMapSchema>;
export type Stroke = z.infer<typeof strokeSchema>;
export type Scribble = z.infer<typeof scribbleSchema>;
export type Matte = z.infer<typeof matteSchema>;
/** Fractions of the picture's width and height. */
export type Point = [number, number];
