import type { Size } from '../../geometry/size';
import { type FrameFormat, isYuv } from '../../pixels/format';
import { fromLinear, toLinear } from '../../pixels/transfer';
import { yuvFactors } from '../../pixels/yuv-planes';

/** How the noise of red, green and blue coded values (1 is white) goes together: the lower triangle, row by row. */
export type Covariance = readonly [rr: number, rg: number, gg: number, rb: number, gb: number, bb: number];

/** How alike the noise of pixels is that lie one and two apart along an axis, −1..1. */
export type Likeness = readonly [one: number, two: number];

/** A picture's noise: by brightness from black to white, and from pixel to pixel. */
export interface Noise {
  bins: readonly Covariance[];
  across: Likeness;
  down: Likeness;
}

/** Brightnesses that noise is measured for. */
export const NOISE_BINS = 16;
/** Pixels of a cell each way. */
const CELL = 8;
const PIXELS = CELL * CELL;
/** What is left to chance in a cell whose mean and slopes are taken off. */
const FREE = PIXELS - 3;
/** Cells that are looked at, at most. */
const MAX_CELLS = 2000;
/** Fewer cells of a brightness than this say nothing. */
const MIN_CELLS = 8;
/** The share of cells that is taken to be regular before more is known; what they vary by is less than the noise's own by some. */
const REGULAR = { share: 0.05, grows: 1.7 } as const;
/** A cell that varies more than the noise by this factor has texture, and how often that is asked. */
const TEXTURED = { from: 1.6, rounds: 4 } as const;
/** Noise of a brightness varies at most so many times as much as the least of any that holds this share of the cells; more is texture. */
const MAX_APART = 16;
const MIN_SHARE = 0.01;

/** Of a cell: how bright it is, how much its luma varies, and the sums of what its noise is made of. */
interface Cell {
  bright: number;
  varies: number;
  covariance: number[];
  /** Products of luma with what lies one and two pixels across and down, and with itself. */
  products: number[];
}

/**
 * Measures a picture's own noise against its brightness. Cells of 8 x 8 pixels lose their mean and their slopes; what is left
 * is noise, or texture. Of each brightness the cells count that vary least, and those that vary no more than noise of that
 * strength does: so texture is left out wherever some cells are free of it. A brightness with texture alone takes what
 * the nearest one has.
 */
export function measureNoise(bytes: Uint8Array, format: FrameFormat, size: Size): Noise {
  const cells = cellsOf(bytes, format, size);
  const bins = Array.from({ length: NOISE_BINS }, (_, i) =>
    regular(cells.filter(({ bright }) => binOf(bright) === i)),
  );
  const many = bins.filter(({ length }) => length > 0 && length >= MIN_SHARE * cells.length);
  const most = MAX_APART * Math.min(...many.map(variesOf));
  const known = bins.map((bin) => (bin.length > 0 && variesOf(bin) <= most ? bin : null));
  return {
    bins: smoothed(filledUp(known.map((bin) => bin && covarianceOf(bin)))),
    ...likenessOf(known.flatMap((bin) => bin ?? [])),
  };
}

const binOf = (coded: number): number => Math.min(NOISE_BINS - 1, Math.floor(coded * NOISE_BINS));
const variesOf = (cells: readonly Cell[]): number =>
  cells.reduce((sum, { varies }) => sum + varies, 0) / Math.max(1, cells.length);

/** Those of the cells of one brightness in which there is nothing but noise. */
function regular(cells: readonly Cell[]): Cell[] {
  if (cells.length < MIN_CELLS) return [];
  const sorted = [...cells].sort((a, b) => a.varies - b.varies);
  let own = sorted[Math.floor(REGULAR.share * sorted.length)]!.varies * REGULAR.grows;
  let chosen: Cell[] = [];
  for (let round = 0; round < TEXTURED.rounds; round++) {
    const most = own * TEXTURED.from;
    chosen = sorted.filter(({ varies }) => varies <= most);
    own = variesOf(chosen);
  }
  return chosen;
}

