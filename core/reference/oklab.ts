// Saturation in Oklab, one pixel at a time, in double precision.

import { fromOklab, toOklab } from '../src/colour/oklab';

type Triple = [number, number, number];

/** How far outside the gamut is as good as inside, in linear light. */
const TOLERANCE = 5e-5;

/** True where a colour with its chroma scaled is within the gamut. */
export function fitsGamut(rgb: Triple, scale: number): boolean {
  const [light, a, b] = toOklab(rgb);
  return fromOklab([light, a * scale, b * scale]).every((v) => v >= -TOLERANCE && v <= 1 + TOLERANCE);
}

/** Chroma x (1 + amount) at the same hue and lightness, or the most that the gamut holds. */
export function saturate(rgb: Triple, amount: number): Triple {
  const [light, a, b] = toOklab(rgb);
  const at = (scale: number): Triple => fromOklab([light, a * scale, b * scale]);
  const fits = (scale: number): boolean => fitsGamut(rgb, scale);
  let [low, high] = [1, 1 + amount];
  if (amount <= 0 || fits(high)) low = high;
  for (let i = 0; i < 40 && low < high; i++) {
    const middle = (low + high) / 2;
    if (fits(middle)) low = middle;
    else high = middle;
  }
  return at(low).map((v) => Math.min(1, Math.max(0, v))) as Triple;
}
