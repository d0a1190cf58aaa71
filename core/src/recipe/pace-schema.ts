import * as z from 'zod';
import { count, factor, timeSchema, rate, seconds, share } from './number-meta';

const speed = z.number().min(0.05).max(32);

/** How fast footage goes, from where to where, and how it is held; times are the source's own, in seconds. */
export const paceSchema = z.strictObject({
  on: z.boolean().default(true),
  /** Null is the whole clip. */
  trim: z
    .tuple([timeSchema, timeSchema])
    .refine(([from, to]) => from < to, 'must end after it begins')
    .nullable()
    .default(null),
  speed: factor(0.05, 32, { label: 'Speed', sliderMax: 8, decimals: 2, step: 0.05 }).default(1),
  /** Speed at times of the source, smooth in between, instead of `speed`. */
  curve: z
    .array(z.tuple([timeSchema, speed]))
    .min(2)
    .max(32)
    .refine((list) => list.every((k, i) => i === 0 || k[0] > list[i - 1]![0]), 'times must go upwards')
    .nullable()
    .default(null),
  /** Audio is stretched to any constant speed forward, its pitch kept; else it is left out at all but its own. */
  stretchAudio: z.boolean().default(false),
  direction: z.enum(['forward', 'reverse', 'bounce']).default('forward'),
  hold: count(1, 24, { label: 'Hold', spoken: 'Hold, in frames', sliderMax: 8 }).default(1),
  blend: share({ label: 'Blend', spoken: 'Frame blending' }).default(0),
  /** Frames a second of the output; null is the source's. */
  fps: rate(1, 240, { label: 'Frame rate', decimals: 2, start: 30 }).nullable().default(null),
  deflicker: z
    .strictObject({
      amount: share({ label: 'Deflicker' }).default(0),
      window: seconds(0.1, 10, {
        label: 'Window',
        spoken: 'Deflicker window',
        decimals: 1,
        step: 0.1,
        sliderMax: 4,
      }).default(1),
    })
    .prefault({}),
});

export type Pace = z.infer<typeof paceSchema>;
