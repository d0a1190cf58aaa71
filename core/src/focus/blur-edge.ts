import type { FieldFunction } from './field-function';
import type { Size } from '../geometry/size';

export type EdgeHardness = 'soft' | 'firm' | 'hard edge';

/** Where the blur of a field sets in most steeply. */
export interface BlurEdge {
  /** Growth of the blur's radius, in pixels per pixel of picture. */
  rise: number;
  /** The place, in pixels of the picture. */
  at: [number, number];
  grade: EdgeHardness;
}

/** A rise from here on is firm; it can be seen where it starts. */
export const FIRM_RISE = 0.12;
/** A rise from here on looks cut out: the blur grows by a third of a pixel with every pixel. */
export const CUT_RISE = 0.35;

export function edgeHardness(rise: number): EdgeHardness {
  return rise >= CUT_RISE ? 'hard edge' : rise >= FIRM_RISE ? 'firm' : 'soft';
}

/** Values of a field at the centres of the cells of an even grid over a picture. */
export interface FieldGrid {
  columns: number;
  rows: number;
  values: ArrayLike<number>;
}

const CANDIDATES = 16;

/**
 * The steepest rise of the blur, |∇H| x radius. The grid shows between which neighbours haze changes most; there the
 * field itself is halved again and again towards the greater change, down to one pixel.
 */
export function steepestBlurEdge(
  field: FieldFunction,
  grid: FieldGrid,
  size: Size,
  radiusPx: number,
): BlurEdge {
  const { columns, rows, values } = grid;
  const [dx, dy] = [size.width / columns, size.height / rows];
  // The steepest few steps between neighbours, the steepest first.
  const steps = Array.from({ length: CANDIDATES }, () => ({ i: 0, across: false, change: 0 }));
  const consider = (i: number, across: boolean, change: number): void => {
    if (change <= steps[CANDIDATES - 1]!.change) return;
    let k = CANDIDATES - 1;
    const slot = steps[k]!;
    for (; k > 0 && steps[k - 1]!.change < change; k--) steps[k] = steps[k - 1]!;
    steps[k] = Object.assign(slot, { i, across, change });
  };
  for (let y = 0; y < rows; y++)
    for (let x = 0; x < columns; x++) {
      const i = y * columns + x;
      const own = values[i]!;
      if (x + 1 < columns) consider(i, true, Math.abs(values[i + 1]! - own) / dx);
      if (y + 1 < rows) consider(i, false, Math.abs(values[i + columns]! - own) / dy);
    }
  let best: { slope: number; at: [number, number] } = { slope: 0, at: [size.width / 2, size.height / 2] };
  for (const { i, across, change } of steps) {
    if (change === 0) break;
    const [x, y] = [((i % columns) + 0.5) * dx, (Math.floor(i / columns) + 0.5) * dy];
    const at = across
      ? ([steepestBetween((t) => field(t, y), x, x + dx), y] as [number, number])
      : ([x, steepestBetween((t) => field(x, t), y, y + dy)] as [number, number]);
    const slope = Math.hypot(
      field(at[0] + 0.5, at[1]) - field(at[0] - 0.5, at[1]),
      field(at[0], at[1] + 0.5) - field(at[0], at[1] - 0.5),
    );
    if (slope > best.slope) best = { slope, at };
  }
  const rise = best.slope * radiusPx;
  return { rise, at: best.at, grade: edgeHardness(rise) };
}

/** Where a function of one variable changes most between two places, to within a pixel. */
function steepestBetween(f: (t: number) => number, from: number, to: number): number {
  let [low, high] = [from, to];
  let [atLow, atHigh] = [f(low), f(high)];
  while (high - low > 1) {
    // Three halves that overlap: the steepest place may lie in the middle.
    const quarter = (high - low) / 4;
    const inner = [low + quarter, low + 2 * quarter, low + 3 * quarter].map((t) => [t, f(t)] as const);
    const ends = [[low, atLow], ...inner, [high, atHigh]] as const;
    let pick = 0;
    for (let k = 1; k < 3; k++)
      if (Math.abs(ends[k + 2]![1] - ends[k]![1]) > Math.abs(ends[pick + 2]![1] - ends[pick]![1])) pick = k;
    [low, atLow] = ends[pick]!;
    [high, atHigh] = ends[pick + 2]!;
  }
  return (low + high) / 2;
}
