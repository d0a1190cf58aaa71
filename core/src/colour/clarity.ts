import { type Region, type Size, diagonal } from '../geometry/size';
import { type Placement, WHOLE_PLACEMENT } from '../geometry/raster';
import { guidedCoefficients } from '../matte/guided-filter';
import type { GreyImage } from '../matte/grey-image';
import { type FrameFormat, isYuv } from '../pixels/format';
import { linearTable, toLinear } from '../pixels/transfer';
import type { Recipe } from '../recipe/schema';
import { type Arena, type Heap, type Rows, type Run, type KernelContext, rowAddress } from '../memory';
import { type Triple, ofConeRoots, times } from './oklab';
import { CONES_OF, type Primaries, product } from './primaries';
import { whiteBalanceMatrix } from './white-balance';

/** Cells along the diagonal of a source in which its surroundings are measured, and how many of them count as around. */
const CELLS = 180;
const RADIUS = 3;
/** Cells of a row or column, and one for what is left over. */
const MAX_CELLS = CELLS + 1;
/** Variance of lightness below which a neighbourhood is texture; above it lies an edge, which must get no halo. */
const FLAT = 0.003;
/** Pixels of a cell that are looked at, each way. */
const LOOKS = 3;

/** Mean light of the parts of a source. */
export interface Cells {
  columns: number;
  rows: number;
  /** So many cells the source is wide and high: the last of a row or column is not filled. */
  across: number;
  down: number;
  /** Linear red, green and blue of each cell, row by row. */
  light: Float32Array;
}

/** Measures the light of a source in cells. @param bytes its pixels, without gaps. */
export function measureCells(bytes: Uint8Array, format: FrameFormat, size: Size): Cells {
  const light = lightOf(bytes, format, size);
  const cell = Math.max(1, Math.ceil(diagonal(size) / CELLS));
  const [columns, rows] = [Math.ceil(size.width / cell), Math.ceil(size.height / cell)];
  const sums = new Float32Array(3 * columns * rows);
  for (let i = 0; i < columns * rows; i++) {
    const [x0, y0] = [(i % columns) * cell, Math.floor(i / columns) * cell];
    for (let k = 0; k < LOOKS * LOOKS; k++) {
      const x = Math.min(size.width - 1, x0 + Math.floor(((k % LOOKS) + 0.5) * (cell / LOOKS)));
      const y = Math.min(size.height - 1, y0 + Math.floor((Math.floor(k / LOOKS) + 0.5) * (cell / LOOKS)));
      const rgb = light(x, y);
      for (let c = 0; c < 3; c++) sums[3 * i + c]! += rgb[c]! / (LOOKS * LOOKS);
    }
  }
  return { columns, rows, across: size.width / cell, down: size.height / cell, light: sums };
}

/** What of a look the lightness before clarity rests on. */
type Before = Pick<Recipe['colour'], 'exposure' | 'warmth' | 'tint' | 'contrast'>;

/** Room for how light the surroundings are: for each cell a line, slope x lightness + offset, in rows of two planes. */
export function planSurroundings(arena: Arena): Rows {
  return arena.rows(MAX_CELLS, MAX_CELLS, 2);
}

/** The surroundings in memory, and how a picture's pixels lie on them: place (x, y) at `corner` + x `across` + y `down`, in cells. */
export interface LocalLightness {
  columns: number;
  rows: number;
  corner: readonly [number, number];
  across: readonly [number, number];
  down: readonly [number, number];
}

/** How the pixels of a region lie on the cells of its source. @param at which part of the source lies under the picture. */
export function placeLocalLightness(
  { columns, rows, across, down }: Cells,
  { x, y, picture }: Region,
  at: Placement = WHOLE_PLACEMENT,
): LocalLightness {
  const inCells = ([fx, fy]: readonly [number, number]): [number, number] => [fx * across, fy * down];
  const right = inCells(at.across).map((v) => v / picture.width) as [number, number];
  const below = inCells(at.down).map((v) => v / picture.height) as [number, number];
  const start = inCells(at.corner);
  // From middle to middle: of the first pixel of the region, and of the first cell.
  const corner = [0, 1].map((i) => start[i]! + (x + 0.5) * right[i]! + (y + 0.5) * below[i]! - 0.5);
  return { columns, rows, corner: corner as [number, number], across: right, down: below };
}

/**
 * Measures how light the surroundings of each place are, by a guided filter of the picture with itself (He, Sun, Tang
 * 2013, enlarged as in "Fast guided filter", 2015): smooth over texture, and stepping where the picture does.
 * @param light what all light is multiplied by before anything is measured. @param primaries of the light of the cells.
 */
export function measureLocalLightness(
  room: Rows,
  heap: Heap,
  { columns, rows, light: cells }: Cells,
  light: number,
  before: Before,
  primaries: Primaries,
): void {
  const { to } = CONES_OF[primaries];
  const matrix = product(to, whiteBalanceMatrix(before, primaries));
  const values = new Float32Array(columns * rows);
  for (let i = 0; i < values.length; i++) {
    const rgb: Triple = [cells[3 * i]! * light, cells[3 * i + 1]! * light, cells[3 * i + 2]! * light];
    const roots = times(matrix, rgb).map(Math.cbrt) as [number, number, number];
    values[i] = contrasted(ofConeRoots(roots)[0], before.contrast);
  }
  const guide: GreyImage = { width: columns, height: rows, values };
  const { slope, offset } = guidedCoefficients(guide, guide, RADIUS, FLAT);
  for (let y = 0; y < rows; y++) {
    const part = (plane: GreyImage): Float32Array => plane.values.subarray(y * columns, (y + 1) * columns);
    heap.setFloats(rowAddress(room, y), part(slope));
    heap.setFloats(rowAddress(room, y) + room.planeBytes, part(offset));
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
  use: KernelContext,
  room: Rows,
  { columns, rows, corner, across, down }: LocalLightness,
  amount: number,
  primaries: Primaries,
  { at, planeBytes, n, x, y }: Run,
): void {
  const { clarityRow, clarityRowP3 } = use.kernels;
  const surroundings = use.parameters('Surroundings', {
    cells: room.at,
    row: room.rowBytes,
    plane: room.planeBytes,
    columns,
    rows,
    dx: across[0],
    dy: across[1],
    amount,
  });
  const place = (i: 0 | 1): number => corner[i] + x * across[i] + y * down[i];
  const row = primaries === 'srgb' ? clarityRow : clarityRowP3;
  row(at, planeBytes, n, place(0), place(1), surroundings);
}
