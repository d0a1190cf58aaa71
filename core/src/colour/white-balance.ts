import type { Recipe } from '../recipe/schema';
import { FROM_CONES, TO_CONES, type Triple, conesOf } from './oklab';

/** Where full warmth and full tint take white, along b and a of Oklab. */
const FULL_WARMTH = 0.1;
const FULL_TINT = 0.07;

/**
 * What exposure, warmth and tint make of linear light, as a matrix: all light times 2^exposure, and the cone responses
 * scaled so that white becomes the colour that warmth and tint say (von Kries' law of adaptation, on Oklab's cones).
 */
export function whiteBalanceMatrix({
  exposure,
  warmth,
  tint,
}: Pick<Recipe['colour'], 'exposure' | 'warmth' | 'tint'>): number[] {
  const white: Triple = [1, FULL_TINT * tint, FULL_WARMTH * warmth];
  const gains = conesOf(white).map((cone) => cone * 2 ** exposure);
  return Array.from({ length: 9 }, (_, i) => {
    const [row, column] = [3 * Math.floor(i / 3), i % 3];
    return gains.reduce((sum, gain, k) => sum + FROM_CONES[row + k]! * gain * TO_CONES[3 * k + column]!, 0);
  });
}
