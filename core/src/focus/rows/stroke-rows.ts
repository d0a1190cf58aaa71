import { diagonal } from '../../geometry/size';
import { type Arena, type Rows, sampleAddress } from '../../memory';
import {
  type PackedStroke,
  type StrokeSegment,
  strokeSegment,
  inverseSquare,
  segmentCount,
} from '../strokes';
import type { FieldStrip } from './field-strip';

const MODES = { clear: 0, haze: 1, erase: 2 } as const;

export interface StrokeRowsPlan {
  /** What the finished strokes make of the haze before them: gain x haze + lift. */
  gain: Rows;
  lift: Rows;
  /** Coverage of the newest stroke, which may still grow. */
  cover: Rows;
}

export function planStrokeRows(n: number, rows: number, arena: Arena): StrokeRowsPlan {
  const plane = (): Rows => arena.rows(n, rows, 1);
  return { gain: plane(), lift: plane(), cover: plane() };
}

/**
 * Strokes of the brush over the haze that is there. Finished ones are merged into two planes; the newest stays apart: it may
 * grow by its new segments, and taking it back must not cost the others.
 */
export class StrokeRows {
  /** Strokes that are in gain and lift, and the one in `cover` with how many of its segments. */
  private merged: string[] = [];
  private open: { stroke: PackedStroke; segments: number } | null = null;
  private isBegun = false;

  constructor(
    private readonly strip: FieldStrip,
    private readonly plan: StrokeRowsPlan,
  ) {}

  forget(): void {
    this.merged = [];
    this.open = null;
    this.isBegun = false;
  }

  fill(strokes: readonly PackedStroke[]): void {
    if (strokes.length === 0) return this.forget();
    if (!this.isBegun) this.begin();
    const newest = strokes.at(-1)!;
    const older = strokes.slice(0, -1);
    if (this.open && this.open.stroke.id === older[this.merged.length]?.id) this.mergeOpen();
    if (this.merged.some((id, i) => older[i]?.id !== id)) {
      this.forget();
      this.begin();
    }
    for (const one of older.slice(this.merged.length)) {
      this.cover(one);
      this.mergeOpen();
    }
    this.cover(newest);
    const { strip, plan } = this;
    for (const y of strip.rows())
      strip.use.kernels.applyStrokesRow(
        strip.row(y),
        strip.line(plan.gain, y),
        strip.line(plan.lift, y),
        strip.line(plan.cover, y),
        strip.width,
        MODES[newest.mode],
      );
  }

  private begin(): void {
    const { plan, strip } = this;
    for (const [plane, value] of [
      [plan.gain, 1],
      [plan.lift, 0],
      [plan.cover, 0],
    ] as const)
      // prettier-ignore
      strip.heap.fillFloats(plane.at, strip.floatsOf(plane), value);
    this.isBegun = true;
  }

  /** Brings a stroke into `cover`: whole, or what it has grown by. */
  private cover(stroke: PackedStroke): void {
    if (this.open && this.open.stroke.id !== stroke.id) this.clearOpen();
    const count = segmentCount(stroke);
    // The last segment of a stroke that was one point grows from it: it is drawn again, which adds nothing twice.
    const first = this.open ? Math.max(0, this.open.segments - 1) : 0;
    for (let i = first; i < count; i++) this.coverSegment(this.segment(stroke, i), stroke.softness);
    this.open = { stroke, segments: count };
  }

  private segment(stroke: PackedStroke, i: number): StrokeSegment {
    const { picture } = this.strip.region;
    return strokeSegment(stroke, i, picture, diagonal(picture));
  }

  private coverSegment(segment: StrokeSegment, softness: number): void {
    const { plan, strip } = this;
    const { use, region } = strip;
    const block = use.parameters('StrokeSegment', { ...segment, inverse: inverseSquare(segment), softness });
    this.inReach(segment, (row, column, n) =>
      use.kernels.strokeCoverageRow(
        block,
        sampleAddress(strip.line(plan.cover, row), column),
        n,
        region.x + column + 0.5 - segment.x,
        region.y + row + 0.5 - segment.y,
      ),
    );
  }

  /** Calls for each row of the strip that a segment reaches, with the columns it reaches there. */
  private inReach(
    { x, y, dx, dy, radius, radiusStep }: Omit<StrokeSegment, 'strength' | 'strengthStep'>,
    run: (row: number, column: number, n: number) => void,
  ): void {
    const { from, to, region } = this.strip;
    const reach = Math.max(radius, radius + radiusStep) + 1;
    const top = Math.max(from, Math.floor(Math.min(y, y + dy) - reach - region.y));
    const bottom = Math.min(to, Math.ceil(Math.max(y, y + dy) + reach - region.y));
    const [high, low] = [Math.min(y, y + dy) - region.y, Math.max(y, y + dy) - region.y];
    for (let row = top; row < bottom; row++) {
      // How far across is left of the reach after what goes up or down.
      const off = Math.max(0, high - row - 0.5, row + 0.5 - low);
      const across = Math.sqrt(Math.max(0, reach * reach - off * off));
      const left = Math.max(0, Math.floor(Math.min(x, x + dx) - across - region.x) & ~3);
      const right = Math.min(region.width, Math.ceil(Math.max(x, x + dx) + across - region.x));
      if (right > left) run(row, left, right - left);
    }
  }

  /** The same for a whole stroke: one span a row for all of it. */
  private inReachOf(stroke: PackedStroke, run: (row: number, column: number, n: number) => void): void {
    const whole = { left: Infinity, right: -Infinity, top: Infinity, bottom: -Infinity, radius: 0 };
    for (let i = 0; i < segmentCount(stroke); i++) {
      const { x, y, dx, dy, radius, radiusStep } = this.segment(stroke, i);
      whole.left = Math.min(whole.left, x, x + dx);
      whole.right = Math.max(whole.right, x, x + dx);
      whole.top = Math.min(whole.top, y, y + dy);
      whole.bottom = Math.max(whole.bottom, y, y + dy);
      whole.radius = Math.max(whole.radius, radius, radius + radiusStep);
    }
    const { left, right, top, bottom, radius } = whole;
    this.inReach({ x: left, y: top, dx: right - left, dy: bottom - top, radius, radiusStep: 0 }, run);
  }

  private mergeOpen(): void {
    const { stroke } = this.open!;
    const { plan, strip } = this;
    this.inReachOf(stroke, (row, column, n) => {
      const [gain, lift, cover] = [plan.gain, plan.lift, plan.cover].map((plane) =>
        sampleAddress(strip.line(plane, row), column),
      ) as [number, number, number];
      strip.use.kernels.mergeStrokeRow(gain, lift, cover, n, MODES[stroke.mode]);
    });
    this.merged.push(stroke.id);
    this.open = null;
  }

  private clearOpen(): void {
    const { plan, strip } = this;
    this.inReachOf(this.open!.stroke, (row, column, n) =>
      strip.heap.fillFloats(sampleAddress(strip.line(plan.cover, row), column), (n + 3) & ~3, 0),
    );
    this.open = null;
  }
}
