import type { Recipe } from '../recipe/schema';
import { type Triple, conesOf, ofConeRoots, times } from './oklab';
import { CONES_OF, type Primaries, product } from './primaries';

/** Where full warmth and full tint take white, along b and a of Oklab. */
const FULL_WARMTH = 0.1;
const FULL_TINT = 0.07;

/**
 * What exposure, warmth and tint make of linear light, as a matrix: all light times 2^exposure, and the cone responses
 * scaled so that white becomes the colour that warmth and tint say (von Kries' law of adaptation, on Oklab's cones).
 */
export function whiteBalanceMatrix(
  { exposure, warmth, tint }: Pick<Recipe['colour'], 'exposure' | 'warmth' | 'tint'>,
  primaries: Primaries = 'srgb',
): number[] {
  const white: Triple = [1, FULL_TINT * tint, FULL_WARMTH * warmth];
  const gains = conesOf(white).map((cone) => cone * 2 ** exposure);
  const { to, from } = CONES_OF[primaries];
  return product(
    from,
    to.map((value, i) => value * gains[Math.floor(i / 3)]!),
  );
}

/** A channel with less light than this, or more, says nothing of the light: it is noise, or clipped. */
const USABLE = { least: 0.002, most: 0.98 } as const;

/**
 * The warmth and tint, each from -1 to 1, that make a colour grey: the gains of the cones must be the inverse of its
 * own responses, and the cube roots of gains are linear in warmth and tint. Null for a colour that is too dark or
 * clipped. @param light linear light of red, green and blue, 0 to 1.
 */
export function whiteBalanceFrom(
  light: Triple,
  primaries: Primaries = 'srgb',
): { warmth: number; tint: number } | null {
  if (Math.min(...light) < USABLE.least || Math.max(...light) > USABLE.most) return null;
  const [scale, a, b] = ofConeRoots(
    times(CONES_OF[primaries].to, light).map((cone) => 1 / Math.cbrt(cone)) as [number, number, number],
  );
  const held = (value: number): number => Math.min(1, Math.max(-1, value));
  return { warmth: held(b / scale / FULL_WARMTH), tint: held(a / scale / FULL_TINT) };
}
