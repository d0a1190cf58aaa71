import { gaussianTaps } from './taps';

/*
 * The stack of blur levels. Level 0 is the picture; level 1 + m has the variance FIRST x 2^m. Levels 1 to 4 are
 * stored at full size; from there on each octave k = 1, 2, … holds two levels at 1 / 2^k of the size. An octave's
 * samples are spread by a quadratic B-spline when they are read, which blurs by 1/4 of a sample squared, the same at
 * every place; that is counted in.
 */

/** Variance of level 1, in pixels squared. */
export const FIRST_VARIANCE = 9 / 32;
/** Levels above the picture itself that are kept at full size. */
export const FULL_SIZE_LEVELS = 4;
const SPLINE_VARIANCE = 1 / 4;

/** Variance in pixels squared of a level; 0 for the picture. */
export function levelVariance(level: number): number {
  return level === 0 ? 0 : FIRST_VARIANCE * 2 ** (level - 1);
}

/** The level, with a fraction, of a blur of this standard deviation in pixels: what the kernel `levelRow` computes. */
export function levelOf(sigma: number): number {
  const v = sigma ** 2 / FIRST_VARIANCE;
  if (v < 1) return v;
  const whole = Math.floor(Math.log2(v));
  return 1 + whole + (v / 2 ** whole - 1);
}

/** Octave (0 is full size) in which a level is kept, and which of the octave's levels it is. */
export function levelPlace(level: number): { octave: number; index: number } {
  const above = level - 1 - FULL_SIZE_LEVELS;
  return above < 0 ? { octave: 0, index: level } : { octave: 1 + (above >> 1), index: above & 1 };
}

/** Number of octaves below full size that a stack up to `level` needs. */
export function octaveCount(level: number): number {
  return levelPlace(level).octave;
}

const dataVariance = FIRST_VARIANCE * 2 ** FULL_SIZE_LEVELS * 0.25 - SPLINE_VARIANCE;

/** Kernels of the stack, in samples of the octave they read. */
export const STACK_TAPS = {
  /** Levels 1..4 from the picture. */
  full: [1, 2, 3, 4].map((level) => {
    const variance = levelVariance(level);
    return gaussianTaps(variance, Math.ceil(3.6 * Math.sqrt(variance)) + 1, false);
  }),
  /** From the picture to the first octave. */
  firstHalving: gaussianTaps(4 * dataVariance, 6, true),
  /** From each octave to the next. */
  halving: gaussianTaps(3 * dataVariance, 6, true),
  /** From an octave's first level to its second. */
  second: gaussianTaps(dataVariance + SPLINE_VARIANCE, 5, false),
};

/** Farthest tap of the full-size kernels: rows of picture needed above and below a strip. */
export const FULL_SIZE_REACH = Math.max(...STACK_TAPS.full.map((taps) => taps.length - 1));
/** Standard deviations after which a Gaussian no longer matters. */
export const REACH_SIGMAS = 3.5;
