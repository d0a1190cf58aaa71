import { type Region, type Size, diagonal } from '../focus/geometry';
import { guidedLines } from '../matte/guided-filter';
import type { Plane } from '../matte/plane';
import { type FrameFormat, isYuv } from '../pixels/format';
import { linearTable, toLinear } from '../pixels/transfer';
import type { Recipe } from '../recipe/schema';
import { type Arena, type Heap, type Rows, type Run, type Use, rowAt } from '../render/arena';
import { type Triple, times, toOklab } from './oklab';
import { whiteMatrix } from './white';

/** Cells along the diagonal of the picture in which its surroundings are measured, and how many of them count as around. */
const CELLS = 180;
const RADIUS = 3;
/** Variance of lightness below which a neighbourhood is texture; above it lies an edge, which must get no halo. */
const FLAT = 0.003;
/** Pixels of a cell that are looked at, each way. */
const LOOKS = 3;

/** What of a look the lightness before clarity rests on. */
type Before = Pick<Recipe['colour'], 'exposure' | 'warmth' | 'tint' | 'contrast'>;

/**
 * Where the surroundings' lightness lies in memory: for each cell a line, slope x lightness + offset. Rows of two planes.
 */
export interface Surroundings {
  rows: Rows;
  /** Pixels of the region to a cell. */
  cell: number;
}

export function planSurroundings({ width, height, picture }: Region, arena: Arena): Surroundings {
  const cell = Math.max(1, Math.ceil(diagonal(picture) / CELLS));
  return { rows: arena.rows(Math.ceil(width / cell), Math.ceil(height / cell), 2), cell };
}

/**
 * Measures how light the surroundings of each place are, by a guided filter of the picture with itself (He, Sun, Tang
 * 2013, enlarged as in "Fast guided filter", 2015): smooth over texture, and stepping where the picture does.
 */
export function fillSurroundings(
  { rows, cell }: Surroundings,
  heap: Heap,
  bytes: Uint8Array,
  format: FrameFormat,
  size: Size,
  before: Before,
): void {
  const light = lightOf(bytes, format, size);
  const matrix = whiteMatrix(before);
  const values = new Float32Array(rows.width * rows.count);
  for (let i = 0; i < values.length; i++) {
    const [x0, y0] = [(i % rows.width) * cell, Math.floor(i / rows.width) * cell];
    let sum = 0;
    for (let k = 0; k < LOOKS * LOOKS; k++) {
      const x = Math.min(size.width - 1, x0 + Math.floor(((k % LOOKS) + 0.5) * (cell / LOOKS)));
      const y = Math.min(size.height - 1, y0 + Math.floor((Math.floor(k / LOOKS) + 0.5) * (cell / LOOKS)));
      sum += contrasted(toOklab(times(matrix, light(x, y)))[0], before.contrast);
    }
    values[i] = sum / (LOOKS * LOOKS);
  }
  const guide: Plane = { width: rows.width, height: rows.count, values };
  const { slope, offset } = guidedLines(guide, guide, RADIUS, FLAT);
  for (let y = 0; y < rows.count; y++) {
    const part = (plane: Plane): Float32Array => plane.values.subarray(y * rows.width, (y + 1) * rows.width);
    heap.setFloats(rowAt(rows, y), part(slope));
    heap.setFloats(rowAt(rows, y) + rows.plane, part(offset));
  }
}

/** Lightness of the grey of half the coded value, and what contrast adds; see the kernel `gradeRow`. */
const MIDDLE = 0.5982;
function contrasted(light: number, contrast: number): number {
  const inside = Math.min(1, light);
  const bend = inside * (1 - inside) * (inside - MIDDLE) - (light - inside) * (1 - MIDDLE);
  return light + contrast * 1.6 * bend;
}

const tables: Partial<Record<1 | 2, Float32Array>> = {};

/** Linear light of a pixel; of planes of luma and chroma the grey of the luma. */
function lightOf(bytes: Uint8Array, format: FrameFormat, { width }: Size): (x: number, y: number) => Triple {
  if (isYuv(format)) {
    const [black, span] = format.range === 'limited' ? [16, 219] : [0, 255];
    return (x, y) => {
      const grey = toLinear(Math.min(1, Math.max(0, (bytes[y * width + x]! - black) / span)));
      return [grey, grey, grey];
    };
  }
  const { channels, bytes: size } = format;
  const samples = size === 1 ? bytes : new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.byteLength >> 1);
  const linear = (tables[size] ??= linearTable(size));
  return (x, y) => {
    const at = (y * width + x) * channels;
    return [linear[samples[at]!]!, linear[samples[at + 1]!]!, linear[samples[at + 2]!]!];
  };
}

/** Contrast against the surroundings: lightness + amount x (lightness - the surroundings'). */
export function applyClarity(
  { kernels }: Use,
  { rows, cell }: Surroundings,
  amount: number,
  { at, plane, n, x, y }: Run,
): void {
  const down = Math.min(rows.count - 1, Math.max(0, (y + 0.5) / cell - 0.5));
  const top = Math.floor(down);
  kernels.clarityRow(
    at,
    plane,
    n,
    rowAt(rows, top),
    rowAt(rows, Math.min(rows.count - 1, top + 1)),
    rows.plane,
    rows.width,
    down - top,
    (x + 0.5) / cell - 0.5,
    1 / cell,
    amount,
  );
}
