import { type Size, diagonal } from '../../geometry/size';
import { fromLinear, toLinear } from '../../pixels/transfer';
import { type Arena, type Heap, type Rows, rowAddress } from '../../memory';

/** Spots of clipped light in a region: where they lie, and the colour of each. Plain addresses. */
export interface LampPlan {
  /** For each row, and one beyond the last, the number of its first run. */
  rows: number;
  /** Of each run its first column, the one beyond its last, and the number of its colour: words. */
  runs: number;
  mostRuns: number;
  /** Four floats each: red, green and blue, the strongest 1. Number 0 is no colour. */
  colours: number;
  /** As many rows of decoded light as a rim is wide each way, and one. */
  ring: Rows;
}

const RUN_BYTES = 12;
const MAX_COLOURS = 65536;
/** A run for so many pixels of a region at most; a picture that has more of them has no lamps, but glitter. */
const PIXELS_FOR_RUN = 64;
/** How far around a spot its colour is looked for, and the area of the largest lamp, in diagonals and their square. */
const RIM = 0.0006;
const LARGEST = 0.002;

/** Pixels around a spot of clipped light in which its colour is looked for. */
export const lampRim = (diagonalPx: number): number => Math.max(2, Math.ceil(diagonalPx * RIM));

export function planLamps({ width, height }: Size, picture: Size, arena: Arena): LampPlan {
  const mostRuns = Math.max(1024, Math.ceil((width * height) / PIXELS_FOR_RUN));
  return {
    rows: arena.floats(height + 1),
    runs: arena.take(RUN_BYTES * mostRuns),
    mostRuns,
    colours: arena.floats(4 * MAX_COLOURS),
    ring: arena.rows(width, 2 * lampRim(diagonal(picture)) + 1, 3),
  };
}

/** How little light counts as clipped, 1 − t, by its strongest channel. @param from coded, below 1. */
function openness(strongest: number, from: number): number {
  if (strongest >= 1) return 0;
  const x = Math.min(1, Math.max(0, (fromLinear(strongest) - from) / (1 - from)));
  return 1 - x * x * (3 - 2 * x);
}

/** Spots that may still turn out to be one; a spot's own sums lie at its root. */
class Spots {
  private readonly parents: number[] = [];
  readonly sums: [r: number, g: number, b: number, area: number][] = [];

  add(): number {
    this.sums.push([0, 0, 0, 0]);
    return this.parents.push(this.parents.length) - 1;
  }

  rootOf(spot: number): number {
    let root = spot;
    while (this.parents[root] !== root) root = this.parents[root]!;
    this.parents[spot] = root;
    return root;
  }

  join(one: number, other: number): void {
    const [root, next] = [this.rootOf(one), this.rootOf(other)];
    if (root === next) return;
    this.parents[next] = root;
    this.sums[next]!.forEach((value, k) => (this.sums[root]![k]! += value));
  }
}

interface ClippedRun {
  from: number;
  to: number;
  spot: number;
}

/**
 * Finds the connected spots of clipped light in a region, eight neighbours a pixel, and the colour of each: that of the light
 * in it and around it, weighed by the square of its strongest channel, by how little it is clipped, and by how much of the
 * spot lies within a rim's width of it. Spots of more than 0.2 % of the diagonal squared are no lamps.
 * @param decode writes three planes of linear light of a row.
 */
export function findLamps(
  heap: Heap,
  plan: LampPlan,
  { width, height }: Size,
  picture: Size,
  threshold: number,
  decode: (at: number, plane: number, y: number) => void,
): void {
  const { ring } = plan;
  const rim = lampRim(diagonal(picture));
  const coded = Math.min(threshold, 0.999);
  const from = Math.fround(toLinear(coded));
  const spots = new Spots();
  const all: { y: number; run: ClippedRun }[] = [];
  const rows: ClippedRun[][] = [];
  /** Which pixels of the row in hand are clipped; of each row in the ring, how little. */
  const isClipped = new Uint8Array(width);
  const open = Array.from({ length: ring.count }, () => new Float32Array(width));
  const lightOf = (y: number): [Float32Array, Float32Array, Float32Array] => {
    const at = rowAddress(ring, y % ring.count);
    return [0, 1, 2].map((k) => heap.floatsAt(at + k * ring.planeBytes, width)) as ReturnType<typeof lightOf>;
  };
  for (let y = 0; y < height + rim; y++) {
    if (y < height) {
      decode(rowAddress(ring, y % ring.count), ring.planeBytes, y);
      const [r, g, b] = lightOf(y);
      const own = open[y % ring.count]!.fill(1);
      for (let x = 0; x < width; x++) {
        isClipped[x] = r[x]! >= from || g[x]! >= from || b[x]! >= from ? 1 : 0;
        if (isClipped[x] === 1) own[x] = openness(Math.max(r[x]!, g[x]!, b[x]!), coded);
      }
      rows[y] = runsIn(isClipped, rows[y - 1] ?? [], spots);
      for (const run of rows[y]!) all.push({ y, run });
      if (all.length > plan.mostRuns) break;
    }
    // The row around which all rows of a rim's width are there now.
    const middle = y - rim;
    for (const run of rows[middle] ?? [])
      for (let v = Math.max(0, middle - rim); v <= Math.min(height - 1, middle + rim); v++)
        addRim(spots.sums[spots.rootOf(run.spot)]!, run, rim, open[v % ring.count]!, lightOf(v));
    if (middle > 0) rows[middle - 1] = [];
  }
  writeLamps(
    heap,
    plan,
    height,
    all.length > plan.mostRuns ? [] : all,
    spots,
    LARGEST * diagonal(picture) ** 2,
  );
}

