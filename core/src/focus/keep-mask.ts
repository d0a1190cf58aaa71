import type { Matte } from '../recipe/focus-schema';
import { toCurrentFrame, carriedRaster, isIdentityCarry } from './carry';
import type { FieldFunction } from './field-function';
import type { Size } from '../geometry/size';
import { type Raster, rasterFoot } from '../geometry/raster';

/** What mattes keep clear: all together, or a matte that is carried on its own, or stands. */
export interface KeepMask {
  raster: Raster;
  combine: Matte['combine'];
  /** The id of a matte that stands alone. */
  matte?: string;
  /** It is not kept clear, but gets this haze all over. */
  haze?: number;
}

/** What one raster keeps clear; nothing where there is none. */
export function keepMaskFrom(raster: Raster | null): KeepMask[] {
  return raster ? [{ raster, combine: 'add' }] : [];
}

/**
 * What mattes keep clear on the frame in view.
 * @param field haze at a point in pixels before strokes and mattes: what stands has that of its foot.
 */
export function carriedKept(
  kept: readonly KeepMask[],
  mattes: readonly Matte[],
  picture: Size,
  field: () => FieldFunction,
): readonly KeepMask[] {
  if (kept.every(({ matte }) => matte === undefined)) return kept;
  return kept.map((one) => {
    const matte = mattes.find(({ id }) => id === one.matte);
    if (!matte) return one;
    const carried = { ...one, raster: carriedRaster(one.raster, matte.carry, picture) };
    if (matte.as !== 'standing') return carried;
    const [x, y] = footOf(matte, one.raster, picture);
    return { ...carried, haze: field()(x * picture.width, y * picture.height) };
  });
}

/** Where a subject that stands does so on the frame in view. @param raster of its matte, as it was cut out. */
export function footOf({ foot, carry }: Matte, raster: Raster, picture: Size): readonly [number, number] {
  const own = foot ?? rasterFoot(raster);
  return isIdentityCarry(carry) ? own : toCurrentFrame(carry, picture)(own);
}

/** What is kept of haze at a place where each has a value: first what is clear, then what stands. */
export function keptHaze(
  haze: number,
  kept: readonly KeepMask[],
  valueOf: (raster: Raster) => number,
): number {
  const clear = kept.reduce(
    (sum, one) => (one.haze === undefined ? combineMask(one.combine, sum, valueOf(one.raster)) : sum),
    0,
  );
  let left = haze * (1 - clear);
  for (const one of kept) if (one.haze !== undefined) left += (one.haze - left) * valueOf(one.raster);
  return left;
}

/** The mask value (0..1) after combining in one matte. */
export function combineMask(combine: Matte['combine'], before: number, value: number): number {
  return combine === 'add' ? Math.max(before, value) : before * (1 - value);
}
