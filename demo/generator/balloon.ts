/**
 * A hot-air balloon as a cut-out: an envelope of gores, ropes and a wicker basket, seen from a little above its mouth, in
 * the sunlight of the town. It is traced ray by ray, four a pixel, without a graphics card.
 */

type Colour = readonly [number, number, number];
type Vector = readonly [number, number, number];

/** Linear colours of the gores, in turn, and of the belt. */
export interface Cloth {
  gores: readonly Colour[];
  belt: Colour;
}

export const BALLOONS: Readonly<Record<string, Cloth>> = {
  ember: { gores: [[0.72, 0.16, 0.06], [0.9, 0.52, 0.12]], belt: [0.93, 0.83, 0.62] },
  lagoon: { gores: [[0.05, 0.3, 0.34], [0.12, 0.5, 0.46]], belt: [0.92, 0.7, 0.28] },
  plum: { gores: [[0.3, 0.08, 0.22], [0.82, 0.74, 0.62]], belt: [0.58, 0.17, 0.25] },
}; // prettier-ignore

export const BALLOON_SIZE = { width: 720, height: 1000 };
/** Balloon widths that the picture is wide. */
const WIDE = 1.12;
const GORES = 16;
const SUN = unit([-0.52, 0.62, 0.59]);
/** How bright it is developed. */
const EXPOSURE = 0.6;

function unit([x, y, z]: Vector): Vector {
  const far = Math.hypot(x, y, z);
  return [x / far, y / far, z / far];
}
const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** Radius of the envelope at a height from -0.72 (the mouth) to 0.5 (the crown). */
function radiusAt(y: number): number {
  if (y > 0.5 || y < -0.72) return 0;
  if (y > -0.08) return 0.5 * Math.sqrt(Math.max(0, 1 - ((y + 0.08) / 0.58) ** 2));
  const t = (-0.08 - y) / 0.64;
  return 0.5 - 0.4 * t * t * (1.45 - 0.45 * t);
}

/** The light that comes from (x, y), in balloon widths; null where nothing is. */
function lightAt(x: number, y: number, cloth: Cloth): Colour | null {
  return envelope(x, y, cloth) ?? basket(x, y) ?? rope(x, y);
}

function envelope(x: number, y: number, { gores, belt }: Cloth): Colour | null {
  const r = radiusAt(y);
  if (Math.abs(x) >= r) return null;
  const z = Math.sqrt(r * r - x * x);
  const around = Math.atan2(x, z);
  // Each gore is puffed between its seams.
  const phase = ((around / (2 * Math.PI)) * GORES + 100) % 1;
  const slope = (radiusAt(y - 0.004) - radiusAt(y + 0.004)) / 0.008;
  const bulge = 0.55 * (phase - 0.5);
  const out = unit([Math.sin(around + bulge), slope, Math.cos(around + bulge)]);
  const index = Math.floor((around / (2 * Math.PI)) * GORES + 100);
  const wave = 0.035 * Math.abs((phase * 2 - 1) * 2 - Math.sign(phase * 2 - 1));
  const isBelt = Math.abs(y + 0.06 - wave) < 0.07;
  const isCrown = y > 0.4;
  const base = isBelt || isCrown ? belt : gores[index % gores.length]!;
  const seam = Math.min(1, Math.min(phase, 1 - phase) / 0.05);
  const lit = Math.max(0, dot(out, SUN));
  // Sun through the cloth on the far side, sky from above, the town's warm ground from below.
  const through = 0.16 * Math.max(0, -dot(out, SUN)) + 0.1;
  const sky = 0.28 + 0.2 * out[1];
  const ground = 0.1 * Math.max(0, -out[1]);
  const shine = 0.22 * Math.max(0, dot(out, unit([SUN[0], SUN[1], SUN[2] + 1]))) ** 40;
  const shade = 0.78 + 0.22 * seam;
  const mouth = y < -0.66 ? 0.55 : 1;
  const light: Colour = [
    1.25 * lit + sky * 0.82 + ground * 1.2 + through * 1.2,
    1.18 * lit + sky * 0.95 + ground + through,
    1.02 * lit + sky * 1.15 + ground * 0.7 + through * 0.7,
  ];
  const seen = (c: 0 | 1 | 2): number => (base[c] * light[c] + shine) * shade * mouth;
  return [seen(0), seen(1), seen(2)];
}

