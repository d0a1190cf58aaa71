import * as z from 'zod';

/**
 * How a number of a recipe is measured, which is also how people see it: a length in diagonals as pixels, a place in
 * widths or heights as pixels, a share or a ratio as percent, an angle in degrees, a factor as so many times, doublings of
 * light in stops, pixels as pixels, a time in seconds, a rate in frames a second, a count as itself.
 */
export type Quantity =
  | 'length'
  | 'across'
  | 'down'
  | 'share'
  | 'ratio'
  | 'angle'
  | 'factor'
  | 'stops'
  | 'pixels'
  | 'seconds'
  | 'rate'
  | 'count';

/** What the table of numbers says of one, besides the range that its schema has. */
export interface NumberMeta {
  /** As it stands beside the number. */
  label: string;
  /** Spoken, and in the list of steps back; the label where that says enough alone. */
  spoken?: string;
  measure: Quantity;
  /** What one arrow key adds, as people see it; 1 where nothing is said. */
  step?: number;
  /** Digits after the point, as people see it. */
  decimals?: number;
  /** Where a slider ends, if before the most that is allowed; in the recipe's units. */
  sliderMax?: number;
  /** Where a slider begins, if after the least that is allowed. */
  sliderMin?: number;
  /** What a reset sets, if not the schema's default. */
  start?: number;
}

export const numberMeta = z.registry<NumberMeta>();

type Named = Omit<NumberMeta, 'measure'>;

function named<S extends z.ZodType>(schema: S, measure: Quantity, about: Named): S {
  numberMeta.add(schema, { measure, ...about });
  return schema;
}

/** From 0 to 1. */
export const share = (about: Named) => named(z.number().min(0).max(1), 'share', about);
/** A fraction of the picture's diagonal. */
export const length = (least: number, most: number, about: Named) =>
  named(z.number().min(least).max(most), 'length', about);
/** Something to something else: shown in percent. */
export const ratio = (least: number, most: number, about: Named) =>
  named(z.number().min(least).max(most), 'ratio', about);
/** Degrees, −360 to 360. */
export const angle = (about: Named) => named(z.number().min(-360).max(360), 'angle', about);
export const count = (least: number, most: number, about: Named) =>
  named(z.int().min(least).max(most), 'count', about);

/** So many times as much. */
export const factor = (least: number, most: number, about: Named) =>
  named(z.number().min(least).max(most), 'factor', about);
export const seconds = (least: number, most: number, about: Named) =>
  named(z.number().min(least).max(most), 'seconds', about);
/** Doublings of light. */
export const stops = (least: number, most: number, about: Named) =>
  named(z.number().min(least).max(most), 'stops', { step: 0.1, decimals: 1, ...about });
/** A coded value of light, from black to white: shown in percent. */
export const light = (least: number, most: number, about: Named) =>
  named(z.number().min(least).max(most), 'share', about);
/** In pixels of the full-size picture. */
export const pixels = (least: number, most: number, about: Named) =>
  named(z.number().min(least).max(most), 'pixels', { step: 0.1, decimals: 1, ...about });
/** Frames a second. */
export const rate = (least: number, most: number, about: Named) =>
  named(z.number().min(least).max(most), 'rate', about);

/** The longest clip, in seconds. */
const LONGEST = 86_400;
/** A moment of footage, in seconds of its own time. */
export const timeSchema = z.number().min(0).max(LONGEST);

/** Least and most side of a rectangle, as shares of the picture's. */
const [MIN_SIDE, MAX_SIDE] = [0.001, 64];

/** Width and height of a rectangle, as shares of the picture's. */
export const extent = (of: string) => {
  // Turned, a side may be longer than the picture's: a strip that stands is as high as it was wide.
  const side = z.number().min(MIN_SIDE).max(MAX_SIDE);
  return z.tuple([
    named(side.clone(), 'across', { label: 'Width', spoken: `Width ${of}`, start: 1 }),
    named(side.clone(), 'down', { label: 'Height', spoken: `Height ${of}`, start: 1 }),
  ]);
};

/** A point as fractions of the picture's width and height, `beyond` of which it may lie outside. */
export const pointSchema = (spoken: string, beyond = 1) =>
  z.tuple([
    named(z.number().min(-beyond).max(1 + beyond), 'across', { label: 'x', spoken: `${spoken}, across in pixels`, start: 0.5 }),
    named(z.number().min(-beyond).max(1 + beyond), 'down', { label: 'y', spoken: `${spoken}, down in pixels`, start: 0.5 }),
  ]); // prettier-ignore

/** A way as fractions of the picture's width and height: none by itself. */
export const offsetSchema = (spoken: string) =>
  z.tuple([
    named(z.number().min(-4).max(4), 'across', { label: 'x', spoken: `${spoken}, across in pixels`, start: 0 }),
    named(z.number().min(-4).max(4), 'down', { label: 'y', spoken: `${spoken}, down in pixels`, start: 0 }),
  ]); // prettier-ignore
