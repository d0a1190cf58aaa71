/** Three numbers: linear light of red, green and blue, or lightness, a and b of Oklab. */
export type Triple = readonly [number, number, number];

/** Linear light of the sRGB primaries to the responses of three cones, and back, row by row (Ottosson 2020, see `kernels/colour.ts`). */
export const TO_CONES = [
  0.4122214708, 0.5363325363, 0.0514459929, 0.2119034982, 0.6806995451, 0.1073969566, 0.0883024619,
  0.2817188376, 0.6299787005,
] as const;
export const FROM_CONES = [
  4.0767416621, -3.3077115913, 0.2309699292, -1.2684380046, 2.6097574011, -0.3413193965, -0.0041960863,
  -0.7034186147, 1.707614701,
] as const;

/** A 3 x 3 matrix, nine numbers row by row, times a column. */
export function times(matrix: readonly number[], [x, y, z]: Triple): [number, number, number] {
  const row = (i: number): number => matrix[i]! * x + matrix[i + 1]! * y + matrix[i + 2]! * z;
  return [row(0), row(3), row(6)];
}

export function toOklab(rgb: Triple): [number, number, number] {
  return ofConeRoots(times(TO_CONES, rgb).map(Math.cbrt) as [number, number, number]);
}

/** The Oklab colour of cone responses whose cube roots are given. */
export function ofConeRoots([l, m, s]: Triple): [number, number, number] {
  return [
    0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  ];
}

/** The cone responses of an Oklab colour. */
export function conesOf([light, a, b]: Triple): [number, number, number] {
  return [
    (light + 0.3963377774 * a + 0.2158037573 * b) ** 3,
    (light - 0.1055613458 * a - 0.0638541728 * b) ** 3,
    (light - 0.0894841775 * a - 1.291485548 * b) ** 3,
  ];
}

export function fromOklab(lab: Triple): [number, number, number] {
  return times(FROM_CONES, conesOf(lab));
}
