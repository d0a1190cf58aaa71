import * as z from 'zod';
import { angle, factor, offsetSchema } from './number-meta';

/**
 * Where what was drawn on one frame of footage has gone by another: turned and scaled about the middle of the picture,
 * then shifted by fractions of its width and height. At rest it is where it was drawn.
 */
export const carrySchema = z.strictObject({
  shift: offsetSchema('Carried').default([0, 0]),
  turn: angle({ label: 'turn', spoken: 'Carried, turn', decimals: 1 }).default(0),
  scale: factor(0.05, 20, { label: 'Scale', spoken: 'Carried, scale', decimals: 2, step: 0.01 }).default(1),
});

export type Carry = z.infer<typeof carrySchema>;
