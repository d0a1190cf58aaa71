import { isIdentityCarry } from '../focus/carry';
import { type KeepMask, combineMask, keepMaskFrom } from '../focus/keep-mask';
import { type Raster, makeRaster, sharedSamples } from '../geometry/raster';
import type { Matte } from '../recipe/focus-schema';
import type { Recipe } from '../recipe/schema';
import { feather, offsetOutline, rasterToGrey } from './edge';
import { type GreyImage, resizeGrey } from './grey-image';

/** A matte of a recipe and its picture. */
export interface LoadedMatte {
  how: Matte;
  picture: Raster;
}

/**
 * All mattes that are on as one raster of what to keep clear, at most `longEdge` pixels long: each inverted, grown and
 * feathered as its recipe says; added ones join by the greater value, subtracted ones take away. Null where none is on.
 */
export function combineMattes(mattes: readonly LoadedMatte[], longEdge: number): Raster | null {
  const all = mattes.filter(({ how }) => how.on);
  if (all.length === 0) return null;
  if (all.length === 1 && isPlain(all[0]!.how)) return all[0]!.picture;
  const planes = all.map(({ picture }) => rasterToGrey(picture, longEdge));
  const largest = planes.reduce((a, b) => (b.width > a.width ? b : a));
  const { width, height } = largest;
  const total = new Float32Array(width * height);
  all.forEach(({ how }, i) => {
    const own = shaped(resizeGrey(planes[i]!, width, height), how).values;
    for (let k = 0; k < total.length; k++) total[k] = combineMask(how.combine, total[k]!, own[k]!);
  });
  const samples = sharedSamples(total.length);
  for (let k = 0; k < total.length; k++) samples[k] = Math.round(total[k]! * 65535);
  const id = JSON.stringify([
    longEdge,
    all.map(({ how: { image, combine, invert, grow, feather }, picture }) => [
      image,
      picture.id,
      combine,
      invert,
      grow,
      feather,
    ]),
  ]);
  return makeRaster(id, width, height, samples);
}

/**
 * All mattes that are on as what they keep clear: one raster, or one of each where they are carried apart; what stands
 * or is lifted is always apart. See `combineMattes`.
 */
export function keepMasksOf(mattes: readonly LoadedMatte[], longEdge: number, apart: boolean): KeepMask[] {
  if (apart) return keptApart(mattes, longEdge);
  const isAlone = ({ how }: LoadedMatte): boolean => standsAlone(how);
  const joint = mattes.filter((one) => !isAlone(one));
  return [...keepMaskFrom(combineMattes(joint, longEdge)), ...keptApart(mattes.filter(isAlone), longEdge)];
}

/** True for a matte that must be had apart from the others: it stands or is lifted. */
export function standsAlone({ as, lifted }: Pick<Matte, 'as' | 'lifted'>): boolean {
  return as === 'standing' || lifted;
}

function keptApart(mattes: readonly LoadedMatte[], longEdge: number): KeepMask[] {
  return mattes.flatMap(({ how, picture }) => {
    const raster = combineMattes([{ how: { ...how, combine: 'add' }, picture }], longEdge);
    return raster ? [{ raster, combine: how.combine, matte: how.id }] : [];
  });
}

/** True where a recipe carries mattes from frame to frame: each must then be had alone. */
export function carriesMattes({ focus, keys }: Pick<Recipe, 'focus' | 'keys'>): boolean {
  return (
    focus.mattes.some(({ carry }) => !isIdentityCarry(carry)) ||
    (focus.mattes.length > 0 &&
      keys.some(({ of }) => of.startsWith('focus/mattes/') && of.includes('/carry/')))
  );
}

/** True for a matte that is used as its picture is. */
function isPlain({ combine, invert, grow, feather }: Matte): boolean {
  return combine === 'add' && !invert && grow === 0 && feather === 0;
}

function shaped(plane: GreyImage, how: Matte): GreyImage {
  const d = Math.hypot(plane.width, plane.height);
  const turned = how.invert ? { ...plane, values: plane.values.map((v) => 1 - v) } : plane;
  const moved = how.grow === 0 ? turned : offsetOutline(turned, how.grow * d);
  return feather(moved, how.feather * d);
}
