import { type Region, type Size, reflect } from '../geometry/size';
import { Arena, type Rows, type KernelContext, padded, rowAddress, sampleAddress } from '../memory';
import { type FrameFormat, type PixelFormat, type PlaneLayout, isYuv, sameFormat } from './format';
import { codecFor } from './codec';
import { DECODED_ROW, ROWS_HELD, rowReader } from './source-rows';

/** Part of a picture made smaller (or as it is) in linear light. */
export interface ScaleTask {
  /** How the source's pixels lie, and how the target's. */
  from: FrameFormat;
  to: PixelFormat;
  source: SharedArrayBuffer;
  sourceSize: Size;
  /** The part of the source that is scaled, in its pixels or parts of them; all of it where nothing is said. */
  part?: Size & { x: number; y: number };
  /** `region.picture` is the size of that part after scaling; the region is cut out of it. */
  region: Region;
  target: SharedArrayBuffer;
  /** Byte offset of the region's first pixel in the target. */
  offset: number;
  /** Rows of the region that are made, the last not included. */
  rows: readonly [number, number];
}

interface Taps {
  first: Int32Array;
  weights: Float32Array;
  count: number;
}

/** Taps along a row come in whole vectors. */
const VECTOR = 4;

/** Samples along one direction: n from `from` on, each `ratio` samples of the source long, the first at `start`. */
interface Along {
  n: number;
  from: number;
  start: number;
  ratio: number;
  vector: number;
}

let last: { of: Along; taps: Taps }[] = [];

/**
 * Catmull-Rom weights of output samples, widened to span what each stands for; so many that they fill vectors. Those of
 * the last pictures are kept: frames of footage are all alike.
 */
function taps(of: Along): Taps {
  const isSame = (a: Along): boolean =>
    a.n === of.n &&
    a.from === of.from &&
    a.start === of.start &&
    a.ratio === of.ratio &&
    a.vector === of.vector;
  const known = last.find((one) => isSame(one.of));
  if (known) return known.taps;
  const made = makeTaps(of);
  last = [{ of, taps: made }, ...last.slice(0, 3)];
  return made;
}

