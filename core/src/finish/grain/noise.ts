import type { Size } from '../../focus/geometry';
import { type FrameFormat, isYuv } from '../../pixels/format';
import { fromLinear, toLinear } from '../../pixels/transfer';

/** Deviation of a picture's noise in coded values (1 is white), for 16 brightnesses from black to white. */
export type Noise = readonly number[];

/** Brightnesses that noise is measured for. */
export const NOISE_BINS = 16;
/** Fewer blocks of a brightness than this say nothing. */
const LEAST_BLOCKS = 40;
/** Blocks that are looked at, at most. */
const MOST_BLOCKS = 60_000;
/** A normal distribution's deviation is its median distance from the middle divided by this. */
const MEDIAN_OF_NORMAL = 0.6745;

/**
 * Measures a picture's own noise against its brightness: of every block of 2 x 2 pixels the diagonal detail
 * (a − b − c + d) / 2, which the picture itself hardly has, and the median of its size over all blocks of a brightness
 * (D. L. Donoho, I. M. Johnstone, "Ideal spatial adaptation by wavelet shrinkage", Biometrika 81, 1994: the deviation is
 * that median / 0.6745). A median, so that edges and texture do not count as long as they are the lesser part.
 */
export function measureNoise(bytes: Uint8Array, format: FrameFormat, { width, height }: Size): Noise {
  const luma = lumaOf(bytes, format, width);
  const found: number[][] = Array.from({ length: NOISE_BINS }, () => []);
  const blocks = Math.floor(width / 2) * Math.floor(height / 2);
  // A step that shares no factor with a row: all columns are met.
  const step = Math.max(1, Math.ceil(blocks / MOST_BLOCKS)) | 1;
  const across = Math.floor(width / 2);
  for (let i = 0; i < blocks; i += step) {
    const [x, y] = [(i % across) * 2, Math.floor(i / across) * 2];
    const [a, b, c, d] = [luma(x, y), luma(x + 1, y), luma(x, y + 1), luma(x + 1, y + 1)];
    const bright = (a + b + c + d) / 4;
    // What is clipped has lost its noise.
    if (bright < 0.01 || bright > 0.99) continue;
    found[Math.min(NOISE_BINS - 1, Math.floor(bright * NOISE_BINS))]!.push(Math.abs(a - b - c + d) / 2);
  }
  const bins = found.map((sizes) => (sizes.length < LEAST_BLOCKS ? null : median(sizes) / MEDIAN_OF_NORMAL));
  return smoothed(filledUp(bins));
}

/**
 * The noise of a source all of whose light is multiplied: what was as bright as a coded value is as bright as another one,
 * and its noise is steeper or flatter by the curve between both.
 */
export function noiseUnder(noise: Noise, light: number): Noise {
  if (light === 1) return noise;
  const step = 1 / (4 * NOISE_BINS);
  const came = (coded: number): number => fromLinear(toLinear(Math.max(0, coded)) / light);
  return noise.map((_, i) => {
    const coded = (i + 0.5) / NOISE_BINS;
    const slope = (2 * step) / Math.max(1e-6, came(coded + step) - came(coded - step));
    return noiseAt(noise, came(coded)) * slope;
  });
}

/** The noise of a coded value, between the middles of the brightnesses. */
function noiseAt(noise: Noise, coded: number): number {
  const place = Math.min(NOISE_BINS - 1, Math.max(0, coded * NOISE_BINS - 0.5));
  const i = Math.min(NOISE_BINS - 2, Math.floor(place));
  return noise[i]! + (place - i) * (noise[i + 1]! - noise[i]!);
}

function median(values: number[]): number {
  values.sort((a, b) => a - b);
  const middle = values.length >> 1;
  return values.length % 2 === 1 ? values[middle]! : (values[middle - 1]! + values[middle]!) / 2;
}

/** A brightness that nothing is known of takes what the nearest one has. */
function filledUp(bins: readonly (number | null)[]): Noise {
  return bins.map((value, i) => {
    if (value !== null) return value;
    for (let far = 1; far < bins.length; far++) {
      const near = bins[i - far] ?? bins[i + far] ?? null;
      if (near !== null) return near;
    }
    return 0;
  });
}

/** Noise goes smoothly with brightness; medians of few levels do not. */
function smoothed(bins: Noise): Noise {
  return bins.map((value, i) => (bins[i - 1] ?? value) / 4 + value / 2 + (bins[i + 1] ?? value) / 4);
}

/** Coded luma 0..1 of a pixel. */
function lumaOf(bytes: Uint8Array, format: FrameFormat, width: number): (x: number, y: number) => number {
  if (isYuv(format)) {
    const [black, span] = format.range === 'limited' ? [16, 219] : [0, 255];
    return (x, y) => (bytes[y * width + x]! - black) / span;
  }
  const { channels, bytes: size } = format;
  const samples = size === 1 ? bytes : new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.byteLength >> 1);
  const most = size === 1 ? 255 : 65535;
  return (x, y) => {
    const at = (y * width + x) * channels;
    return (0.2126 * samples[at]! + 0.7152 * samples[at + 1]! + 0.0722 * samples[at + 2]!) / most;
  };
}
