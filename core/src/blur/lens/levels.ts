import { FARTHEST_OUTLINE, FRINGE } from './aperture';

/*
 * Discs are gathered on the level where they have few samples: level k is 1 / 2^k of the size. The work for a pixel is
 * the disc's area in samples, on one of 4^k pixels, so larger discs may have more of them there.
 */

/** Planes of a row, see `kernels/lens.ts`. */
export const LENS_PLANES = 5;
/** Largest radius in samples of a level before the next takes over. */
const mostSamples = (level: number): number => Math.min(28, 7 * 2 ** level);
/** Drafts switch to the next level at half the radius: softer at the rim, and four times as quick. */
const DRAFT_SHARE = 0.5;
/** Radius in pixels from which on level k goes over to the next; the last has no end. */
export const levelMaxRadiusPx = (level: number, isDraft: boolean): number =>
  mostSamples(level) * 2 ** level * (isDraft ? DRAFT_SHARE : 1);
/** A level goes over to the next within this share of its top. */
export const CROSSFADE = 1.25;
/** Largest disc in samples that is gathered on a level. */
export const maxDiscSamples = (level: number): number => CROSSFADE * mostSamples(level) * (1 + FRINGE);
/** Samples, with the edge of a disc, that gathering on a level reaches. */
export const gatherReach = (level: number): number => Math.ceil(maxDiscSamples(level) * FARTHEST_OUTLINE) + 1;
/** Rows or samples around that the discs of a level reach. @param most radius of the largest in pixels. */
export function reachOf(level: number, most: number): number {
  return Math.min(gatherReach(level), Math.ceil((most / 2 ** level) * (1 + FRINGE) * FARTHEST_OUTLINE) + 1);
}

/** Weights of the rows and samples that make one of the next level: centred, and positive, so that no light goes dark. */
export const HALVING = [3 / 8, 1 / 8] as const;

/** Rows and columns of a tile: each stores the least and most foreground haze. */
export const TILE = 64;
