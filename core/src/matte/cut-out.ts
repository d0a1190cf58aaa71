import { toLinear } from '../pixels/transfer';
import { type PackedStroke, strokeCoverage, packStroke } from '../focus/strokes';
import type { Scribble } from '../recipe/focus-schema';
import { ColourModel, type Colours } from './colour-model';
import { applyGuided, guidedCoefficients } from './guided-filter';
import { GridCut, NEIGHBOURS } from './min-cut';
import { type GreyImage, resizeGrey } from './grey-image';

/** A picture as it is cut: 8-bit sRGB, four bytes a pixel, row by row. */
export interface RgbaImage {
  width: number;
  height: number;
  data: Uint8Array;
}

/** Long edge at which a subject is cut out; its outline is then refined at the picture's own size. */
export const CUT_LONG_EDGE_PX = 400;

/** A part of a picture, as fractions of its width and height. */
export interface CutRegion {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** How far around all scribbles a subject is looked for, as a share of their extent. */
const AROUND = 0.3;

/** The part of the picture that a cut looks at: a small subject is cut at a finer scale. */
export function cutRegion(scribbles: readonly Scribble[]): CutRegion {
  const points = scribbles.flatMap((scribble) => scribble.points);
  const span = (axis: 0 | 1): [number, number] => {
    const values = points.map((point) => Math.min(1, Math.max(0, point[axis])));
    const [low, high] = [Math.min(...values, 1), Math.max(...values, 0)];
    const more = scribbles.some(({ inside }) => !inside) ? AROUND * (high - low) : 1;
    const [from, to] = [Math.max(0, low - more - 0.02), Math.min(1, high + more + 0.02)];
    return from < to ? [from, to - from] : [0, 1];
  };
  const [x, width] = span(0);
  const [y, height] = span(1);
  return { x, y, width, height };
}

const CLUSTERS = 5;
const ROUNDS = 2;
/** Weight of the outline's length against the colours (GrabCut's γ), and of the nearness to scribbles. */
const SMOOTHNESS = 20;
const NEARNESS = 3;
/** A cost that no cut can pay. */
const CERTAIN = 1 << 20;
/** Costs are whole numbers of this fraction. */
const SCALE = 100;
/** Pieces and holes smaller than this share of the picture go. */
const SPECK = 0.0015;
const MODEL_PIXELS = 8000;

/**
 * Cuts a subject out of a picture by scribbles inside and outside of it: colour models learnt from the scribbles and
 * then from the cut itself (GrabCut: Rother, Kolmogorov, Blake, 2004), with nearness to the scribbles along paths of
 * little change as a second witness (Price, Morse, Cohen, "Geodesic graph cut for interactive image segmentation", CVPR
 * 2010). Parts that hang together with no inside scribble are left out.
 * @param picture the window of the picture, at most about CUT_EDGE on its long edge: the time grows with the pixels.
 * @returns 1 inside, 0 outside; all 0 where nothing is scribbled inside.
 */
export function cutOut(picture: RgbaImage, scribbles: readonly Scribble[], window: CutRegion): GreyImage {
  const { width, height } = picture;
  const seeds = seedsOf(scribbles, window, width, height);
  let inside: Uint8Array = seeds.map((seed) => (seed === INSIDE ? 1 : 0));
  if (seeds.includes(INSIDE)) {
    if (!seeds.includes(OUTSIDE)) frame(seeds, width, height);
    const colours = oklab(picture);
    const bonds = neighbourWeights(colours, width, height);
    const near = geodesicShare(colours, seeds, width, height);
    for (let round = 0; round < ROUNDS; round++)
      inside = cutOnce(colours, bonds, near, seeds, round === 0 ? null : inside, width, height);
    inside = removeSpecks(inside, seeds, width, height);
  }
  return { width, height, values: Float32Array.from(inside) };
}

const [UNKNOWN, INSIDE, OUTSIDE] = [0, 1, 2];

function seedsOf(
  scribbles: readonly Scribble[],
  window: CutRegion,
  width: number,
  height: number,
): Uint8Array {
  const seeds = new Uint8Array(width * height);
  const whole = { width: width / window.width, height: height / window.height };
  const [left, top] = [window.x * whole.width, window.y * whole.height];
  for (const scribble of scribbles) {
    // A scribble counts where it covers a pixel's centre, and is never thinner than a pixel.
    const radius = Math.max(scribble.radius, 1 / Math.hypot(whole.width, whole.height));
    const stroke: PackedStroke = packStroke(
      { mode: 'clear', radius, softness: 0, strength: 1, pressure: 'none', points: scribble.points },
      '',
    );
    const covers = strokeCoverage(stroke, whole);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++)
        if (covers(left + x + 0.5, top + y + 0.5) > 0.5)
          seeds[y * width + x] = scribble.inside ? INSIDE : OUTSIDE;
  }
  return seeds;
}

