import { type Size, diagonal } from '../../geometry/size';
import type { Blur, BlurLook } from '../blur';
import { REACH_SIGMAS } from './levels';
import { type GaussianPlan, fillGaussianTables, planGaussian } from './plan';
import { GaussianWorker } from './worker';

/** Standard deviation in pixels where haze is 1: half the aperture's radius. */
const sigmaOf = ({ on, radius }: BlurLook, picture: Size): number =>
  on ? (radius * diagonal(picture)) / 2 : 0;

/** Gaussian blur; its strength is the standard deviation in pixels where haze is 1. */
export const gaussian: Blur<GaussianPlan> = {
  strength: sigmaOf,
  reach: (look, picture) => REACH_SIGMAS * sigmaOf(look, picture),
  // As noisy as a disc of twice the deviation.
  averagingFootprint: (look, picture) => ({ area: 2, radius: 2 * sigmaOf(look, picture) }),
  key: () => '',
  passKey: () => '',
  takesCover: true,
  spreads: false,
  readsHaze: (_look, keeps) => keeps,
  onCrop: () => ({}),
  stripRows: 32,
  plan: planGaussian,
  fillTables: fillGaussianTables,
  passes: ({ octaves }) => octaves.map(({ count }) => count),
  worker: (use, own, frame, i) => new GaussianWorker(use, own, frame, i),
};
