/*
 * The demo's scenes through a thin lens are developed by a curve that presses bright light together, as cameras do; the lens
 * saw the light before it. So a sharp picture is taken back to that light, blurred, and developed again.
 */

import { coded, decoded } from './srgb';

type Light = [number, number, number];

/** Scene light that is as bright as the curve can tell apart. */
const BRIGHTEST = 7.1;
const MIN_GREY = 0.88;
const luma = ([r, g, b]: Light): number => 0.2126 * r + 0.7152 * g + 0.0722 * b;

/** The generator's tone curve, on exposed linear light, to coded values; see `TONE_CURVE` there. */
function developed(light: Light): Light {
  const bent = light.map((c) => (c * (2.51 * c + 0.03)) / (c * (2.43 * c + 0.59) + 0.14)) as Light;
  const grey = luma(bent);
  return bent.map((c) => coded(Math.min(1, Math.max(0, grey + (c - grey) * MIN_GREY)))) as Light;
}

/** The light that a coded colour was developed from. */
function undeveloped(colour: Light): Light {
  const bent = colour.map(decoded) as Light;
  const grey = luma(bent);
  return bent.map((c) => {
    const y = Math.min(0.999, Math.max(0, grey + (c - grey) / MIN_GREY));
    const [a, b] = [2.43 * y - 2.51, 0.59 * y - 0.03];
    return (-b - Math.sqrt(b * b - 4 * a * 0.14 * y)) / (2 * a);
  }) as Light;
}

const colourAt = (samples: ArrayLike<number>, i: number, top: number): Light => [
  samples[i]! / top,
  samples[i + 1]! / top,
  samples[i + 2]! / top,
];

/** A developed picture of 8 bits as scene light, coded in 16. @param channels 4 with coverage, which stays. */
export function asLight(picture: Uint8Array, channels: 3 | 4): Uint16Array {
  const light = new Uint16Array(picture.length);
  for (let i = 0; i < picture.length; i += channels) {
    undeveloped(colourAt(picture, i, 255)).forEach(
      (c, k) => (light[i + k] = Math.round(coded(c / BRIGHTEST) * 65535)),
    );
    if (channels === 4) light[i + 3] = picture[i + 3]! * 257;
  }
  return light;
}

/** Scene light, coded in 16 bits, as a developed picture: red, green and blue. */
export function asPicture(light: Uint16Array): Uint8Array {
  const picture = new Uint8Array(light.length);
  for (let i = 0; i < light.length; i += 3) {
    const scene = colourAt(light, i, 65535).map((v) => decoded(v) * BRIGHTEST) as Light;
    developed(scene).forEach((v, k) => (picture[i + k] = Math.round(v * 255)));
  }
  return picture;
}

/** Straight RGBA over a picture, both coded in 16 bits and laid in linear light. */
export function laidOver(above: Uint16Array, below: Uint16Array): Uint16Array {
  return below.map((under, i) => {
    const pixel = 4 * Math.floor(i / 3);
    const share = above[pixel + 3]! / 65535;
    const light = share * decoded(above[pixel + (i % 3)]! / 65535) + (1 - share) * decoded(under / 65535);
    return Math.round(coded(light) * 65535);
  });
}

/** Which pixels lie within a radius of where a coverage (0..1) passes a half: 1, else 0. */
export function nearOutline(
  coverage: (x: number, y: number) => number,
  { width, height }: { width: number; height: number },
  radius: number,
): Uint8Array {
  const near = new Uint8Array(width * height);
  const isIn = (x: number, y: number): boolean => coverage(x, y) >= 0.5;
  const reach = Math.ceil(radius);
  for (let y = 1; y < height; y++)
    for (let x = 1; x < width; x++) {
      if (isIn(x, y) === isIn(x - 1, y) && isIn(x, y) === isIn(x, y - 1)) continue;
      for (let v = Math.max(0, y - reach); v <= Math.min(height - 1, y + reach); v++)
        for (let u = Math.max(0, x - reach); u <= Math.min(width - 1, x + reach); u++)
          if (Math.hypot(u - x, v - y) <= radius) near[v * width + u] = 1;
    }
  return near;
}

/** Peak signal-to-noise ratio of pictures of 8 bits, in dB. @param within which pixels count; all where nothing is said. */
export function psnr(a: Uint8Array, b: Uint8Array, within?: Uint8Array): number {
  let [sum, count] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    if (within && within[Math.floor(i / 3)] === 0) continue;
    sum += (a[i]! - b[i]!) ** 2;
    count++;
  }
  return 10 * Math.log10((255 * 255 * count) / sum);
}