/** Without a scribble outside the picture's frame is taken for it, except where the subject was drawn over it. */
function frame(seeds: Uint8Array, width: number, height: number): void {
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const isRim = x < 2 || y < 2 || x >= width - 2 || y >= height - 2;
      if (isRim && seeds[y * width + x] === UNKNOWN) seeds[y * width + x] = OUTSIDE;
    }
}

/** Oklab (Ottosson, 2020) of every pixel. */
function oklab({ width, height, data }: RgbaImage): Colours {
  const light = Float32Array.from({ length: 256 }, (_, i) => toLinear(i / 255));
  const out = new Float32Array(width * height * 3);
  for (let i = 0; i < width * height; i++) {
    const [r, g, b] = [light[data[i * 4]!]!, light[data[i * 4 + 1]!]!, light[data[i * 4 + 2]!]!];
    const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
    const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
    const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
    out[i * 3] = 0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s;
    out[i * 3 + 1] = 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s;
    out[i * 3 + 2] = 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s;
  }
  return out;
}

function gap(colours: Colours, i: number, j: number): number {
  const [a, b] = [i * 3, j * 3];
  return (
    (colours[a]! - colours[b]!) ** 2 +
    (colours[a + 1]! - colours[b + 1]!) ** 2 +
    (colours[a + 2]! - colours[b + 2]!) ** 2
  );
}

/** β of GrabCut: 1 / (2 x the mean squared difference of neighbours). */
function contrastOf(colours: Colours, width: number, height: number): number {
  let sum = 0;
  let count = 0;
  for (let y = 0; y < height - 1; y++)
    for (let x = 0; x < width - 1; x++) {
      const i = y * width + x;
      sum += gap(colours, i, i + 1) + gap(colours, i, i + width);
      count += 2;
    }
  return count === 0 || sum === 0 ? 1 : count / (2 * sum);
}

/** Cost of parting each pixel from its four later neighbours: much where their colours are alike. */
function neighbourWeights(colours: Colours, width: number, height: number): Int32Array {
  const contrast = contrastOf(colours, width, height);
  const bonds = new Int32Array(width * height * 4);
  for (let k = 0; k < 4; k++) {
    const [dx, dy] = NEIGHBOURS[k + 4]!;
    const weight = (SMOOTHNESS * SCALE) / Math.hypot(dx, dy);
    for (let y = 0; y < height - dy; y++)
      for (let x = Math.max(0, -dx); x < width - Math.max(0, dx); x++) {
        const i = y * width + x;
        bonds[i * 4 + k] = Math.round(weight * Math.exp(-contrast * gap(colours, i, i + dy * width + dx)));
      }
  }
  return bonds;
}

/**
 * For each pixel 0 (near an inside scribble) to 1 (near an outside one): the geodesic distances to both, where a step
 * costs its colour difference and a little for its length; by sweeps to and fro (Toivanen, 1996).
 */
function geodesicShare(colours: Colours, seeds: Uint8Array, width: number, height: number): Float32Array {
  const step = 0.004;
  const distances = [INSIDE, OUTSIDE].map((kind) => {
    const d = new Float32Array(seeds.length).fill(1e6);
    for (let i = 0; i < d.length; i++) if (seeds[i] === kind) d[i] = 0;
    const relax = (i: number, j: number, far: number): void => {
      const through = d[j]! + far * step + Math.sqrt(gap(colours, i, j));
      if (through < d[i]!) d[i] = through;
    };
    for (let sweep = 0; sweep < 4; sweep++) {
      const back = sweep % 2 === 1;
      for (let v = 0; v < height; v++) {
        const y = back ? height - 1 - v : v;
        const dy = back ? 1 : -1;
        const hasRow = back ? y < height - 1 : y > 0;
        for (let u = 0; u < width; u++) {
          const x = back ? width - 1 - u : u;
          const dx = back ? 1 : -1;
          const i = y * width + x;
          if (back ? x < width - 1 : x > 0) relax(i, i + dx, 1);
          if (!hasRow) continue;
          const above = i + dy * width;
          relax(i, above, 1);
          if (x > 0) relax(i, above - 1, Math.SQRT2);
          if (x < width - 1) relax(i, above + 1, Math.SQRT2);
        }
      }
    }
    return d;
  });
  const [toInside, toOutside] = distances as [Float32Array, Float32Array];
  return toInside.map((d, i) => d / Math.max(1e-6, d + toOutside[i]!));
}

