import {
  type Arena,
  type Heap,
  MARGIN,
  type Rows,
  type Run,
  type KernelContext,
  padded,
  sampleAddress,
} from '../memory';
import { SEGMENT } from './computed-segments';

/** What a worker mixes levels of a picture with: each pixel takes its own from the two that enclose it. */
export interface MixPlan {
  /** Blur level of each pixel of the run in hand, and the lowest and highest of each 64. */
  level: number;
  spans: number;
  pointers: number;
  weights: number;
  table: number;
  /** How much of each pixel of the run its light weighs, where levels have a fourth plane. */
  weight: number;
  /** A row of each level, weighed together for the run in hand; of levels at full size none. */
  blended: (Rows | null)[];
}

/**
 * @param widths samples of a row of each level that is smaller than the picture, null for one of full size.
 * @param planes of a level at most: its light, and what that weighs.
 */
export function planMix(
  arena: Arena,
  runPixels: number,
  widths: readonly (number | null)[],
  planes = 4,
): MixPlan {
  return {
    level: arena.floats(runPixels),
    spans: arena.floats(runPixels / 32),
    pointers: arena.floats(8),
    weights: arena.floats(8),
    table: arena.floats(4 * widths.length),
    weight: arena.floats(runPixels),
    blended: widths.map((width) => (width === null ? null : arena.rows(width, 1, planes, MARGIN))),
  };
}

/** Columns of a row that read a level; none where `to` is -1. */
export interface ColumnSpan {
  from: number;
  to: number;
}

/** Mixes a run of pixels out of levels, by the kernel `interpolateLevelsRow`. */
export class LevelMixer {
  private readonly stretches: ColumnSpan[];
  /** Levels have one plane more: what the light of the others weighs. */
  isWeighed = false;

  constructor(
    private readonly use: KernelContext,
    private readonly plan: MixPlan,
    /** Addresses of the B-spline weights of each halving, the first for half the size. */
    private readonly splines: readonly number[],
    private readonly colours: 3 | 4 = 3,
  ) {
    this.stretches = plan.blended.map(() => ({ from: 0, to: -1 }));
  }

  /** Which stretch of a run reads each level, from the spans that were written for it. */
  stretchesOf({ n, x }: Run): readonly ColumnSpan[] {
    const { heap } = this.use;
    for (const stretch of this.stretches) stretch.to = -1;
    for (let i = 0; i * SEGMENT < n; i++) {
      const high = heap.int32(this.plan.spans + 8 * i + 4);
      for (let level = heap.int32(this.plan.spans + 8 * i); level <= high; level++) {
        const stretch = this.stretches[level]!;
        if (stretch.to < 0) stretch.from = x + i * SEGMENT;
        stretch.to = x + Math.min(n, (i + 1) * SEGMENT);
      }
    }
    return this.stretches;
  }

  /** Reads a level from a row of full size. */
  point(level: number, row: number, plane: number): void {
    this.enter(level, row, plane, 0, 0);
  }

  /**
   * Reads a level from rows of 1 / 2^halvings of the size, spread by a quadratic B-spline.
   * @param rowOf address of row i of the level, its columns left..right made.
   */
  spread(
    level: number,
    halvings: number,
    y: number,
    { from, to }: ColumnSpan,
    plane: number,
    rowOf: (i: number, left: number, right: number) => number,
  ): void {
    const { plan, use } = this;
    const scale = 2 ** halvings;
    const i = Math.floor(y / scale);
    // Whole vectors, and a sample more on each side.
    const left = (Math.floor(from / scale) - 4) & ~3;
    const right = Math.floor((to - 1) / scale) + 2;
    const rows = [i - 1, i, i + 1].map((row) => sampleAddress(rowOf(row, left, right), left));
    rows.forEach((row, k) => use.heap.setInt32(plan.pointers + 4 * k, row));
    use.heap.setFloats(plan.weights, splineWeights((y + 0.5) / scale - 0.5 - i));
    const blended = plan.blended[level]!;
    use.kernels.convolveColumns(
      plan.pointers,
      plan.weights,
      3,
      plane,
      this.isWeighed ? this.colours + 1 : this.colours,
      sampleAddress(blended.at, left),
      blended.planeBytes,
      padded(right - left),
    );
    this.enter(level, blended.at, blended.planeBytes, halvings, this.splines[halvings - 1]!);
  }

  private enter(level: number, row: number, plane: number, halvings: number, spline: number): void {
    const entry = this.plan.table + 16 * level;
    [row, plane, halvings, spline].forEach((value, k) => this.use.heap.setInt32(entry + 4 * k, value));
  }

  mix({ n, x, at, planeBytes }: Run): void {
    const { level, spans, table, weight } = this.plan;
    const mix = this.use.parameters('LevelMix', {
      level,
      spans,
      table,
      planes: this.colours,
      weight: this.isWeighed ? weight : 0,
    });
    this.use.kernels.interpolateLevelsRow(mix, n, x, at, planeBytes);
  }
}

/** Room for the B-spline weights of so many halvings. */
export function planSplines(arena: Arena, halvings: number): number[] {
  return Array.from({ length: halvings }, (_, i) => arena.floats(12 * Math.max(1, 2 ** (i - 1))));
}

export function fillSplines(splines: readonly number[], heap: Heap): void {
  splines.forEach((at, i) => heap.setFloats(at, splineTable(2 ** (i + 1))));
}

/** The quadratic B-spline's three weights for a fraction t in -1/2..1/2 from the middle sample; its variance is 1/4. */
function splineWeights(t: number): [number, number, number] {
  return [0.5 * (0.5 - t) ** 2, 0.75 - t * t, 0.5 * (0.5 + t) ** 2];
}

/** B-spline weights as `interpolateLevelsRow` reads them: for each phase of four pixels the three weights' vectors. */
function splineTable(scale: number): number[] {
  const fraction = (x: number): number => ((x % scale) + 0.5) / scale - 0.5;
  if (scale === 2) {
    const [left, right] = [splineWeights(fraction(0)), splineWeights(fraction(1))];
    return [left[0], right[0], left[0], right[0], left[2], right[2], left[2], right[2]];
  }
  return Array.from({ length: scale / 4 }, (_, phase) => {
    const lanes = [0, 1, 2, 3].map((k) => splineWeights(fraction(phase * 4 + k)));
    return [0, 1, 2].flatMap((w) => lanes.map((lane) => lane[w]!));
  }).flat();
}
