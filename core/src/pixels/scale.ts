import { type Region, type Size, reflect } from '../focus/geometry';
import { Arena, type Rows, type Use, padded, rowAt, sampleAt } from '../render/arena';
import { type PixelFormat, type Plane, pixelsOf } from './format';

/** Part of a picture made smaller (or as it is) in linear light; the same format in and out. */
export interface ScaleTask {
  format: PixelFormat;
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

/** Where the work lies in scratch memory. */
interface Layout {
  tables: number;
  source: Plane[];
  target: Plane[];
  linear: Rows;
  first: number;
  weights: number;
  /** Rows resized along, as many as are weighed together across. */
  ring: Rows;
  mixed: Rows;
  pointers: number;
  rowWeights: number;
  bytes: number;
}

function layout({ sourceSize, region, format }: ScaleShape, across: number, down: number): Layout {
  const arena = new Arena();
  const pixels = pixelsOf(format);
  const rest = {
    tables: pixels.tables(arena),
    source: pixels.layout({ width: sourceSize.width, height: 1 }, arena),
    target: pixels.layout({ width: region.width, height: 1 }, arena),
    linear: arena.rows(sourceSize.width + 8 * across, 1, 3),
    first: arena.floats(region.width),
    weights: arena.floats(region.width * across),
    ring: arena.rows(region.width, down, 3),
    mixed: arena.rows(region.width, 1, 3),
    pointers: arena.floats(down),
    rowWeights: arena.floats(down),
  };
  return { ...rest, bytes: arena.bytes };
}

const tapCount = (from: number, to: number): number => Math.ceil(4 * Math.max(1, from / to)) + 1;

type ScaleShape = Pick<ScaleTask, 'sourceSize' | 'region' | 'format'>;

/** Bytes of scratch memory that `scaleRows` needs. */
export function scratchBytes(task: ScaleShape): number {
  const { sourceSize, region } = task;
  return layout(
    task,
    tapCount(sourceSize.width, region.picture.width),
    tapCount(sourceSize.height, region.picture.height),
  ).bytes;
}

/**
 * Scales rows from..to of the region by a widened Catmull-Rom kernel (R. Keys, "Cubic convolution interpolation for
 * digital image processing", 1981) in linear light; where nothing is scaled the bytes are copied.
 * @param use memory of its own of at least `scratchBytes`.
 */
export function scaleRows({ kernels, heap }: Use, task: ScaleTask): void {
  const { sourceSize, region, format } = task;
  const { width } = region;
  const pixelBytes = format.channels * format.bytes;
  const source = new Uint8Array(task.source);
  const target = new Uint8Array(task.target, task.offset);
  if (sourceSize.width === region.picture.width && sourceSize.height === region.picture.height) {
    for (let y = task.from; y < task.to; y++) {
      const start = ((region.y + y) * sourceSize.width + region.x) * pixelBytes;
      target.set(source.subarray(start, start + width * pixelBytes), y * width * pixelBytes);
    }
    return;
  }
  const across = taps(width, region.x, sourceSize.width / region.picture.width);
  const down = taps(task.to - task.from, region.y + task.from, sourceSize.height / region.picture.height);
  const pixels = pixelsOf(format);
  const at = layout(task, across.count, down.count);
  pixels.fillTables(at.tables, heap);
  // Only the columns that the region reads are decoded; the row starts at column `left`.
  const left = across.first[0]!;
  const span = across.first[width - 1]! + across.count - left;
  across.first.forEach((x, i) => heap.setWord(at.first + 4 * i, x - left));
  heap.setFloats(at.weights, across.weights);
  const held = new Int32Array(down.count).fill(-1);
  const inside = { from: Math.max(0, left), to: Math.min(sourceSize.width, left + span) };
  const n = inside.to - inside.from;
  const row = (y: number): number => {
    const sourceY = reflect(y, sourceSize.height);
    const slot = sourceY % down.count;
    const out = rowAt(at.ring, slot);
    if (held[slot] === sourceY) return out;
    held[slot] = sourceY;
    const start = (sourceY * sourceSize.width + inside.from) * pixelBytes;
    heap.bytes.set(source.subarray(start, start + n * pixelBytes), at.source[0]!.at);
    const { linear } = at;
    const first = sampleAt(linear.at, inside.from - left);
    pixels.decode(kernels, at.tables, at.source, { at: first, plane: linear.plane, n, x: 0, y: 0 });
    kernels.mirrorRow(first, linear.plane, n, inside.from - left, left + span - inside.to);
    kernels.resampleRow(
      linear.at,
      linear.plane,
      at.first,
      at.weights,
      across.count,
      out,
      at.ring.plane,
      width,
    );
    return out;
  };
  for (let y = task.from; y < task.to; y++) {
    const i = y - task.from;
    for (let k = 0; k < down.count; k++) heap.setWord(at.pointers + 4 * k, row(down.first[i]! + k));
    heap.setFloats(at.rowWeights, down.weights.subarray(i * down.count, (i + 1) * down.count));
    const { mixed, ring } = at;
    kernels.weighRows(
      at.pointers,
      at.rowWeights,
      down.count,
      ring.plane,
      mixed.at,
      mixed.plane,
      padded(width),
    );
    const run = { at: mixed.at, plane: mixed.plane, n: width, x: 0, y: 0 };
    pixels.encode(kernels, run, at.target, region.x, region.y + y, null);
    const { at: from, row: rowBytes } = at.target[0]!;
    target.set(heap.bytes.subarray(from, from + rowBytes), y * rowBytes);
  }
}
