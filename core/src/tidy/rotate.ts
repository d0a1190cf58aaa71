import { type Size, reflect } from '../geometry/size';
import type { FrameFormat, PixelFormat, PlaneLayout } from '../pixels/format';
import { codecFor } from '../pixels/codec';
import { DECODED_ROW, ROWS_HELD, rowReader } from '../pixels/source-rows';
import { Arena, type Rows, type KernelContext, rowAddress, sampleAddress } from '../memory';
import { type Vector, both } from './crop';

/** Part of a picture turned, in linear light; nothing is made larger or smaller. */
export interface TurnTask {
  from: FrameFormat;
  to: PixelFormat;
  source: SharedArrayBuffer;
  sourceSize: Size;
  /** The place in the source of the target's first corner, and the steps from a column or row of the target to the next. */
  corner: Vector;
  u: Vector;
  v: Vector;
  /** What is made: its size, and its place in the whole, with which the dither stays. */
  size: Size;
  place: Vector;
  target: SharedArrayBuffer;
  /** Byte offset of the first pixel in the target. */
  offset: number;
  /** Rows that are made, the last not included. */
  rows: readonly [number, number];
}

/** Side of the squares of the target that are made at a time: what they are made of fits into the second cache. */
const TILE = 64;
/** Samples that are read on either side of a place. */
const REACH = 3;
/** As the kernel has them. */
const [PHASES, PHASE_FLOATS, TAPS] = [256, 8, 6];

/** sinc(t) sinc(t / 3) for |t| < 3 (C. Lanczos's window; see K. Turkowski, "Filters for common resampling tasks", 1990). */
function lanczos(t: number): number {
  if (t === 0) return 1;
  if (Math.abs(t) >= REACH) return 0;
  const a = Math.PI * t;
  return (REACH * Math.sin(a) * Math.sin(a / REACH)) / (a * a);
}

/** For each phase the weights of the samples from two before a place on; together 1. */
const weights = (() => {
  const table = new Float32Array((PHASES + 1) * PHASE_FLOATS);
  for (let phase = 0; phase <= PHASES; phase++) {
    const own = Array.from({ length: TAPS }, (_, k) => lanczos(k - 2 - phase / PHASES));
    const total = own.reduce((a, b) => a + b, 0);
    own.forEach((w, k) => (table[phase * PHASE_FLOATS + k] = w / total));
  }
  return table;
})();

interface Layout {
  inTables: number;
  outTables: number;
  source: PlaneLayout[];
  target: PlaneLayout[];
  weights: number;
  /** The source's samples under a tile. */
  image: Rows;
  made: Rows;
  bytes: number;
}

type TurnShape = Pick<TurnTask, 'from' | 'to' | 'sourceSize' | 'size' | 'u' | 'v'>;

/** Columns and rows of the source that a tile may lie over. */
function spanOf({ u, v }: TurnShape): [number, number] {
  const span = (i: 0 | 1): number => Math.ceil(TILE * (Math.abs(u[i]) + Math.abs(v[i]))) + 12;
  return [span(0), span(1)];
}

function layout(task: TurnShape): Layout {
  const arena = new Arena();
  const [input, output] = [codecFor(task.from), codecFor(task.to)];
  const [columns, rows] = spanOf(task);
  const rest = {
    inTables: input.tables(arena),
    outTables: output.tables(arena),
    source: input.layout({ width: task.sourceSize.width, height: ROWS_HELD }, arena),
    target: output.layout({ width: task.size.width, height: TILE }, arena),
    weights: arena.floats(weights.length),
    image: arena.rows(columns, rows, 3),
    made: arena.rows(TILE, 1, 3),
  };
  return { ...rest, bytes: arena.bytes };
}

/** Bytes of scratch memory that `turnRows` needs. */
export function turnScratchBytes(task: TurnShape): number {
  return layout(task).bytes;
}

/**
 * Makes rows of a turned part by a windowed sinc; beyond its edges the source is mirrored. Where places fall on samples,
 * these come as they are.
 * @param use memory of its own of at least `turnScratchBytes`.
 */
export function turnRows(use: KernelContext, task: TurnTask): void {
  const { kernels, heap } = use;
  const { corner, u, v, size, place, sourceSize, rows } = task;
  const at = layout(task);
  const [input, output] = [codecFor(task.from), codecFor(task.to)];
  input.fillTables(at.inTables, heap);
  output.fillTables(at.outTables, heap);
  heap.setFloats(at.weights, weights);
  const bring = rowReader(task.from, sourceSize, new Uint8Array(task.source), at.source, heap);
  const target = new Uint8Array(task.target, task.offset);
  const { image, made } = at;
  const rowBytes = at.target[0]!.rowBytes;
  /** The place of a pixel's centre in samples: of the first sample's centre it is 0. */
  const placeOf = (x: number, y: number): [number, number] =>
    both((i) => corner[i] + (x + 0.5) * u[i] + (y + 0.5) * v[i] - 0.5);

  /** Brings what lies under pixels x0..x1 and y0..y1 into `image`; gives the source's column and row it begins at. */
  const fetch = (x0: number, x1: number, y0: number, y1: number): [number, number] => {
    const corners = [placeOf(x0, y0), placeOf(x1, y0), placeOf(x0, y1), placeOf(x1, y1)];
    const [left, top] = both((i) => Math.floor(Math.min(...corners.map((place) => place[i]))) - 2);
    const [last, lowest] = both((i) => Math.floor(Math.max(...corners.map((place) => place[i]))));
    // The kernel reads two more to the right than it weighs.
    const [right, bottom] = [last + REACH + 3, lowest + REACH + 1];
    // Halved chroma begins at even columns.
    const begin = left & ~1;
    const inside = {
      from: Math.min(sourceSize.width - 1, Math.max(0, begin)) & ~1,
      to: Math.max(1, Math.min(sourceSize.width, right)),
    };
    const n = inside.to - inside.from;
    for (let y = top; y < bottom; y++) {
      const start = sampleAddress(rowAddress(image, y - top), inside.from - begin);
      bring(reflect(y, sourceSize.height), inside.from, n);
      input.decode(use, at.inTables, at.source, {
        at: start,
        planeBytes: image.planeBytes,
        n,
        x: 0,
        y: DECODED_ROW,
      });
      kernels.mirrorRow(start, image.planeBytes, 3, n, inside.from - begin, Math.max(0, right - inside.to));
    }
    return [begin, top];
  };

  for (let y0 = rows[0]; y0 < rows[1]; y0 += TILE) {
    const y1 = Math.min(rows[1], y0 + TILE);
    for (let x0 = 0; x0 < size.width; x0 += TILE) {
      const n = Math.min(TILE, size.width - x0);
      const [left, top] = fetch(x0, x0 + n - 1, y0, y1 - 1);
      for (let y = y0; y < y1; y++) {
        const [px, py] = placeOf(x0, y);
        const run = { at: made.at, planeBytes: made.planeBytes, n, x: x0, y: y - y0 };
        const rotation = use.parameters('Rotation', {
          image: rowAddress(image, 0),
          row: image.rowBytes,
          plane: image.planeBytes,
          dx: u[0],
          dy: u[1],
          weights: at.weights,
        });
        kernels.rotateRow(rotation, px - left, py - top, n, run.at, run.planeBytes);
        output.encode(use, at.outTables, [run], at.target, place[0] + x0, place[1] + y, null);
      }
    }
    const from = at.target[0]!.at;
    target.set(heap.bytes.subarray(from, from + (y1 - y0) * rowBytes), y0 * rowBytes);
  }
}
