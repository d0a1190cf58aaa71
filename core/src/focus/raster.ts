/** Samples 0..65535 of one size of a grey picture. */
export interface RasterLevel {
  width: number;
  height: number;
  samples: Uint16Array;
}

/**
 * A grey picture that spans the whole picture it belongs to: 16 bits, its halvings beside it, so that a small view
 * reads averages. The samples lie in shared memory: workers are sent it without a copy.
 */
export interface Raster {
  /** The same for the same samples. */
  id: string;
  /** The picture, then each half the size of the one before. */
  levels: readonly [RasterLevel, ...RasterLevel[]];
}

const SMALLEST = 64;

/** Memory for so many samples that workers can be sent without a copy. */
export function sharedSamples(count: number): Uint16Array<SharedArrayBuffer> {
  return new Uint16Array(new SharedArrayBuffer(count * 2));
}

/** A raster from samples, row by row; they are copied into shared memory unless they lie there already. */
export function makeRaster(id: string, width: number, height: number, samples: Uint16Array): Raster {
  let full: Uint16Array = samples;
  if (!(samples.buffer instanceof SharedArrayBuffer)) {
    full = sharedSamples(samples.length);
    full.set(samples);
  }
  const levels: [RasterLevel, ...RasterLevel[]] = [{ width, height, samples: full }];
  for (let last = levels[0]; Math.min(last.width, last.height) > SMALLEST;) {
    last = halved(last);
    levels.push(last);
  }
  return { id, levels };
}

/** Half the size each way; every sample is the mean of four. */
function halved({ width, height, samples }: RasterLevel): RasterLevel {
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const out = sharedSamples(w * h);
  for (let y = 0; y < h; y++) {
    const top = 2 * y * width;
    const bottom = Math.min(2 * y + 1, height - 1) * width;
    for (let x = 0; x < w; x++) {
      const [left, right] = [2 * x, Math.min(2 * x + 1, width - 1)];
      const sum =
        samples[top + left]! + samples[top + right]! + samples[bottom + left]! + samples[bottom + right]!;
      out[y * w + x] = (sum + 2) >> 2;
    }
  }
  return { width: w, height: h, samples: out };
}

/** The smallest level that is at least as wide as a picture; the full one where none is. */
export function levelFor(raster: Raster, pictureWidth: number): RasterLevel {
  return raster.levels.filter((level) => level.width >= pictureWidth).at(-1) ?? raster.levels[0];
}

/** The value, 0..1, at a place given as fractions of the width and height; bilinear between sample centres. */
export function sampleRaster({ width, height, samples }: RasterLevel, fx: number, fy: number): number {
  const x = Math.min(width - 1, Math.max(0, fx * width - 0.5));
  const y = Math.min(height - 1, Math.max(0, fy * height - 0.5));
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [x1, y1] = [Math.min(x0 + 1, width - 1), Math.min(y0 + 1, height - 1)];
  const [tx, ty] = [x - x0, y - y0];
  const top = samples[y0 * width + x0]! * (1 - tx) + samples[y0 * width + x1]! * tx;
  const bottom = samples[y1 * width + x0]! * (1 - tx) + samples[y1 * width + x1]! * tx;
  return (top * (1 - ty) + bottom * ty) / 65535;
}

/**
 * n samples of a row of a region: value x gain + lift, at pixel centres (x + i, y) of a picture of the given size.
 * The same as `sampleRaster`, with what a row shares taken out of the loop.
 */
export function sampleRow(
  level: RasterLevel,
  picture: { width: number; height: number },
  x: number,
  y: number,
  gain: number,
  lift: number,
  out: Float32Array,
): void {
  const { width, height, samples } = level;
  const fy = Math.min(height - 1, Math.max(0, ((y + 0.5) / picture.height) * height - 0.5));
  const y0 = Math.floor(fy);
  const ty = fy - y0;
  const top = y0 * width;
  const bottom = Math.min(y0 + 1, height - 1) * width;
  const step = width / picture.width;
  const scale = gain / 65535;
  let at = (x + 0.5) * step - 0.5;
  for (let i = 0; i < out.length; i++, at += step) {
    const fx = at < 0 ? 0 : at > width - 1 ? width - 1 : at;
    const x0 = fx | 0;
    const x1 = x0 + 1 < width ? x0 + 1 : x0;
    const tx = fx - x0;
    const a = samples[top + x0]! + (samples[top + x1]! - samples[top + x0]!) * tx;
    const b = samples[bottom + x0]! + (samples[bottom + x1]! - samples[bottom + x0]!) * tx;
    out[i] = (a + (b - a) * ty) * scale + lift;
  }
}
