import { type Size, diagonal } from '../geometry/size';
import type { GreyImage } from '../matte/grey-image';

/*
 * What a picture is like for a miniature look, measured on its luma. What stands upright in the world points to one place of
 * the picture, the vanishing point of verticals: the steeper the view looks down, the nearer below the picture it lies. It is
 * found by a vote of all edges (S. Barnard, "Interpreting perspective images", Artificial Intelligence 21, 1983).
 */

/** Long edge, in pixels, at which a picture is read. */
export const SCENE_LONG_EDGE_PX = 960;

/** What is read of a picture. */
export interface SceneReading {
  /** How far the view looks down, in degrees, for a normal lens; null where too little stands upright to tell. */
  down: number | null;
  /** Where the horizon is by that, as a fraction of the height from the top: negative above the picture; null as `down`. */
  horizon: number | null;
  /** Share of the picture that has detail, 0..1. */
  detail: number;
  /** The tallest upright edge; null where `down` is. */
  tallest: Upright | null;
  /** The row that has most detail, away from the edges, as a fraction of the height. */
  row: number;
}

/** A view that looks down by fewer degrees is so low that whatever stands upright stands across the plane. */
const LOW = 9;
/** From so steeply above what stands upright is seen from its top. */
export const TOP_DOWN_DEG = 58;
/** Share of the height from which something upright stands across the plane. */
const TALL = 0.3;

/** Which uprights cross the focus plane: nothing, something tall, or all that stands. */
export function uprightsAcrossFocus({ down, tallest }: SceneReading): 'nothing' | 'something' | 'all' {
  if (down !== null && down < LOW) return 'all';
  if (down !== null && down > TOP_DOWN_DEG) return 'nothing';
  return tallest && tallest.to - tallest.from >= TALL ? 'something' : 'nothing';
}

/** Something upright, in fractions of the picture. */
export interface Upright {
  /** Where it stands, of the width. */
  at: number;
  /** Where it begins and ends, of the height. */
  from: number;
  to: number;
}

/** A normal lens sees so much of the height, in degrees. */
const NORMAL_FOV = 45;
const DEGREE = Math.PI / 180;
/** Where the horizon is, as a fraction of the height, of a view that looks down as one looks at a model, by 25 degrees. */
export const ASSUMED_HORIZON = 0.5 - Math.tan(25 * DEGREE) / (2 * Math.tan((NORMAL_FOV / 2) * DEGREE));
/** Rounds of smoothing: noise is no edge then, and a sharp slanting one has no steps, each of which would point straight down. */
const SMOOTHINGS = 3;
/** Change of luma across two pixels from which there is an edge, and from which a stronger one says no more. */
const EDGE = 0.1;
const FULL = 0.5;
/** Views that are tried: from looking up a little to straight down. */
const LOWEST = -20;
const STEEPEST = 90;
const STEP = 2;
/** An edge that points so near to a vanishing point, in degrees, may be upright. */
const TOLERANCE = 2;
/** Least ratio of the best vote to the mean vote: below, nothing upright tells. */
const MIN_VOTE_RATIO = 1.25;
/** Side of the cells in which detail is counted, as a share of the diagonal; and the share of a cell's pixels that are edges in one with detail. */
const CELL = 1 / 72;
const BUSY = 0.12;
/** Width of what counts as one upright thing, as a share of the diagonal, and the gaps in it, as a share of the height. */
const SLIM = 1 / 200;
const GAP = 0.012;
/** Between these shares of the height the row of most detail is sought. */
const ROWS = [0.3, 0.75] as const;
/** Rows that are weighed together, as a share of the height. */
const ROW_SPAN = 0.08;

/** Edges of a picture: places from its middle, directions of the gradient, strengths. */
interface Edges extends Size {
  count: number;
  x: Float32Array;
  y: Float32Array;
  gx: Float32Array;
  gy: Float32Array;
  strength: Float32Array;
}

/** Reads a picture. @param luma coded, 0..1, its long edge about `SCENE_LONG_EDGE_PX`. */
export function readScene(luma: GreyImage): SceneReading {
  let smooth = luma;
  for (let i = 0; i < SMOOTHINGS; i++) smooth = smoothed(smooth);
  const edges = edgesOf(smooth);
  const down = viewOf(edges);
  return {
    down,
    horizon: down === null ? null : 0.5 - (focal(luma) * Math.tan(down * DEGREE)) / luma.height,
    ...detailOf(edges),
    tallest: down === null ? null : tallestOf(edges, down),
  };
}

/** Pixels from a normal lens to its picture. */
const focal = ({ height }: Size): number => height / (2 * Math.tan((NORMAL_FOV / 2) * DEGREE));

/** Weighed 1 2 1 both ways. */
function smoothed({ width, height, values }: GreyImage): GreyImage {
  const across = new Float32Array(values.length);
  const out = new Float32Array(values.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const [left, right] = [values[i - (x > 0 ? 1 : 0)]!, values[i + (x < width - 1 ? 1 : 0)]!];
      across[i] = (left + 2 * values[i]! + right) / 4;
    }
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const [above, below] = [across[i - (y > 0 ? width : 0)]!, across[i + (y < height - 1 ? width : 0)]!];
      out[i] = (above + 2 * across[i]! + below) / 4;
    }
  return { width, height, values: out };
}