function makeTaps({ n, from, start, ratio, vector }: Along): Taps {
  const count = tapCount(ratio, vector);
  const first = new Int32Array(n);
  const weights = new Float32Array(n * count);
  const spread = Math.max(1, ratio);
  for (let i = 0; i < n; i++) {
    const centre = start + (from + i + 0.5) * ratio - 0.5;
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
  inTables: number;
  outTables: number;
  /** A few rows of the source, see `RowReader`. */
  source: PlaneLayout[];
  target: PlaneLayout[];
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

function layout({ sourceSize, region, from, to }: ScaleShape, across: number, down: number): Layout {
  const arena = new Arena();
  const [input, output] = [codecFor(from), codecFor(to)];
  const rest = {
    inTables: input.tables(arena),
    outTables: output.tables(arena),
    source: input.layout({ width: sourceSize.width, height: ROWS_HELD }, arena),
    target: output.layout({ width: region.width, height: 1 }, arena),
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

const tapCount = (ratio: number, vector: number): number =>
  vector * Math.ceil((Math.ceil(4 * Math.max(1, ratio)) + 1) / vector);

type ScaleShape = Pick<ScaleTask, 'sourceSize' | 'part' | 'region' | 'from' | 'to'>;

const partOf = ({ part, sourceSize }: ScaleShape) => part ?? { x: 0, y: 0, ...sourceSize };

/** Bytes of scratch memory that `scaleRows` needs. */
export function scratchBytes(task: ScaleShape): number {
  const { width, height } = partOf(task);
  const { picture } = task.region;
  return layout(task, tapCount(width / picture.width, VECTOR), tapCount(height / picture.height, 1)).bytes;
}

/**
 * Scales rows of the region by a widened Catmull-Rom kernel (R. Keys, "Cubic convolution interpolation for digital image
 * processing", 1981) in linear light; where nothing is changed the bytes are copied.
 * @param use memory of its own of at least `scratchBytes`.
 */
export function scaleRows(use: KernelContext, task: ScaleTask): void {
  const { kernels, heap } = use;
  const { sourceSize, region, rows } = task;
  const { width } = region;
  const target = new Uint8Array(task.target, task.offset);
  const [first, end] = rows;
  const part = partOf(task);
  const isSameSize = part.width === region.picture.width && part.height === region.picture.height;
  const isWhole = Number.isInteger(part.x) && Number.isInteger(part.y);
  if (isSameSize && isWhole && !isYuv(task.from) && sameFormat(task.from, task.to)) {
    const source = new Uint8Array(task.source);
    const pixelBytes = task.from.channels * task.from.bytes;
    for (let y = first; y < end; y++) {
      const start = ((part.y + region.y + y) * sourceSize.width + part.x + region.x) * pixelBytes;
      target.set(source.subarray(start, start + width * pixelBytes), y * width * pixelBytes);
    }
    return;
  }
  const { picture } = region;
  const across = taps({
    n: width,
    from: region.x,
    start: part.x,
    ratio: part.width / picture.width,
    vector: VECTOR,
  });
  const down = taps({
    n: end - first,
    from: region.y + first,
    start: part.y,
    ratio: part.height / picture.height,
    vector: 1,
  });
  const [input, output] = [codecFor(task.from), codecFor(task.to)];
  const at = layout(task, across.count, down.count);
  input.fillTables(at.inTables, heap);
  output.fillTables(at.outTables, heap);
  const bringRow = rowReader(task.from, sourceSize, new Uint8Array(task.source), at.source, heap);
  // Only the columns that the region reads are decoded; the row starts at column `left`, an even one.
  const left = across.first[0]! & ~1;
  const span = across.first[width - 1]! + across.count - left;
  across.first.forEach((x, i) => heap.setInt32(at.first + 4 * i, x - left));
  heap.setFloats(at.weights, across.weights);
  const held = new Int32Array(down.count).fill(-1);
  const inside = { from: Math.max(0, left), to: Math.min(sourceSize.width, left + span) };
  const n = inside.to - inside.from;
  const row = (y: number): number => {
    const sourceY = reflect(y, sourceSize.height);
    const slot = sourceY % down.count;
    const out = rowAddress(at.ring, slot);
    if (held[slot] === sourceY) return out;
    held[slot] = sourceY;
    bringRow(sourceY, inside.from, n);
    const { linear } = at;
    const start = sampleAddress(linear.at, inside.from - left);
    input.decode(use, at.inTables, at.source, {
      at: start,
      planeBytes: linear.planeBytes,
      n,
      x: 0,
      y: DECODED_ROW,
    });
    kernels.mirrorRow(start, linear.planeBytes, 3, n, inside.from - left, left + span - inside.to);
    kernels.resampleRow(
      linear.at,
      linear.planeBytes,
      at.first,
      at.weights,
      across.count,
      out,
      at.ring.planeBytes,
      width,
    );
    return out;
  };
  for (let y = first; y < end; y++) {
    const i = y - first;
    for (let k = 0; k < down.count; k++) heap.setInt32(at.pointers + 4 * k, row(down.first[i]! + k));
    heap.setFloats(at.rowWeights, down.weights.subarray(i * down.count, (i + 1) * down.count));
    const { mixed, ring } = at;
    kernels.convolveColumns(
      at.pointers,
      at.rowWeights,
      down.count,
      ring.planeBytes,
      3,
      mixed.at,
      mixed.planeBytes,
      padded(width),
    );
    const run = { at: mixed.at, planeBytes: mixed.planeBytes, n: width, x: 0, y: 0 };
    output.encode(use, at.outTables, [run], at.target, region.x, region.y + y, null);
    const { at: from, rowBytes: rowBytes } = at.target[0]!;
    target.set(heap.bytes.subarray(from, from + rowBytes), y * rowBytes);
  }
}