function rope(x: number, y: number): Colour | null {
  if (y > -0.7 || y < -0.93) return null;
  const t = (-0.7 - y) / 0.23;
  for (const side of [-1, -0.35, 0.35, 1])
    if (Math.abs(x - side * (0.098 - 0.024 * t)) < 0.0016) return [0.09, 0.07, 0.05];
  return null;
}

function basket(x: number, y: number): Colour | null {
  const [top, bottom] = [-0.92, -1.06];
  if (y > top || y < bottom) return null;
  const half = 0.078 - 0.008 * ((top - y) / (top - bottom));
  if (Math.abs(x) > half) return null;
  if (y > top - 0.018) return [0.2, 0.08, 0.04];
  // Wicker: strands over and under.
  const [u, v] = [Math.floor((x + 1) * 90), Math.floor(-y * 130)];
  const weave = (u + v) % 2 === 0 ? 1 : 0.72;
  const around = x / half;
  const lit = Math.max(0, -0.5 * around + 0.75 * Math.sqrt(1 - 0.9 * around * around));
  return [0.46 * lit * weave + 0.05, 0.27 * lit * weave + 0.035, 0.12 * lit * weave + 0.02];
}

const bentAs = (v: number): number => (v * (2.51 * v + 0.03)) / (v * (2.43 * v + 0.59) + 0.14);
function coded(v: number): number {
  const held = Math.min(1, Math.max(0, v));
  return held <= 0.0031308 ? 12.92 * held : 1.055 * held ** (1 / 2.4) - 0.055;
}
/** Scene light to coded values, each channel by itself. */
const developed = (v: number): number => coded(bentAs(v));

/** A balloon in a picture: where its middle is, and how wide it is, in pixels, y down. */
export interface HungBalloon {
  cloth: string;
  at: readonly [number, number];
  wide: number;
}

/**
 * A balloon as a card of a picture's size, see `Card`.
 * @param exposure that the picture is developed with.
 */
export function balloonCard(
  { cloth, at, wide }: HungBalloon,
  width: number,
  height: number,
  exposure: number,
): Float32Array {
  const light = new Float32Array(4 * width * height);
  const colours = BALLOONS[cloth]!;
  for (let py = 0; py < height; py++)
    for (let px = 0; px < width; px++) {
      const out = 4 * ((height - 1 - py) * width + px);
      for (let k = 0; k < 16; k++) {
        const x = (px + ((k % 4) + 0.5) / 4 - at[0]) / wide;
        const y = -(py + (Math.floor(k / 4) + 0.5) / 4 - at[1]) / wide;
        const seen = lightAt(x, y, colours);
        if (!seen) continue;
        seen.forEach((v, c) => (light[out + c]! += (EXPOSURE * v) / exposure / 16));
        light[out + 3]! += 1 / 16;
      }
    }
  return light;
}

/** A card as a cut-out, straight RGBA, developed as the town is. */
export function cutOut(light: Float32Array, exposure: number): Uint8Array {
  const out = new Uint8Array(light.length);
  for (let i = 0; i < light.length; i += 4) {
    const share = light[i + 3]!;
    if (share === 0) continue;
    const [r, g, b] = [0, 1, 2].map((c) => bentAs((exposure * light[i + c]!) / share)) as [
      number,
      number,
      number,
    ];
    const grey = 0.2126 * r + 0.7152 * g + 0.0722 * b;
    [r, g, b].forEach((v, c) => (out[i + c] = Math.round(255 * coded(grey + 0.88 * (v - grey)))));
    out[i + 3] = Math.round(255 * share);
  }
  return out;
}

/** A balloon of a cloth, straight RGBA of `BALLOON_SIZE`. */
export function balloon(cloth: Cloth): Uint8Array {
  const { width, height } = BALLOON_SIZE;
  const scale = WIDE / width;
  const out = new Uint8Array(4 * width * height);
  for (let py = 0; py < height; py++)
    for (let px = 0; px < width; px++) {
      const sum = [0, 0, 0];
      let count = 0;
      for (let k = 0; k < 16; k++) {
        const x = (px + ((k % 4) + 0.5) / 4 - width / 2) * scale;
        const y = 0.5 - (py + (Math.floor(k / 4) + 0.5) / 4 - 0.02 * width) * scale;
        const light = lightAt(x, y, cloth);
        if (!light) continue;
        count++;
        light.forEach((v, c) => (sum[c]! += v));
      }
      if (count === 0) continue;
      const at = 4 * (py * width + px);
      sum.forEach((v, c) => (out[at + c] = Math.round(255 * developed((EXPOSURE * v) / count))));
      out[at + 3] = Math.round((255 * count) / 16);
    }
  return out;
}
