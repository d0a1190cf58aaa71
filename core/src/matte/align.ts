import { type Raster, makeRaster, sharedSamples } from '../geometry/raster';
import { rasterToGrey } from './edge';
import { applyGuided, guidedCoefficients } from './guided-filter';
import { type GreyImage, resizeGrey } from './grey-image';

/** Long edge at which a depth map is aligned. */
export const ALIGN_LONG_EDGE_PX = 1600;
const [RADIUS_SHARE, EPSILON] = [0.006, 4e-4];

/**
 * A depth map whose edges follow those of the picture: the guided filter's output mixed in by `amount` (0..1).
 * @param guide luma of the whole picture, 0..1, at most ALIGN_EDGE long.
 */
export function alignDepth(map: Raster, guide: GreyImage, amount: number): Raster {
  const { width, height } = guide;
  const plane = resizeGrey(rasterToGrey(map, Math.max(width, height) * 2), width, height);
  const radius = Math.max(1, Math.round(RADIUS_SHARE * Math.hypot(width, height)));
  const aligned = applyGuided(guidedCoefficients(guide, plane, radius, EPSILON), guide);
  const samples = sharedSamples(width * height);
  for (let i = 0; i < samples.length; i++) {
    const mixed = plane.values[i]! + (aligned.values[i]! - plane.values[i]!) * amount;
    samples[i] = Math.round(Math.min(1, Math.max(0, mixed)) * 65535);
  }
  return makeRaster(`${map.id} aligned ${amount}`, width, height, samples);
}
