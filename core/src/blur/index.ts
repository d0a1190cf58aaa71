import type { Blur, BlurLook } from './blur';
import { gaussian } from './gaussian/gaussian';
import { lens } from './lens/lens';

export type BlurKind = BlurLook['kind'];

const BLURS: { readonly [K in BlurKind]: Blur<unknown> } = { gaussian, lens };

/** The blur of a look; its plan goes from it to itself, and nobody else looks into it. */
export function blurOf({ kind }: Pick<BlurLook, 'kind'>): Blur<unknown> {
  return BLURS[kind];
}
