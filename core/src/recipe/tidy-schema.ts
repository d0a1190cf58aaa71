import { z } from 'zod';
import { angle, extent, place } from './number-meta';

const cropSchema = z.strictObject({
  centre: place('Centre of the crop', 0).default([0.5, 0.5]),
  /** Of the picture's width and height. */
  size: extent('of the crop').default([1, 1]),
  turn: angle({ label: 'Turn', spoken: 'Turn of the crop', decimals: 1, step: 0.1, sliderMin: -45, sliderMax: 45 }).default(0),
  flip: z.boolean().default(false),
}); // prettier-ignore

/** What is left of a picture: a rectangle, which may be turned and flipped. */
export type Crop = z.infer<typeof cropSchema>;

/** What is done to a picture before everything else. */
export const tidySchema = z.strictObject({
  on: z.boolean().default(true),
  crop: cropSchema.prefault({}),
});

export type Tidy = z.infer<typeof tidySchema>;
