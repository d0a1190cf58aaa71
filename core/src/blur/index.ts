import type { CropTransform } from '../tidy/crop-transform';
import type { Blur, BlurLook } from './blur';
import { gaussian } from './gaussian/gaussian';
import { lens } from './lens/lens';
import { motion, spin, zoom } from './streak/streak';

export type BlurKind = BlurLook['kind'];

const BLURS: { readonly [K in BlurKind]: Blur<unknown> } = { gaussian, lens, motion, spin, zoom };

/** The blur of a look; its plan goes from it to itself, and nobody else looks into it. */
export function blurOf({ kind }: Pick<BlurLook, 'kind'>): Blur<unknown> {
  return BLURS[kind];
}

/** The blur of a picture as it reads on a crop of it: that of every kind, whichever is chosen. */
export function cropBlur(look: BlurLook, crop: CropTransform): BlurLook {
  const { point, longer } = crop;
  return Object.assign(
    {},
    look,
    ...Object.values(BLURS).map((blur) => blur.onCrop(look, crop)),
    { axis: { middle: point([0.5, 0.5]), reach: longer / 2 } },
    blurOf(look).radiusIsShare ? {} : { radius: look.radius * longer },
  ) as BlurLook;
}