/** Where luma changes, by Sobel's differences. */
function edgesOf({ width, height, values: v }: GreyImage): Edges {
  const [x, y, gx, gy, strength]: number[][] = [[], [], [], [], []];
  for (let row = 1; row < height - 1; row++)
    for (let column = 1; column < width - 1; column++) {
      const i = row * width + column;
      const right = v[i + 1]! + 0.5 * (v[i + 1 - width]! + v[i + 1 + width]!);
      const left = v[i - 1]! + 0.5 * (v[i - 1 - width]! + v[i - 1 + width]!);
      const below = v[i + width]! + 0.5 * (v[i + width - 1]! + v[i + width + 1]!);
      const above = v[i - width]! + 0.5 * (v[i - width - 1]! + v[i - width + 1]!);
      const change = Math.hypot(right - left, below - above);
      if (change < EDGE) continue;
      x!.push(column - width / 2);
      y!.push(row - height / 2);
      gx!.push((right - left) / change);
      gy!.push((below - above) / change);
      strength!.push(Math.min(change, FULL));
    }
  const floats = (list: number[] | undefined): Float32Array => Float32Array.from(list!);
  return {
    width,
    height,
    count: x!.length,
    x: floats(x),
    y: floats(y),
    gx: floats(gx),
    gy: floats(gy),
    strength: floats(strength),
  };
}

/** Square of the sine of the tolerance. */
const NEARLY = Math.sin(TOLERANCE * DEGREE) ** 2;

/** The tangent of a view's angle. */
const slopeOf = (down: number): number => Math.tan(Math.min(down, STEEPEST - 0.1) * DEGREE);

/** True for an edge that points to where verticals meet in a view that looks down by the angle of a slope. */
function isUpright({ x, y, gx, gy }: Edges, i: number, slope: number, lens: number): boolean {
  // The direction to (0, lens / slope), lengthened by the slope: level views have none at an end.
  const qx = -x[i]! * slope;
  const qy = lens - y[i]! * slope;
  const across = gx[i]! * qx + gy[i]! * qy;
  return across * across < NEARLY * (qx * qx + qy * qy);
}

/** How far the view looks down, in degrees; null where no view has more of the vote than others. */
function viewOf(edges: Edges): number | null {
  const lens = focal(edges);
  const votes: number[] = [];
  for (let down = LOWEST; down <= STEEPEST; down += STEP) {
    const slope = slopeOf(down);
    let sum = 0;
    for (let i = 0; i < edges.count; i++) if (isUpright(edges, i, slope, lens)) sum += edges.strength[i]!;
    votes.push(sum);
  }
  const best = votes.indexOf(Math.max(...votes));
  const mean = votes.reduce((a, b) => a + b, 0) / votes.length;
  if (edges.count === 0 || votes[best]! < MIN_VOTE_RATIO * mean) return null;
  // Between the steps: the top of the parabola through the best and its neighbours.
  const [before, after] = [votes[best - 1] ?? votes[best]!, votes[best + 1] ?? votes[best]!];
  const bend = before - 2 * votes[best]! + after;
  return Math.min(STEEPEST, LOWEST + STEP * (best + (bend === 0 ? 0 : (0.5 * (before - after)) / bend)));
}

/** Where there is detail: the share of cells that have some, and the row that has most. */
function detailOf(edges: Edges): Pick<SceneReading, 'detail' | 'row'> {
  const { width, height } = edges;
  const cell = Math.max(4, Math.round(diagonal(edges) * CELL));
  const [columns, rows] = [Math.max(1, Math.floor(width / cell)), Math.max(1, Math.floor(height / cell))];
  const counts = new Float32Array(columns * rows);
  const perRow = new Float32Array(height);
  for (let i = 0; i < edges.count; i++) {
    const [x, y] = [edges.x[i]! + width / 2, edges.y[i]! + height / 2];
    const [column, row] = [Math.floor(x / cell), Math.floor(y / cell)];
    if (column < columns && row < rows) counts[row * columns + column]!++;
    // What is in the middle is what one looks at.
    perRow[Math.floor(y)]! += Math.max(0, 1 - Math.abs(edges.x[i]! / width) * 1.6);
  }
  const busy = counts.filter((count) => count > BUSY * cell * cell).length;
  const span = Math.max(1, Math.round(height * ROW_SPAN));
  let best = { row: 0.5, sum: -1 };
  for (let y = Math.round(ROWS[0] * height); y <= ROWS[1] * height - span; y++) {
    const sum = perRow.subarray(y, y + span).reduce((a, b) => a + b, 0);
    if (sum > best.sum) best = { row: (y + span / 2) / height, sum };
  }
  return { detail: busy / counts.length, row: best.row };
}

/** The longest edge that points to where verticals meet. */
function tallestOf(edges: Edges, down: number): Upright | null {
  const { width, height } = edges;
  const lens = focal(edges);
  const slope = slopeOf(down);
  const slim = Math.max(2, diagonal(edges) * SLIM);
  const gap = Math.max(2, GAP * height);
  /** Rows of upright edges by the place where the line through them crosses the middle row. */
  const lines = new Map<number, number[]>();
  for (let i = 0; i < edges.count; i++) {
    if (!isUpright(edges, i, slope, lens)) continue;
    const middle = (edges.x[i]! * lens) / (lens - edges.y[i]! * slope);
    const line = Math.round(middle / slim);
    const rows = lines.get(line);
    if (rows) rows.push(edges.y[i]!);
    else lines.set(line, [edges.y[i]!]);
  }
  let tallest: Upright | null = null;
  for (const [line, rows] of lines) {
    let from = rows[0]!;
    let last = from;
    // Edges are in the order of their rows.
    for (const y of [...rows, Infinity]) {
      if (y - last > gap) {
        const [a, b] = [from / height + 0.5, last / height + 0.5];
        if (!tallest || b - a > tallest.to - tallest.from)
          tallest = { at: (line * slim) / width + 0.5, from: a, to: b };
        from = y;
      }
      last = y;
    }
  }
  return tallest;
}
