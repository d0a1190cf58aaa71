import { type FieldPlan, planField } from '../focus/field-rows';
import { type Region, diagonal } from '../focus/geometry';
import {
  FULL_SIZE_REACH,
  REACH_SIGMAS,
  STACK_TAPS,
  levelOf,
  levelVariance,
  octaveCount,
} from '../optics/levels';

/** How pixels lie in memory: interleaved, `channels` samples of `bytes` bytes each, rows without gaps. */
export interface PixelFormat {
  channels: 3 | 4;
  bytes: 1 | 2;
}

/** Samples of margin on each side of a row that filters may read. */
export const MARGIN = 16;
/** Most levels a stack may have. */
export const MAX_LEVELS = 40;

/** One octave of the blur stack in memory: rows of three planes with margins. */
export interface OctavePlan {
  pointer: number;
  width: number;
  height: number;
  /** Floats from one plane of a row to the next. */
  stride: number;
}

/** Where everything lies in the memory that the workers share; plain data, sent to each worker once. */
export interface RenderPlan {
  region: Region;
  format: PixelFormat;
  /** A word that counts the strips finished; whoever shares the memory may watch it. */
  finished: number;
  /** The picture goes in and comes out here. */
  source: number;
  output: number;
  bytes: number;
  /** Size that the picture is extended to by mirroring, so that the octaves divide it and no blur meets the end. */
  extended: { width: number; height: number };
  octaves: OctavePlan[];
  /** Highest level of the stack. */
  topLevel: number;
  /** Rows of the largest strip a worker may be given. */
  stripRows: number;
  linearTable: number;
  fullTaps: number[];
  firstHalvingTaps: number;
  halvingTaps: number;
  secondTaps: number;
  /** B-spline weights for each octave's scale: one pointer per octave. */
  splines: number[];
  ramp: number;
  workers: WorkerPlan[];
}

/** One worker's own part of the memory. */
export interface WorkerPlan {
  ring: number;
  /** Scratch row, as long as the longest row of the stack. */
  row: number;
  /** Linear rows of the strip and of FULL_SIZE_REACH rows above and below it. */
  linear: number;
  /** One block of strip rows per full-size level. */
  levels: number[];
  /** Strip rows of the second level of each octave. */
  seconds: number[];
  /** The haze, later the blur level, of every pixel of the strip. */
  field: FieldPlan;
  /** The haze that the strip's output was made of, row by row. */
  shown: number;
  /** Octave rows weighed together for the row in hand, one per octave and index. */
  blended: number[];
  mixed: number;
  pointers: number;
  weights: number;
  table: number;
  /** Least and greatest haze of the row in hand. */
  range: number;
}

export interface PlanOptions {
  region: Region;
  format: PixelFormat;
  /** Largest standard deviation of blur that will be asked for, in pixels. */
  maxSigma: number;
  workers: number;
  stripRows: number;
}

const align = (value: number, to: number): number => Math.ceil(value / to) * to;
/** Floats per plane of a row of n samples with margins. */
export const paddedStride = (n: number): number => align(n + 2 * MARGIN, 8);
/** Floats per plane of a row of n samples without margins. */
export const bareStride = (n: number): number => align(n, 8);
/** Rows of an octave's second level that a strip can touch. */
export const secondRows = (stripRows: number, octave: number): number =>
  Math.ceil(stripRows / 2 ** octave) + 3;

/** Lays out the memory for rendering one region. Pure arithmetic; nothing is allocated. */
export function planRender(options: PlanOptions): RenderPlan {
  const { region, format, stripRows } = options;
  const { width, height } = region;
  const topLevel = Math.min(MAX_LEVELS - 1, Math.ceil(levelOf(options.maxSigma) + 2e-3));
  const octaveTotal = octaveCount(topLevel);
  const step = 2 ** octaveTotal;
  const reach =
    octaveTotal === 0 ? 0 : Math.ceil(REACH_SIGMAS * Math.sqrt(levelVariance(topLevel))) + 2 * step;
  const extended = { width: align(width + reach, step), height: align(height + reach, step) };
  let cursor = 64;
  const take = (bytes: number): number => {
    const at = cursor;
    cursor = align(cursor + bytes, 64);
    return at;
  };
  const floats = (count: number): number => take(count * 4);
  const finished = take(4);
  const pixelBytes = width * height * format.channels * format.bytes;
  const source = take(pixelBytes);
  const output = take(pixelBytes);
  const octaves = Array.from({ length: octaveTotal }, (_, i): OctavePlan => {
    const size = { width: extended.width >> (i + 1), height: extended.height >> (i + 1) };
    const stride = paddedStride(size.width);
    return { ...size, stride, pointer: floats(3 * stride * size.height) };
  });
  const longestRow = 3 * paddedStride(extended.width);
  return {
    region,
    format,
    finished,
    source,
    output,
    extended,
    octaves,
    topLevel,
    stripRows,
    linearTable: floats(format.bytes === 1 ? 256 : 65536),
    fullTaps: STACK_TAPS.full.map(() => floats(16)),
    firstHalvingTaps: floats(16),
    halvingTaps: floats(16),
    secondTaps: floats(16),
    splines: octaves.map((_, i) => floats(12 * Math.max(1, 2 ** (i - 1)))),
    ramp: take(4096),
    workers: Array.from({ length: options.workers }, () => ({
      ring: floats(longestRow * (octaveTotal > 0 ? 12 : 0)),
      row: floats(longestRow),
      linear: floats(3 * paddedStride(width) * (stripRows + 2 * FULL_SIZE_REACH)),
      levels: STACK_TAPS.full.map((_, i) => floats(i < topLevel ? 3 * bareStride(width) * stripRows : 0)),
      seconds: octaves.map((octave, i) => floats(3 * octave.stride * secondRows(stripRows, i + 1))),
      shown: floats(bareStride(width) * stripRows),
      field: planField(bareStride(width), stripRows, floats),
      blended: octaves.flatMap((octave) => [floats(3 * octave.stride), floats(3 * octave.stride)]),
      mixed: floats(3 * bareStride(width)),
      pointers: floats(32),
      weights: floats(32),
      table: floats(4 * MAX_LEVELS),
      range: floats(2),
    })),
    bytes: cursor,
  };
}

/** Standard deviation in pixels of the full blur of a recipe on a picture: half the aperture's radius. */
export function fullSigma(
  blur: { on: boolean; radius: number },
  picture: { width: number; height: number },
): number {
  return blur.on ? (blur.radius * diagonal(picture)) / 2 : 0;
}
