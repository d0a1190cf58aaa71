import { type Kept, isAtRest, joined, keptBy } from '../focus/carry';
import { type Raster, makeRaster, sharedSamples } from '../focus/raster';
import type { Matte } from '../recipe/focus-schema';
import type { Recipe } from '../recipe/schema';
import { type Plane, boxMean, resizePlane } from './plane';

/**
 * Squared distance to the nearest pixel of a set, exact, in pixels; two passes of lower envelopes of parabolas
 * (Felzenszwalb and Huttenlocher, "Distance transforms of sampled functions", 2012).
 */
function squaredDistance(isMember: (i: number) => boolean, width: number, height: number): Float64Array {
  const FAR = 1e12;
  const field = Float64Array.from({ length: width * height }, (_, i) => (isMember(i) ? 0 : FAR));
  const longest = Math.max(width, height);
  const [f, out] = [new Float64Array(longest), new Float64Array(longest)];
  const vertex = new Int32Array(longest);
  const border = new Float64Array(longest + 1);
  const line = (n: number): void => {
    let k = 0;
    vertex[0] = 0;
    border[0] = -Infinity;
    border[1] = Infinity;
    for (let q = 1; q < n; q++) {
      let s: number;
      for (;;) {
        const v = vertex[k]!;
        s = (f[q]! + q * q - (f[v]! + v * v)) / (2 * (q - v));
        if (s > border[k]! || k === 0) break;
        k--;
      }
      if (s > border[k]!) k++;
      vertex[k] = q;
      border[k] = k === 0 ? -Infinity : s;
      border[k + 1] = Infinity;
    }
    k = 0;
    for (let q = 0; q < n; q++) {
      while (border[k + 1]! < q) k++;
      out[q] = (q - vertex[k]!) ** 2 + f[vertex[k]!]!;
    }
  };
  for (let x = 0; x < width; x++) {
    for (let y = 0; y < height; y++) f[y] = field[y * width + x]!;
    line(height);
    for (let y = 0; y < height; y++) field[y * width + x] = out[y]!;
  }
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) f[x] = field[y * width + x]!;
    line(width);
    for (let x = 0; x < width; x++) field[y * width + x] = out[x]!;
  }
  return field;
}

/**
 * A matte with its outline moved outwards by so many pixels (inwards where negative): made anew from where it is one
 * half, one pixel soft.
 */
export function grown({ width, height, values }: Plane, pixels: number): Plane {
  const isInside = (i: number): boolean => values[i]! >= 0.5;
  const toInside = squaredDistance(isInside, width, height);
  const toOutside = squaredDistance((i) => !isInside(i), width, height);
  const out = values.map((_, i) => {
    // From the outline, which runs between the pixels: negative inside.
    const far = isInside(i) ? 0.5 - Math.sqrt(toOutside[i]!) : Math.sqrt(toInside[i]!) - 0.5;
    return Math.min(1, Math.max(0, 0.5 - (far - pixels)));
  });
  return { width, height, values: out };
}

/** A matte with an outline that takes about `pixels` on each side to fade: three box means are close to a Gaussian. */
export function feathered(plane: Plane, pixels: number): Plane {
  const radius = Math.round(pixels / 2);
  if (radius < 1) return plane;
  return boxMean(boxMean(boxMean(plane, radius), radius), radius);
}

/** A matte of a recipe and its picture. */
export interface MattePicture {
  how: Matte;
  picture: Raster;
}

/**
 * All mattes that are on as one raster of what to keep clear, at most `longEdge` pixels long: each inverted, grown and
 * feathered as its recipe says; added ones join by the greater value, subtracted ones take away. Null where none is on.
 */
export function combineMattes(mattes: readonly MattePicture[], longEdge: number): Raster | null {
  const all = mattes.filter(({ how }) => how.on);
  if (all.length === 0) return null;
  if (all.length === 1 && isPlain(all[0]!.how)) return all[0]!.picture;
  const planes = all.map(({ picture }) => planeOf(picture, longEdge));
  const largest = planes.reduce((a, b) => (b.width > a.width ? b : a));
  const { width, height } = largest;
  const total = new Float32Array(width * height);
  all.forEach(({ how }, i) => {
    const own = shaped(resizePlane(planes[i]!, width, height), how).values;
    for (let k = 0; k < total.length; k++) total[k] = joined(how.combine, total[k]!, own[k]!);
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

/** All mattes that are on as what they keep clear: one raster, or one of each where they are carried apart; see `combineMattes`. */
export function keptOf(mattes: readonly MattePicture[], longEdge: number, apart: boolean): Kept[] {
  if (!apart) return keptBy(combineMattes(mattes, longEdge));
  return mattes.flatMap(({ how, picture }) => {
    const raster = combineMattes([{ how: { ...how, combine: 'add' }, picture }], longEdge);
    return raster ? [{ raster, combine: how.combine, matte: how.id }] : [];
  });
}

/** True where a recipe carries mattes from frame to frame: each must then be had alone. */
export function carriesMattes({ focus, keys }: Pick<Recipe, 'focus' | 'keys'>): boolean {
  return (
    focus.mattes.some(({ carry }) => !isAtRest(carry)) ||
    (focus.mattes.length > 0 &&
      keys.some(({ of }) => of.startsWith('focus/mattes/') && of.includes('/carry/')))
  );
}

/** True for a matte that is used as its picture is. */
function isPlain({ combine, invert, grow, feather }: Matte): boolean {
  return combine === 'add' && !invert && grow === 0 && feather === 0;
}

function shaped(plane: Plane, how: Matte): Plane {
  const d = Math.hypot(plane.width, plane.height);
  const turned = how.invert ? { ...plane, values: plane.values.map((v) => 1 - v) } : plane;
  const moved = how.grow === 0 ? turned : grown(turned, how.grow * d);
  return feathered(moved, how.feather * d);
}

/** The largest level of a raster that is no longer than asked for, as floats. */
export function planeOf(raster: Raster, longEdge: number): Plane {
  const { width, height, samples } =
    raster.levels.find((level) => Math.max(level.width, level.height) <= longEdge) ?? raster.levels.at(-1)!;
  const values = new Float32Array(samples.length);
  for (let i = 0; i < values.length; i++) values[i] = samples[i]! / 65535;
  return { width, height, values };
}
