import { areNumbered } from '@hazy-lens/core';

/** What several pictures can become. */
export type OpenAs = 'projects' | 'clip' | 'batch';

/** What is known of a picture before it is opened. */
export interface FileFacts {
  name: string;
  /** In pixels, as "1920 x 1080"; null where the header does not tell. */
  size: string | null;
  /** When it was taken, in milliseconds; null where nobody noted it. */
  taken: number | null;
}

/** What several pictures most likely are, and what speaks for it. */
export interface OpeningAdvice {
  as: OpenAs;
  because: string;
  /** Clips are made of still pictures only. */
  canBeClip: boolean;
}

/** A run of fewer pictures is more likely a series of shots than a clip. */
const MIN_CLIP_FRAMES = 12;
/** More than this are not opened as projects each. */
const MAX_PROJECTS = 8;
/** A gap this many times the usual one says that they were not taken by a timer. */
const MAX_UNEVENNESS = 3;
const FRAME_NAME = /\.(jpe?g|png|webp|tiff?)$/i;

/**
 * What several files should become, by their numbers, sizes and dates. @param names of all of them. @param sample facts of
 * some, in the order of their names.
 */
export function adviseOpening(names: readonly string[], sample: readonly FileFacts[]): OpeningAdvice {
  const canBeClip = names.every((name) => FRAME_NAME.test(name));
  const otherwise: OpenAs = names.length > MAX_PROJECTS ? 'batch' : 'projects';
  const no = (because: string): OpeningAdvice => ({ as: otherwise, because, canBeClip });
  if (!canBeClip) return no('Not all of them can be frames of a clip.');
  if (!areNumbered(names)) return no('They aren’t numbered as one run.');
  const sizes = new Set(sample.map(({ size }) => size));
  if (sizes.size > 1) return no('They are numbered, but differ in size.');
  const gap = evenGap(sample);
  if (gap === 'uneven') return no('They are numbered, but were taken at uneven times.');
  if (names.length < MIN_CLIP_FRAMES) return no('They are numbered, but few for a clip.');
  const every = gap === null ? '' : `, taken ${(gap / 1000).toFixed(gap < 10_000 ? 1 : 0)} s apart`;
  return { as: 'clip', because: `They are numbered and of one size${every}.`, canBeClip };
}

/** The usual time between pictures one after the other; null where it is not known. */
function evenGap(sample: readonly FileFacts[]): number | 'uneven' | null {
  const times = sample.map(({ taken }) => taken);
  if (times.length < 3 || times.some((time) => time === null)) return null;
  const gaps = times.slice(1).map((time, i) => time! - times[i]!);
  const usual = gaps.toSorted((a, b) => a - b)[gaps.length >> 1]!;
  // Copied files often have one date all, or none that goes up.
  if (usual <= 0 || Math.min(...gaps) < 0) return null;
  // Dates are noted in whole seconds.
  return Math.max(...gaps) > MAX_UNEVENNESS * usual + 1000 ? 'uneven' : usual;
}