/** The runs of clipped pixels in a row, each one with a spot of the row above that it touches, or a new one. */
function runsIn(isClipped: Uint8Array, above: readonly ClippedRun[], spots: Spots): ClippedRun[] {
  const runs: ClippedRun[] = [];
  let next = 0;
  for (let x = isClipped.indexOf(1); x >= 0; x = isClipped.indexOf(1, x)) {
    const end = isClipped.indexOf(0, x);
    const run = { from: x, to: end < 0 ? isClipped.length : end, spot: -1 };
    while (next < above.length && above[next]!.to < run.from) next++;
    for (let i = next; i < above.length && above[i]!.from <= run.to; i++)
      if (run.spot < 0) run.spot = above[i]!.spot;
      else spots.join(run.spot, above[i]!.spot);
    if (run.spot < 0) run.spot = spots.add();
    spots.sums[spots.rootOf(run.spot)]![3] += run.to - run.from;
    runs.push(run);
    x = run.to;
  }
  return runs;
}

/** Adds a row's light, as often as a run has pixels within the rim's width of it. */
function addRim(
  sums: Spots['sums'][number],
  run: ClippedRun,
  rim: number,
  open: Float32Array,
  [r, g, b]: readonly [Float32Array, Float32Array, Float32Array],
): void {
  for (let x = Math.max(0, run.from - rim); x < Math.min(open.length, run.to + rim); x++) {
    if (open[x] === 0) continue;
    const near = Math.min(x + rim + 1, run.to) - Math.max(x - rim, run.from);
    const weight = near * open[x]! * Math.max(r[x]!, g[x]!, b[x]!) ** 2;
    sums[0] += weight * r[x]!;
    sums[1] += weight * g[x]!;
    sums[2] += weight * b[x]!;
  }
}

function writeLamps(
  heap: Heap,
  { rows, runs, colours }: LampPlan,
  height: number,
  all: readonly { y: number; run: ClippedRun }[],
  spots: Spots,
  largest: number,
): void {
  const numbers = new Map<number, number>();
  const numberOf = (root: number): number => {
    const known = numbers.get(root);
    if (known !== undefined) return known;
    const [r, g, b, area] = spots.sums[root]!;
    const most = Math.max(r, g, b);
    // What nothing shines around, and what is no lamp, stays as it is.
    const isLamp = area <= largest && most > 1e-9 && numbers.size + 1 < MAX_COLOURS;
    const number = isLamp ? numbers.size + 1 : 0;
    numbers.set(root, number);
    if (isLamp) heap.setFloats(colours + 16 * number, [r / most, g / most, b / most, 0]);
    return number;
  };
  let next = 0;
  for (let y = 0; y <= height; y++) {
    heap.setInt32(rows + 4 * y, next);
    for (; next < all.length && all[next]!.y === y; next++) {
      const { from, to, spot } = all[next]!.run;
      [from, to, numberOf(spots.rootOf(spot))].forEach((word, k) =>
        heap.setInt32(runs + RUN_BYTES * next + 4 * k, word),
      );
    }
  }
}

/** Calls for each lamp's part of columns x..x + n of a row: its columns, and the address of its colour. */
export function lampsIn(
  heap: Heap,
  { rows, runs, colours }: LampPlan,
  x: number,
  n: number,
  y: number,
  each: (from: number, to: number, colour: number) => void,
): void {
  let [low, high] = [heap.int32(rows + 4 * y), heap.int32(rows + 4 * (y + 1))];
  const last = high;
  // The first that ends beyond x.
  while (low < high) {
    const middle = (low + high) >> 1;
    if (heap.int32(runs + RUN_BYTES * middle + 4) <= x) low = middle + 1;
    else high = middle;
  }
  for (let i = low; i < last; i++) {
    const at = runs + RUN_BYTES * i;
    const from = Math.max(x, heap.int32(at));
    if (from >= x + n) return;
    const colour = heap.int32(at + 8);
    if (colour > 0) each(from, Math.min(x + n, heap.int32(at + 4)), colours + 16 * colour);
  }
}
