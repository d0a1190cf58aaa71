import { z } from 'zod';

/** A share from 0 to 1: haze, a place in a profile, a depth. */
export const unit = z.number().min(0).max(1);
/** A point as fractions of the picture's width and height; it may lie outside. */
export const point = z.tuple([z.number().min(-1).max(2), z.number().min(-1).max(2)]);
/** A length as a fraction of the picture's diagonal. */
const length = z.number().min(0).max(4);
const angle = z.number().min(-360).max(360);
const id = z.string().min(1).max(64);
const name = z.string().max(80);

/** The name of a picture that lies beside the recipe: a relative path that stays below the recipe's folder. */
const beside = z
  .string()
  .min(1)
  .max(255)
  .refine(
    (path) => !/^[/\\]|\\|^[A-Za-z]:|\p{Cc}/u.test(path) && !path.split('/').includes('..'),
    'must be a file name relative to the recipe',
  );

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
  id,
  name: name.optional(),
  on: z.boolean().default(true),
  mode: z.enum(['clear', 'haze']).default('clear'),
  invert: z.boolean().default(false),
  profile: profileSchema.default('smooth'),
};

/** One side of a planar band. */
export const sideSchema = z.strictObject({
  clear: z.number().min(0).max(2).default(0.05),
  falloff: length.default(0.2),
  haze: unit.default(1),
});

export const planarBandSchema = z.strictObject({
  ...bandBase,
  kind: z.literal('planar'),
  centre: point.default([0.5, 0.5]),
  angle: angle.default(0),
  near: sideSchema.prefault({}),
  far: sideSchema.prefault({}),
});

export const linearBandSchema = z.strictObject({
  ...bandBase,
  kind: z.literal('linear'),
  start: point.default([0.5, 0.6]),
  end: point.default([0.5, 0.2]),
  startHaze: unit.default(0),
  endHaze: unit.default(1),
});

/** Ratio of a falloff to the radius it begins at. */
const ratio = z.number().min(0).max(20);

export const ellipticalBandSchema = z.strictObject({
  ...bandBase,
  kind: z.literal('elliptical'),
  centre: point.default([0.5, 0.5]),
  radii: z.tuple([z.number().min(0).max(20), z.number().min(0).max(20)]).default([0.18, 0.12]),
  angle: angle.default(0),
  falloff: ratio.default(0.8),
  innerHaze: unit.default(0),
  haze: unit.default(1),
});

export const irisBandSchema = z.strictObject({
  ...bandBase,
  kind: z.literal('iris'),
  centre: point.default([0.5, 0.5]),
  radius: length.default(0.16),
  aspect: z.number().min(0.05).max(20).default(1),
  angle: angle.default(0),
  sides: z.int().min(3).max(12).default(6),
  roundness: unit.default(0.3),
  falloff: z
    .tuple([ratio, ratio, ratio, ratio, ratio, ratio, ratio, ratio])
    .default([0.8, 0.8, 0.8, 0.8, 0.8, 0.8, 0.8, 0.8]),
  innerHaze: unit.default(0),
  haze: unit.default(1),
});

export const bandSchema = z.discriminatedUnion('kind', [
  planarBandSchema,
  linearBandSchema,
  ellipticalBandSchema,
  irisBandSchema,
]);

export const soundingSchema = z.strictObject({ at: point, haze: unit });

export const depthMapSchema = z.strictObject({
  image: beside,
  on: z.boolean().default(true),
  focus: unit.default(0.5),
  clear: unit.default(0.05),
  falloff: length.default(0.4),
  /** On the near side; as `falloff` where it is missing. */
  nearFalloff: length.optional(),
  haze: unit.default(1),
  swap: z.boolean().default(false),
  invert: z.boolean().default(false),
  profile: profileSchema.default('smooth'),
  align: unit.default(0),
});

const strokePoint = z.union([
  z.tuple([z.number().min(-4).max(5), z.number().min(-4).max(5)]),
  z.tuple([z.number().min(-4).max(5), z.number().min(-4).max(5), unit]),
]);
const strokePoints = z.array(strokePoint).min(1).max(20000);

export const strokeSchema = z.strictObject({
  mode: z.enum(['clear', 'haze', 'erase']),
  radius: length.default(0.03),
  softness: unit.default(0.6),
  strength: unit.default(1),
  pressure: z.enum(['none', 'size', 'strength']).default('none'),
  points: strokePoints,
});

/** A line drawn over what belongs to a subject, or over what does not. */
export const scribbleSchema = z.strictObject({
  inside: z.boolean(),
  radius: length.default(0.006),
  points: strokePoints,
});

export const matteSchema = z.strictObject({
  id,
  name: name.optional(),
  on: z.boolean().default(true),
  image: beside,
  combine: z.enum(['add', 'subtract']).default('add'),
  invert: z.boolean().default(false),
  grow: z.number().min(-0.2).max(0.2).default(0),
  feather: z.number().min(0).max(0.2).default(0),
  scribbles: z.array(scribbleSchema).max(500).default([]),
});

const ownIds = <T extends { id: string }>(list: T[]): boolean =>
  new Set(list.map((one) => one.id)).size === list.length;

/** Most strokes that a recipe may hold. */
export const MOST_STROKES = 5000;

export const focusSchema = z.strictObject({
  on: z.boolean().default(true),
  rest: unit.default(1),
  soundingsOn: z.boolean().default(true),
  soundings: z.array(soundingSchema).max(500).default([]),
  depthMap: depthMapSchema.optional(),
  bands: z.array(bandSchema).max(500).refine(ownIds, 'every band needs an id of its own').default([]),
  strokesOn: z.boolean().default(true),
  strokes: z.array(strokeSchema).max(MOST_STROKES).default([]),
  mattes: z.array(matteSchema).max(50).refine(ownIds, 'every matte needs an id of its own').default([]),
});

export type Focus = z.infer<typeof focusSchema>;
export type Band = z.infer<typeof bandSchema>;
export type BandKind = Band['kind'];
export type PlanarBand = z.infer<typeof planarBandSchema>;
export type LinearBand = z.infer<typeof linearBandSchema>;
export type EllipticalBand = z.infer<typeof ellipticalBandSchema>;
export type IrisBand = z.infer<typeof irisBandSchema>;
export type BandSide = z.infer<typeof sideSchema>;
export type Profile = z.infer<typeof profileSchema>;
export type Sounding = z.infer<typeof soundingSchema>;
export type DepthMap = z.infer<typeof depthMapSchema>;
export type Stroke = z.infer<typeof strokeSchema>;
export type Scribble = z.infer<typeof scribbleSchema>;
export type Matte = z.infer<typeof matteSchema>;
export type Point = z.infer<typeof point>;
