import * as z from 'zod';
import { timeSchema } from './number-meta';

/** The most keys of a recipe: a band that is followed for ten minutes has some thousand. */
const MAX_KEYS = 50_000;

/** What a number, or a point, of the recipe is at a time of the source, and how it goes on to the next key. */
const keySchema = z.strictObject({
  /** Names and ids on the way to what changes: "focus/bands/b1/centre". */
  of: z.string().min(1).max(200),
  at: timeSchema,
  value: z.union([z.number(), z.tuple([z.number(), z.number()])]),
  ease: z.enum(['smooth', 'soft', 'linear', 'hold']).default('smooth'),
});

export const keysSchema = z.array(keySchema).max(MAX_KEYS).default([]);

export type Key = z.infer<typeof keySchema>;
export type Ease = Key['ease'];
