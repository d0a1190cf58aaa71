import type { Matte } from '../recipe/focus-schema';
import { carriedRaster } from './carry';
import type { Size } from './geometry';
import type { Raster } from './raster';

/** What mattes keep clear: all together, or a matte that is carried on its own. */
export interface Kept {
  raster: Raster;
  combine: Matte['combine'];
  /** The id of a matte that stands alone. */
  matte?: string;
}

/** What one raster keeps clear; nothing where there is none. */
export function keptBy(raster: Raster | null): Kept[] {
  return raster ? [{ raster, combine: 'add' }] : [];
}

/** What mattes keep clear on the frame in view. */
export function carriedKept(kept: readonly Kept[], mattes: readonly Matte[], picture: Size): readonly Kept[] {
  if (kept.every(({ matte }) => matte === undefined)) return kept;
  return kept.map((one) => {
    const matte = mattes.find(({ id }) => id === one.matte);
    return matte ? { ...one, raster: carriedRaster(one.raster, matte.carry, picture) } : one;
  });
}

/** What is kept of what was kept so far, 0..1, where a matte has a value. */
export function joined(combine: Matte['combine'], before: number, value: number): number {
  return combine === 'add' ? Math.max(before, value) : before * (1 - value);
}
