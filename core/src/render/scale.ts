import { linearTable } from '../colour/transfer';
import type { Region, Size } from '../focus/geometry';
import type { Kernels } from '../kernels';
import { MARGIN, bareStride, paddedStride } from './plan';
import { reflect } from './strip';

/** Part of a picture made smaller (or as it is) in linear light; 8-bit RGBA in and out. */
export interface ScaleTask {
  source: SharedArrayBuffer;
  sourceSize: Size;
  /** `region.picture` is the size of the whole after scaling; the region is cut out of that. */
  region: Region;
  target: SharedArrayBuffer;
  /** Byte offset of the region's first pixel in the target. */
  offset: number;
  from: number;
  to: number;
}

interface Taps {
  first: Int32Array;
  weights: Float32Array;
  count: number;
}

/** Catmull-Rom weights for n output samples from `from` on, at `ratio` source samples each, widened to span them. */
function taps(n: number, from: number, ratio: number): Taps {
  const count = Math.ceil(4 * Math.max(1, ratio)) + 1;
  const first = new Int32Array(n);
  const weights = new Float32Array(n * count);
  const spread = Math.max(1, ratio);
  for (let i = 0; i < n; i++) {
    const centre = (from + i + 0.5) * ratio - 0.5;
    first[i] = Math.ceil(centre - 2 * spread);
    const own = Array.from({ length: count }, (_, k) => catmullRom((first[i]! + k - centre) / spread));
    const total = own.reduce((a, b) => a + b, 0);
    own.forEach((w, k) => (weights[i * count + k] = w / total));
  }
  return { first, weights, count };
}

function catmullRom(t: number): number {
  const x = Math.abs(t);
  if (x < 1) return 1.5 * x ** 3 - 2.5 * x ** 2 + 1;
  return x < 2 ? -0.5 * x ** 3 + 2.5 * x ** 2 - 4 * x + 2 : 0;
}

interface Layout {
  table: number;
  bytes: number;
  linear: number;
  first: number;
  weights: number;
  ring: number;
  mixed: number;
  pointers: number;
  rowWeights: number;
  total: number;
}

function layout(task: Pick<ScaleTask, 'sourceSize' | 'region'>, across: number, down: number): Layout {
  const { region, sourceSize } = task;
  let cursor = 64;
  const take = (bytes: number): number => {
    const at = cursor;
    cursor = (cursor + bytes + 63) & ~63;
    return at;
  };
  const margin = 8 * across;
  return {
    table: take(1024),
    bytes: take(sourceSize.width * 4),
    linear: take((sourceSize.width + margin) * 3 * 4 + 3 * MARGIN * 4),
    first: take(region.width * 4),
    weights: take(region.width * across * 4),
    ring: take(3 * bareStride(region.width) * 4 * down),
    mixed: take(3 * bareStride(region.width) * 4),
    pointers: take(down * 4),
    rowWeights: take(down * 4),
    total: cursor,
  };
}

const tapCount = (from: number, to: number): number => Math.ceil(4 * Math.max(1, from / to)) + 1;

/** Bytes of scratch memory that `scaleRows` needs. */
export function scratchBytes(task: Pick<ScaleTask, 'sourceSize' | 'region'>): number {
  const { sourceSize, region } = task;
  return layout(
    task,
    tapCount(sourceSize.width, region.picture.width),
    tapCount(sourceSize.height, region.picture.height),
  ).total;
}

/**
 * Fills rows from..to of the region in the target. A region of the source's own size is copied byte for byte.
 * `scratch` is the memory of the kernels, at least `scratchBytes`.
 */
export function scaleRows(kernels: Kernels, scratch: WebAssembly.Memory, task: ScaleTask): void {
  const { region, sourceSize } = task;
  const source = new Uint8Array(task.source);
  const target = new Uint8Array(task.target, task.offset);
  const { width } = region;
  if (region.picture.width === sourceSize.width && region.picture.height === sourceSize.height) {
    for (let y = task.from; y < task.to; y++) {
      const at = ((region.y + y) * sourceSize.width + region.x) * 4;
      target.set(source.subarray(at, at + width * 4), y * width * 4);
    }
    return;
  }
  const across = taps(width, region.x, sourceSize.width / region.picture.width);
  const down = taps(task.to - task.from, region.y + task.from, sourceSize.height / region.picture.height);
  const at = layout(task, across.count, down.count);
  // Only the columns that the region reads are decoded; the row starts at column `left`.
  const left = across.first[0]!;
  const span = across.first[width - 1]! + across.count - left;
  const stride = paddedStride(span);
  const bytes = new Uint8Array(scratch.buffer);
  const floats = new Float32Array(scratch.buffer);
  const words = new Int32Array(scratch.buffer);
  floats.set(linearTable(1), at.table >> 2);
  words.set(
    across.first.map((x) => x - left),
    at.first >> 2,
  );
  floats.set(across.weights, at.weights >> 2);
  const plane = bareStride(width) * 4;
  const held = new Int32Array(down.count).fill(-1);
  const inside = { from: Math.max(0, left), to: Math.min(sourceSize.width, left + span) };
  const row = (y: number): number => {
    const sourceY = reflect(y, sourceSize.height);
    const slot = sourceY % down.count;
    const out = at.ring + slot * 3 * plane;
    if (held[slot] === sourceY) return out;
    held[slot] = sourceY;
    const start = (sourceY * sourceSize.width + inside.from) * 4;
    bytes.set(source.subarray(start, start + (inside.to - inside.from) * 4), at.bytes);
    const linear = at.linear + MARGIN * 4;
    const shift = (inside.from - left) * 4;
    const n = inside.to - inside.from;
    kernels.decodeRow(at.bytes, 4, 1, at.table, linear + shift, stride * 4, n);
    kernels.mirrorRow(linear + shift, stride * 4, n, inside.from - left, left + span - inside.to);
    kernels.resampleRow(linear, stride * 4, at.first, at.weights, across.count, out, plane, width);
    return out;
  };
  for (let y = task.from; y < task.to; y++) {
    const i = y - task.from;
    const rows = Array.from({ length: down.count }, (_, k) => row(down.first[i]! + k));
    words.set(rows, at.pointers >> 2);
    floats.set(down.weights.subarray(i * down.count, (i + 1) * down.count), at.rowWeights >> 2);
    kernels.weighRows(at.pointers, at.rowWeights, down.count, at.mixed, (3 * plane) / 4);
    kernels.encodeRow8(at.mixed, plane, 0, false, 0, 4, at.bytes, width, region.x, region.y + y);
    target.set(bytes.subarray(at.bytes, at.bytes + width * 4), y * width * 4);
  }
}
