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
