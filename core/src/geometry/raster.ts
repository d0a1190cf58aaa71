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
  /** Where it lies, if not just over the picture. */
  at?: Placement;
}

/**
 * Which part of a raster lies under a picture: the picture's corner, and its width and height, as places and steps on the
 * raster, all fractions of the raster's own width and height.
 */
export interface Placement {
  corner: readonly [number, number];
  across: readonly [number, number];
  down: readonly [number, number];
}

/** All of a raster lies under the picture. */
export const WHOLE_PLACEMENT: Placement = { corner: [0, 0], across: [1, 0], down: [0, 1] };

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

/** Bytes that a raster takes, its halvings too. */
export function rasterBytes({ levels }: Raster): number {
  return levels.reduce((sum, { samples }) => sum + samples.byteLength, 0);
}

/** Half the size each way, rounded up; every sample is the mean of what it covers of the samples before. */
function halved({ width, height, samples }: RasterLevel): RasterLevel {
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const out = sharedSamples(w * h);
  if (width === 2 * w && height === 2 * h) {
    for (let y = 0, to = 0; y < h; y++)
      for (let x = 0, at = 2 * y * width; x < w; x++, to++, at += 2)
        out[to] =
          (samples[at]! + samples[at + 1]! + samples[at + width]! + samples[at + width + 1]!) / 4 + 0.5;
    return { width: w, height: h, samples: out };
  }
  const [across, down] = [covers(width, w), covers(height, h)];
  for (let y = 0; y < h; y++) {
    const rows = down(y);
    for (let x = 0; x < w; x++) {
      let sum = 0;
      for (const [row, tall] of rows)
        for (const [column, wide] of across(x)) sum += tall * wide * samples[row * width + column]!;
      out[y * w + x] = Math.round(sum);
    }
  }
  return { width: w, height: h, samples: out };
}

/** Which of `from` samples each of `to` covers, and the share of each: of an odd number the outer ones in part. */
function covers(
  from: number,
  to: number,
): (i: number) => readonly (readonly [index: number, share: number])[] {
  const step = from / to;
  const list = Array.from({ length: to }, (_, i) => {
    const [start, end] = [i * step, (i + 1) * step];
    const parts: [number, number][] = [];
    for (let k = Math.floor(start); k < Math.min(from, Math.ceil(end - 1e-9)); k++)
      parts.push([k, (Math.min(k + 1, end) - Math.max(k, start)) / step]);
    return parts;
  });
  return (i) => list[i]!;
}

/** A raster that lies under another picture: `placement` says where that picture lies on the one it lay under before. */
export function withPlacement(raster: Raster, key: string, placement: Placement): Raster {
  const { at } = raster;
  const id = `${raster.id} ${key}`;
  if (!at) return { ...raster, id, at: placement };
  const step = ([x, y]: readonly [number, number]): [number, number] => [
    x * at.across[0] + y * at.down[0],
    x * at.across[1] + y * at.down[1],
  ];
  const corner = placed(raster, ...placement.corner);
  return { ...raster, id, at: { corner, across: step(placement.across), down: step(placement.down) } };
}

/** Longest level that is searched for an outline's bounds. */
const BOUNDS_EDGE = 400;

/** The box around all that is at least half, as fractions of a raster's width and height; null where nothing is. */
export function rasterBounds({
  levels,
}: Raster): { left: number; top: number; right: number; bottom: number } | null {
  const level = levels.find(({ width, height }) => Math.max(width, height) <= BOUNDS_EDGE) ?? levels.at(-1)!;
  const { width, height, samples } = level;
  const box = { left: width, top: height, right: 0, bottom: 0 };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if (samples[y * width + x]! >= 32768) {
        box.left = Math.min(box.left, x);
        box.right = Math.max(box.right, x + 1);
        box.top = Math.min(box.top, y);
        box.bottom = y + 1;
      }
  if (box.right === 0) return null;
  return {
    left: box.left / width,
    top: box.top / height,
    right: box.right / width,
    bottom: box.bottom / height,
  };
}

/** The lowest place that is at least half, in the middle of its row, as fractions; the middle of the lower edge where nothing is. */
export function rasterFoot({ levels }: Raster): [number, number] {
  const level = levels.find(({ width, height }) => Math.max(width, height) <= BOUNDS_EDGE) ?? levels.at(-1)!;
  const { width, height, samples } = level;
  for (let y = height - 1; y >= 0; y--) {
    let [first, last] = [-1, -1];
    for (let x = 0; x < width; x++)
      if (samples[y * width + x]! >= 32768) [first, last] = [first < 0 ? x : first, x];
    if (first >= 0) return [(first + last + 1) / 2 / width, (y + 0.5) / height];
  }
  return [0.5, 1];
}

/** The smallest level that has a sample for each pixel of a picture it lies under; the full one where none has. */
export function mipLevelFor({ levels, at = WHOLE_PLACEMENT }: Raster, pictureWidth: number): RasterLevel {
  const [x, y] = at.across;
  const isEnough = ({ width, height }: RasterLevel): boolean =>
    Math.hypot(x * width, y * height) >= pictureWidth;
  return levels.filter(isEnough).at(-1) ?? levels[0];
}

/** The place on a raster under a place of the picture, both as fractions. */
function placed(
  { at: { corner, across, down } = WHOLE_PLACEMENT }: Raster,
  fx: number,
  fy: number,
): [number, number] {
  return [corner[0] + fx * across[0] + fy * down[0], corner[1] + fx * across[1] + fy * down[1]];
}

/** The value under a place of the picture that a raster lies under, given as fractions of the picture. */
export function rasterAt(raster: Raster, fx: number, fy: number): number {
  return sampleRaster(raster.levels[0], ...placed(raster, fx, fy));
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
 * The same as `rasterAt`, with what a row shares taken out of the loop.
 */
export function sampleRow(
  raster: Raster,
  picture: { width: number; height: number },
  x: number,
  y: number,
  gain: number,
  lift: number,
  out: Float32Array,
): void {
  const { across } = raster.at ?? WHOLE_PLACEMENT;
  const level = mipLevelFor(raster, picture.width);
  const start = placed(raster, (x + 0.5) / picture.width, (y + 0.5) / picture.height);
  const step = [across[0] / picture.width, across[1] / picture.width] as const;
  if (step[1] === 0) sampleAlong(level, start, step[0], gain, lift, out);
  else
    for (let i = 0; i < out.length; i++)
      out[i] = sampleRaster(level, start[0] + i * step[0], start[1] + i * step[1]) * gain + lift;
}

/** Samples of one row of a level, from a place on: the rows between which it lies are the same for all. */
function sampleAlong(
  level: RasterLevel,
  start: readonly [number, number],
  by: number,
  gain: number,
  lift: number,
  out: Float32Array,
): void {
  const { width, height, samples } = level;
  const fy = Math.min(height - 1, Math.max(0, start[1] * height - 0.5));
  const y0 = Math.floor(fy);
  const ty = fy - y0;
  const top = y0 * width;
  const bottom = Math.min(y0 + 1, height - 1) * width;
  const step = by * width;
  const scale = gain / 65535;
  let at = start[0] * width - 0.5;
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
