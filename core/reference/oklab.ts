// Oklab as it was published (B. Ottosson, "A perceptual color space for image processing", 2020), and saturation in it.

type Triple = [number, number, number];

/** Of linear light of the sRGB primaries. */
export function toOklab([r, g, b]: Triple): Triple {
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  return [
    0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  ];
}

export function fromOklab([light, a, b]: Triple): Triple {
  const l = (light + 0.3963377774 * a + 0.2158037573 * b) ** 3;
  const m = (light - 0.1055613458 * a - 0.0638541728 * b) ** 3;
  const s = (light - 0.0894841775 * a - 1.291485548 * b) ** 3;
  return [
    4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s,
    -1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s,
    -0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s,
  ];
}

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
