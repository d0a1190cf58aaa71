// Tone and colour as the recipe's documentation writes them, one pixel at a time, in double precision.
import type { Recipe } from '../src/index';
import { fromOklab, toOklab } from './oklab';

type Triple = [number, number, number];
type Colour = Recipe['colour'];

const MIDDLE = Math.cbrt(((0.5 + 0.055) / 1.055) ** 2.4);
const HUES = { red: [1, 0, 0], yellow: [1, 1, 0], green: [0, 1, 0], cyan: [0, 1, 1], blue: [0, 0, 1], magenta: [1, 0, 1] } as const; // prettier-ignore

/** y / (|x| + |y|), laid end to end through the four quarters. */
function wayRound(a: number, b: number): number {
  const t = b / (Math.abs(a) + Math.abs(b) || 1);
  return a < 0 ? 2 - t : (4 + t) % 4;
}

/** What a mix adds for a hue: straight between the two hues that it lies between. */
function mixed(mix: Colour['mono']['mix'], a: number, b: number): number {
  const places = Object.entries(HUES).map(([hue, rgb]) => {
    const [, x, y] = toOklab([...rgb]);
    return { at: wayRound(x, y), value: mix[hue as keyof typeof mix] };
  });
  const way = wayRound(a, b);
  const behind = places.reduce((one, two) => ((way - two.at + 4) % 4 < (way - one.at + 4) % 4 ? two : one));
  const ahead = places.reduce((one, two) => ((two.at - way + 4) % 4 < (one.at - way + 4) % 4 ? two : one));
  const span = (ahead.at - behind.at + 4) % 4;
  const share = span === 0 ? 0 : ((way - behind.at + 4) % 4) / span;
  return behind.value + share * (ahead.value - behind.value);
}

/** The Oklab colour that is wanted, before the gamut has its say. */
export function wanted(rgb: Triple, { contrast, vibrance, saturation, balance, mono }: Colour): Triple {
  const [before, a0, b0] = toOklab(rgb);
  const inside = Math.min(1, before);
  const bend = inside * (1 - inside) * (inside - MIDDLE) - (before - inside) * (1 - MIDDLE);
  const light = before + contrast * 1.6 * bend;
  const kept = light / Math.max(before, 1e-6);
  const chroma = Math.hypot(a0, b0) * kept;
  const scale = kept * (1 + (vibrance * 0.12 ** 2) / (0.12 ** 2 + chroma ** 2)) * (1 + saturation);
  const t = Math.min(1, Math.max(0, light));
  const shares = [(1 - t) ** 2, 2 * t * (1 - t), t * t];
  const shift = (i: 0 | 1): number =>
    [balance.shadows, balance.middle, balance.lights].reduce((sum, one, k) => sum + shares[k]! * one[i], 0);
  const [a, b] = [a0 * scale + shift(0), b0 * scale + shift(1)];
  if (!mono.on) return [light, a, b];
  return [Math.max(0, light + 1.5 * mixed(mono.mix, a, b) * Math.hypot(a, b)), 0, 0];
}

/** A colour within the gamut, or as much of its chroma as that holds; what was outside may stay as far outside. */
export function graded(rgb: Triple, colour: Colour): Triple {
  const [light, a, b] = wanted(rgb, colour);
  const excess = (one: Triple): number => Math.max(-Math.min(...one), Math.max(...one) - 1);
  const room = Math.max(5e-5, excess(rgb), light ** 3 - 1);
  const at = (scale: number): Triple => fromOklab([light, a * scale, b * scale]);
  if (excess(at(1)) <= room) return at(1);
  let [low, high] = [0, 1];
  for (let i = 0; i < 40; i++) {
    const middle = (low + high) / 2;
    if (excess(at(middle)) <= room) low = middle;
    else high = middle;
  }
  return at(low);
}
