import type { Sounding } from '../recipe/focus-schema';
import type { FieldFunction } from './field-function';
import { type Size, diagonal } from '../geometry/size';

/** Added to every squared distance (fractions of the diagonal), so that a sounding's own place is no division by 0. */
export const SOUNDING_SOFTENING = 1e-9;

/**
 * The field through soundings: the mean of their values, each weighed by 1 / distance². It passes through every value,
 * is smooth everywhere and never leaves their range, since it is a mean with positive weights (Shepard, "A
 * two-dimensional interpolation function for irregularly-spaced data", Proc. 23rd ACM National Conference, 1968; its
 * properties: Gordon and Wixom, "Shepard's method of metric interpolation", Math. Comp. 32, 1978).
 */
export function soundingField(soundings: readonly Sounding[], size: Size): FieldFunction {
  const d = diagonal(size);
  const spots = soundings.map(({ at, haze }) => ({
    x: (at[0] * size.width) / d,
    y: (at[1] * size.height) / d,
    haze,
  }));
  return (x, y) => {
    let [sum, total] = [0, 0];
    for (const spot of spots) {
      const [dx, dy] = [x / d - spot.x, y / d - spot.y];
      const weight = 1 / (dx * dx + dy * dy + SOUNDING_SOFTENING);
      sum += weight * spot.haze;
      total += weight;
    }
    return sum / total;
  };
}

/** The soundings as the kernel `soundingsRow` reads them: x, y (fractions of the diagonal) and haze of each. */
export function packSoundings(soundings: readonly Sounding[], size: Size): Float32Array {
  const d = diagonal(size);
  return Float32Array.from(
    soundings.flatMap(({ at, haze }) => [(at[0] * size.width) / d, (at[1] * size.height) / d, haze]),
  );
}