function cellsOf(bytes: Uint8Array, format: FrameFormat, { width, height }: Size): Cell[] {
  const colour = colourOf(bytes, format, { width, height });
  const across = Math.floor(width / CELL);
  const count = across * Math.floor(height / CELL);
  // A step that shares no factor with a row: all columns are met.
  const step = Math.max(1, Math.ceil(count / MAX_CELLS)) | 1;
  const planes = Array.from({ length: 4 }, () => new Float64Array(PIXELS));
  const cells: Cell[] = [];
  for (let i = 0; i < count; i += step) {
    const [left, top] = [(i % across) * CELL, Math.floor(i / across) * CELL];
    let isClipped = false;
    for (let at = 0; at < PIXELS; at++) {
      const rgb = colour(left + (at % CELL), top + Math.floor(at / CELL));
      for (let c = 0; c < 3; c++) {
        planes[c]![at] = rgb[c]!;
        // What is clipped has lost its noise.
        isClipped ||= rgb[c]! < 0.004 || rgb[c]! > 0.996;
      }
      planes[3]![at] = 0.2126 * rgb[0]! + 0.7152 * rgb[1]! + 0.0722 * rgb[2]!;
    }
    if (isClipped) continue;
    const bright = planes.map(levelled)[3]!;
    // One colour all over is drawn, or held at a level: it has no noise to tell of.
    if (planes.every((plane) => plane.every((v) => Math.abs(v) < 1e-9))) continue;
    const [r, g, b, luma] = planes as [Float64Array, Float64Array, Float64Array, Float64Array];
    const pairs = [[r, r], [r, g], [g, g], [r, b], [g, b], [b, b]] as const; // prettier-ignore
    cells.push({
      bright,
      varies: product(luma, luma) / FREE,
      covariance: pairs.map(([a, b]) => product(a, b) / FREE),
      products: LAGS.map((lag) => laggedProduct(luma, lag)),
    });
  }
  return cells;
}

/** Takes the mean and the slopes off a cell, in place. @returns the mean. */
function levelled(values: Float64Array): number {
  let [mean, across, down] = [0, 0, 0];
  for (let at = 0; at < PIXELS; at++) {
    mean += values[at]!;
    across += values[at]! * placeIn(at % CELL);
    down += values[at]! * placeIn(Math.floor(at / CELL));
  }
  mean /= PIXELS;
  for (let at = 0; at < PIXELS; at++)
    values[at]! -= mean + (across * placeIn(at % CELL) + down * placeIn(Math.floor(at / CELL))) / SQUARES;
  return mean;
}

/** A column or row of a cell, counted from its middle. */
const placeIn = (i: number): number => i - (CELL - 1) / 2;
/** The sum of the squares of all columns of a cell, over its pixels. */
const SQUARES = (PIXELS * (PIXELS - 1)) / 12;

/** Pixels that lie `lag` apart: one, two across, one, two down, and none. */
const LAGS = [1, 2, CELL, 2 * CELL, 0].map((lag) => {
  const places = Array.from({ length: PIXELS - lag }, (_, at) => at).filter(
    (at) => lag >= CELL || (at % CELL) + lag < CELL,
  );
  // What taking off a mean and slopes makes of independent noise: less than nothing in common.
  const taken = places.reduce((sum, at) => {
    const [x, y] = [placeIn(at % CELL), placeIn(Math.floor(at / CELL))];
    const [u, v] = [placeIn((at + lag) % CELL), placeIn(Math.floor((at + lag) / CELL))];
    return sum + 1 / PIXELS + (x * u + y * v) / SQUARES;
  }, 0);
  return { lag, places, taken: taken / places.length };
});

/** The sum of products of two planes of a cell. */
function product(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let at = 0; at < PIXELS; at++) sum += a[at]! * b[at]!;
  return sum;
}

/** The same of one plane with itself, `lag` pixels on. */
function laggedProduct(values: Float64Array, { lag, places }: (typeof LAGS)[number]): number {
  let sum = 0;
  for (const at of places) sum += values[at]! * values[at + lag]!;
  return sum;
}

function covarianceOf(cells: readonly Cell[]): Covariance {
  return [0, 1, 2, 3, 4, 5].map(
    (k) => cells.reduce((sum, { covariance }) => sum + covariance[k]!, 0) / cells.length,
  ) as unknown as Covariance;
}

/** How alike neighbours are in cells that are nothing but noise. */
function likenessOf(cells: readonly Cell[]): Pick<Noise, 'across' | 'down'> {
  const sums = LAGS.map((_, k) => cells.reduce((sum, { products }) => sum + products[k]!, 0));
  const own = sums[4]! / FREE;
  const [one, two, oneDown, twoDown] = LAGS.map(({ places, taken }, k) =>
    own === 0 ? 0 : Math.min(1, Math.max(-1, sums[k]! / places.length / own + taken)),
  ) as [number, number, number, number];
  return { across: [one, two], down: [oneDown, twoDown] };
}