function cutOnce(
  colours: Colours,
  bonds: Int32Array,
  near: Float32Array,
  seeds: Uint8Array,
  last: Uint8Array | null,
  width: number,
  height: number,
): Uint8Array {
  const belongs = (i: number): number =>
    seeds[i] !== UNKNOWN ? seeds[i]! : last ? (last[i] ? INSIDE : OUTSIDE) : UNKNOWN;
  const [object, ground] = [INSIDE, OUTSIDE].map((kind) => {
    const pixels: number[] = [];
    for (let i = 0; i < seeds.length; i++) if (belongs(i) === kind) pixels.push(i);
    const stride = Math.max(1, Math.floor(pixels.length / MODEL_PIXELS));
    return new ColourModel(
      colours,
      pixels.filter((_, k) => k % stride === 0),
      CLUSTERS,
    );
  }) as [ColourModel, ColourModel];
  const cut = new GridCut(width, height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (seeds[i] === INSIDE) cut.setTerminal(x, y, CERTAIN, 0);
      else if (seeds[i] === OUTSIDE) cut.setTerminal(x, y, 0, CERTAIN);
      else
        cut.setTerminal(
          x,
          y,
          Math.round((ground.cost(colours, i) + NEARNESS * (1 - near[i]!)) * SCALE),
          Math.round((object.cost(colours, i) + NEARNESS * near[i]!) * SCALE),
        );
      for (let k = 0; k < 4; k++) if (bonds[i * 4 + k]! > 0) cut.setNeighbour(x, y, k + 4, bonds[i * 4 + k]!);
    }
  return cut.solve();
}

/** Keeps the pieces that an inside scribble touches, and fills holes that are specks. */
function removeSpecks(inside: Uint8Array, seeds: Uint8Array, width: number, height: number): Uint8Array {
  const out = inside.slice();
  const speck = Math.max(4, SPECK * width * height);
  for (const piece of pieces(inside, width, height)) {
    const isInside = inside[piece[0]!] === 1;
    const seeded = piece.some((i) => seeds[i] === (isInside ? INSIDE : OUTSIDE));
    if (!seeded && (isInside || piece.length < speck)) for (const i of piece) out[i] = isInside ? 0 : 1;
  }
  return out;
}

/** Connected pieces (four neighbours) of equal pixels. */
function pieces(inside: Uint8Array, width: number, height: number): number[][] {
  const seen = new Uint8Array(inside.length);
  const found: number[][] = [];
  for (let start = 0; start < inside.length; start++) {
    if (seen[start]) continue;
    const piece = [start];
    seen[start] = 1;
    for (let k = 0; k < piece.length; k++) {
      const i = piece[k]!;
      const x = i % width;
      for (const j of [x > 0 ? i - 1 : -1, x < width - 1 ? i + 1 : -1, i - width, i + width])
        if (j >= 0 && j < width * height && !seen[j] && inside[j] === inside[start]) {
          seen[j] = 1;
          piece.push(j);
        }
    }
    found.push(piece);
  }
  return found;
}

/** Luma, 0..1, of every pixel: the guide along which outlines are refined. */
export function lumaOf({ width, height, data }: RgbaImage): GreyImage {
  const values = new Float32Array(width * height);
  for (let i = 0; i < values.length; i++)
    values[i] = (0.299 * data[i * 4]! + 0.587 * data[i * 4 + 1]! + 0.114 * data[i * 4 + 2]!) / 255;
  return { width, height, values };
}

const [REFINE_RADIUS, REFINE_EPSILON] = [3, 1e-3];

/**
 * A cut-out's soft outline along the edges of the picture, at the size of `fine`. The guided filter's lines are laid at
 * the size of the cut and read with the fine guide.
 * @returns 0..1
 */
export function refineCut(cut: GreyImage, coarse: GreyImage, fine: GreyImage): GreyImage {
  const guide = resizeGrey(coarse, cut.width, cut.height);
  const soft = applyGuided(guidedCoefficients(guide, cut, REFINE_RADIUS, REFINE_EPSILON), fine);
  // The filter leaves some grey on both sides of an outline: a little of it at each end is all or nothing.
  const values = soft.values.map((v) => Math.min(1, Math.max(0, (v - 0.12) / 0.76)));
  return { ...soft, values };
}