/**
 * The noise of a source all of whose light is multiplied: what was as bright as a coded value is as bright as another one,
 * and its noise is steeper or flatter by the curve between both.
 */
export function noiseUnder(noise: Noise, light: number): Noise {
  if (light === 1) return noise;
  const step = 1 / (4 * NOISE_BINS);
  const came = (coded: number): number => fromLinear(toLinear(Math.max(0, coded)) / light);
  const bins = noise.bins.map((_, i) => {
    const coded = (i + 0.5) / NOISE_BINS;
    const slope = (2 * step) / Math.max(1e-6, came(coded + step) - came(coded - step));
    return covarianceAt(noise, came(coded)).map((v) => v * slope * slope) as unknown as Covariance;
  });
  return { ...noise, bins };
}

/**
 * The noise of a source whose linear light is multiplied by a matrix from primaries to others, for colours that are nearly
 * grey: M C Mᵀ. Null for the same primaries.
 */
export function noiseOfPrimaries(noise: Noise, matrix: readonly number[] | null): Noise {
  if (!matrix) return noise;
  const bins = noise.bins.map(([rr, rg, gg, rb, gb, bb]): Covariance => {
    const covariance = [rr, rg, rb, rg, gg, gb, rb, gb, bb];
    const of = (r: number, c: number): number =>
      covariance.reduce(
        (sum, value, i) => sum + matrix[3 * r + Math.floor(i / 3)]! * value * matrix[3 * c + (i % 3)]!,
        0,
      );
    return [of(0, 0), of(1, 0), of(1, 1), of(2, 0), of(2, 1), of(2, 2)];
  });
  return { ...noise, bins };
}

/** The noise of a coded value, between the middles of the brightnesses. */
function covarianceAt({ bins }: Noise, coded: number): Covariance {
  const place = Math.min(NOISE_BINS - 1, Math.max(0, coded * NOISE_BINS - 0.5));
  const i = Math.min(NOISE_BINS - 2, Math.floor(place));
  return bins[i]!.map((v, k) => v + (place - i) * (bins[i + 1]![k]! - v)) as unknown as Covariance;
}

/** Deviation by brightness, the mean of the three channels' variances. */
export function deviations({ bins }: Noise): number[] {
  return bins.map(([rr, , gg, , , bb]) => Math.sqrt((rr + gg + bb) / 3));
}

const NOTHING: Covariance = [0, 0, 0, 0, 0, 0];

/** A brightness that nothing is known of takes what the nearest one has. */
function filledUp(bins: readonly (Covariance | null)[]): Covariance[] {
  return bins.map((value, i) => {
    if (value !== null) return value;
    for (let far = 1; far < bins.length; far++) {
      const near = bins[i - far] ?? bins[i + far] ?? null;
      if (near !== null) return near;
    }
    return NOTHING;
  });
}

/** Noise goes smoothly with brightness; what few cells say does not. */
function smoothed(bins: readonly Covariance[]): Covariance[] {
  return bins.map(
    (value, i) =>
      value.map(
        (v, k) => (bins[i - 1] ?? value)[k]! / 4 + v / 2 + (bins[i + 1] ?? value)[k]! / 4,
      ) as unknown as Covariance,
  );
}

/** Coded red, green and blue, 0..1, of a pixel; the same array each time. */
function colourOf(
  bytes: Uint8Array,
  format: FrameFormat,
  { width, height }: Size,
): (x: number, y: number) => readonly number[] {
  const rgb = [0, 0, 0];
  if (isYuv(format)) {
    const { lumaScale, lumaOffset, redOfCr, greenOfCb, greenOfCr, blueOfCb } = yuvFactors(format);
    const half = Math.ceil(width / 2);
    const chroma = half * Math.ceil(height / 2);
    return (x, y) => {
      const at = width * height + (y >> 1) * half + (x >> 1);
      const luma = (bytes[y * width + x]! - lumaOffset) * lumaScale;
      const [u, v] = [bytes[at]! - 128, bytes[at + chroma]! - 128];
      rgb[0] = luma + v * redOfCr;
      rgb[1] = luma + u * greenOfCb + v * greenOfCr;
      rgb[2] = luma + u * blueOfCb;
      return rgb;
    };
  }
  const { channels, bytes: size } = format;
  const samples = size === 1 ? bytes : new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.byteLength >> 1);
  const most = size === 1 ? 255 : 65535;
  return (x, y) => {
    const at = (y * width + x) * channels;
    for (let c = 0; c < 3; c++) rgb[c] = samples[at + c]! / most;
    return rgb;
  };
}
