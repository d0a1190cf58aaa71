import type { Kernels } from '../kernels';
import {
  type Arena,
  type Heap,
  type Rows,
  type KernelContext,
  padded,
  rowAddress,
  sampleAddress,
} from '../memory';
import { bandPack } from './bands';
import { depthSign, packDepth } from './depth-map';
import type { ResolvedFocus } from './field';
import { type Region, diagonal } from '../geometry/size';
import { type KeepMask, combineMask } from './keep-mask';
import { type Affine, BAND_FLOATS, type PackedBand, RIM_FLOATS } from './pack';
import { sampleRow } from '../geometry/raster';
import { SOUNDING_SOFTENING, packSoundings } from './soundings';
import { type PackedStroke, inkSegment, inverseSquare, segmentCount } from './strokes';

const MODES = { clear: 0, haze: 1, erase: 2 } as const;
const MAX_SOUNDINGS = 500;

/** What a strip's field is made with, in the kernels' memory: rows of one plane, and scratch. */
export interface FieldPlan {
  /** The field before the bands, where it is not the same everywhere. */
  base: Rows;
  /** What the strokes make of the haze before them: gain x haze + lift. */
  gain: Rows;
  lift: Rows;
  /** Coverage of the newest stroke, which may still grow. */
  cover: Rows;
  /** What the mattes make of the haze before them: what they take, and what they put in its place. */
  keep: Rows;
  stand: Rows;
  /** A row of distances. */
  distances: number;
  band: number;
  rim: number;
  soundings: number;
}

/** Lays out a field of so many rows of n pixels. */
export function planField(n: number, rows: number, arena: Arena): FieldPlan {
  const plane = (): Rows => arena.rows(n, rows, 1);
  return {
    base: plane(),
    gain: plane(),
    lift: plane(),
    cover: plane(),
    keep: plane(),
    stand: plane(),
    distances: arena.floats(padded(n)),
    band: arena.floats(BAND_FLOATS),
    rim: arena.floats(RIM_FLOATS),
    soundings: arena.floats(3 * MAX_SOUNDINGS),
  };
}

/** The same for fields that are the same. A stroke that grows keeps its id, but has more points. */
export function fieldKey({ rest, soundings, depth, bands, ink, keep }: ResolvedFocus): string {
  const strokes = ink.map(({ id, points }) => `${id}:${points.length}`).join();
  const last = ink.at(-1)?.points.subarray(-4);
  return JSON.stringify([
    rest,
    soundings,
    depth && [depth.how, depth.map.id],
    bands,
    strokes,
    last,
    keep.map(({ raster, combine, haze }) => [raster.id, combine, haze]),
  ]);
}

/**
 * Fills rows of a region with haze, by the kernels: all workers fill the same plane. What a strip needed for its soundings, depth map, strokes and mattes
 * is kept: while only bands move, only bands are computed; a stroke that grows adds its new pieces.
 */
export class FieldRows {
  private readonly kernels: Kernels;
  private readonly heap: Heap;
  private from = -1;
  private to = -1;
  private baseKey = '';
  private keepKey = '';
  /** Strokes that are in gain and lift, and the one in `cover` with how many of its pieces. */
  private folded: string[] = [];
  private open: { ink: PackedStroke; segments: number } | null = null;
  private hasOverlay = false;

  constructor(
    private readonly use: KernelContext,
    private readonly at: FieldPlan,
    private readonly haze: Rows,
    private readonly region: Region,
  ) {
    this.kernels = use.kernels;
    this.heap = use.heap;
  }

  private row(y: number): number {
    return rowAddress(this.haze, y);
  }

  /** Computes the haze of rows from..to of the region. */
  fill(look: ResolvedFocus, from: number, to: number): void {
    if (from !== this.from || to !== this.to) this.forget(from, to);
    this.fillBase(look);
    for (const band of look.bands) this.lay(bandPack(band, this.region));
    this.fillStrokes(look.ink);
    this.fillKeep(look.keep);
    if (look.depth)
      for (const y of this.rows())
        this.kernels.copyForegroundFlags(this.row(y), this.line(this.at.base, y), this.region.width);
  }

  private forget(from: number, to: number): void {
    this.from = from;
    this.to = to;
    this.baseKey = '';
    this.keepKey = '';
    this.resetOverlay();
  }

  private line(plane: Rows, y: number): number {
    return rowAddress(plane, y - this.from);
  }

  private *rows(): Generator<number> {
    for (let y = this.from; y < this.to; y++) yield y;
  }

  private fillBase(look: ResolvedFocus): void {
    const { kernels, region, at } = this;
    const { soundings, depth, rest } = look;
    if (soundings.length === 0 && !depth) {
      for (const y of this.rows()) kernels.fillHazeRow(this.row(y), region.width, rest);
      return;
    }
    const key = JSON.stringify([soundings, depth && [depth.how, depth.map.id]]);
    const [first, size] = [this.row(this.from), (this.to - this.from) * at.base.rowBytes];
    if (key === this.baseKey) {
      this.heap.copy(first, at.base.at, size);
      return;
    }
    if (soundings.length > 0) this.fillSoundings(look);
    else for (const y of this.rows()) kernels.fillHazeRow(this.row(y), region.width, 0);
    if (depth) {
      const sign = depthSign(depth.how);
      const distances = this.heap.floatsAt(at.distances, padded(region.width));
      this.layRows(
        packDepth(depth.how),
        (y) =>
          sampleRow(
            depth.map,
            region.picture,
            region.x,
            region.y + y,
            sign,
            -sign * depth.how.focus,
            distances,
          ),
        // Inside out the nearer is not the hazier: then nothing lies over anything.
        (y) =>
          depth.how.invert
            ? kernels.clearForegroundFlags(this.row(y), region.width)
            : kernels.flagForegroundRow(this.row(y), at.distances, region.width),
      );
    }
    this.heap.copy(at.base.at, first, size);
    this.baseKey = key;
  }

  private fillSoundings({ soundings }: ResolvedFocus): void {
    const { kernels, region, at } = this;
    const d = diagonal(region.picture);
    this.heap.setFloats(at.soundings, packSoundings(soundings, region.picture));
    const x = (region.x + 0.5) / d;
    for (const y of this.rows()) {
      const down = (region.y + y + 0.5) / d;
      kernels.soundingsRow(
        this.row(y),
        region.width,
        x,
        1 / d,
        down,
        at.soundings,
        soundings.length,
        SOUNDING_SOFTENING,
      );
    }
  }

  private lay(pack: PackedBand): void {
    const { kernels, at, region } = this;
    const { measure } = pack;
    const along = (one: Affine, y: number): number => one.start + one.perRow * y;
    if (measure.kind === 'affine') {
      this.heap.setFloats(at.band, pack.parameters);
      for (const y of this.rows())
        kernels.bandRow(this.row(y), region.width, 0, along(measure, y), measure.perColumn, at.band);
      return;
    }
    const { p, q } = measure;
    const columns = [p.perColumn, q.perColumn] as const;
    if (measure.kind === 'iris') this.heap.setFloats(at.rim, measure.rim);
    this.layRows(pack, (y) => {
      const [p0, q0] = [along(p, y), along(q, y)];
      if (measure.kind === 'elliptical')
        kernels.ellipseDistanceRow(at.distances, region.width, p0, columns[0], q0, columns[1]);
      else kernels.irisDistanceRow(at.distances, region.width, p0, columns[0], q0, columns[1], at.rim);
    });
  }

  /** Lays a band whose distances are written row by row. */
  private layRows(
    { parameters }: PackedBand,
    measure: (y: number) => void,
    laid: (y: number) => void = () => undefined,
  ): void {
    const { kernels, at, region } = this;
    this.heap.setFloats(at.band, parameters);
    for (const y of this.rows()) {
      measure(y);
      kernels.bandRow(this.row(y), region.width, at.distances, 0, 0, at.band);
      laid(y);
    }
  }

  private fillStrokes(ink: readonly PackedStroke[]): void {
    if (ink.length === 0) {
      if (this.hasOverlay) this.resetOverlay();
      return;
    }
    if (!this.hasOverlay) this.startOverlay();
    const newest = ink.at(-1)!;
    const older = ink.slice(0, -1);
    // The newest stroke stays apart: it may grow, and taking it back must not cost the others.
    if (this.open && this.open.ink.id === older[this.folded.length]?.id) this.foldOpen();
    if (this.folded.some((id, i) => older[i]?.id !== id)) {
      this.resetOverlay();
      this.startOverlay();
    }
    for (const one of older.slice(this.folded.length)) {
      this.cover(one);
      this.foldOpen();
    }
    this.cover(newest);
    const { at, kernels, region } = this;
    const mode = MODES[newest.mode];
    for (const y of this.rows())
      kernels.applyStrokesRow(
        this.row(y),
        this.line(at.gain, y),
        this.line(at.lift, y),
        this.line(at.cover, y),
        region.width,
        mode,
      );
  }

  private resetOverlay(): void {
    this.folded = [];
    this.open = null;
    this.hasOverlay = false;
  }

  private startOverlay(): void {
    const { at } = this;
    const count = ((this.to - this.from) * at.gain.rowBytes) / 4;
    this.heap.fillFloats(at.gain.at, count, 1);
    this.heap.fillFloats(at.lift.at, count, 0);
    this.heap.fillFloats(at.cover.at, count, 0);
    this.hasOverlay = true;
  }

  /** Brings a stroke into `cover`: whole, or what it has grown by. */
  private cover(ink: PackedStroke): void {
    if (this.open && this.open.ink.id !== ink.id) this.wipeOpen();
    const count = segmentCount(ink);
    // The last piece of a stroke that was one point grows from it: it is drawn again, which adds nothing twice.
    const first = this.open ? Math.max(0, this.open.segments - 1) : 0;
    const d = diagonal(this.region.picture);
    for (let i = first; i < count; i++) this.coverSegment(ink, i, d);
    this.open = { ink, segments: count };
  }

  private coverSegment(ink: PackedStroke, i: number, d: number): void {
    const { kernels, at } = this;
    const segment = inkSegment(ink, i, this.region.picture, d);
    const { x, y } = segment;
    const block = this.use.parameters('StrokeSegment', {
      ...segment,
      inverse: inverseSquare(segment),
      softness: ink.softness,
    });
    this.inReach(segment, (row, column, n) =>
      kernels.strokeCoverageRow(
        block,
        sampleAddress(this.line(at.cover, row), column),
        n,
        this.region.x + column + 0.5 - x,
        this.region.y + row + 0.5 - y,
      ),
    );
  }

  /** Calls for each row of the strip that a piece of a stroke reaches, with the columns it reaches there. */
  private inReach(
    { x, y, dx, dy, radius, radiusStep }: ReturnType<typeof inkSegment>,
    run: (row: number, column: number, n: number) => void,
  ): void {
    const { region } = this;
    const reach = Math.max(radius, radius + radiusStep) + 1;
    const top = Math.max(this.from, Math.floor(Math.min(y, y + dy) - reach - region.y));
    const bottom = Math.min(this.to, Math.ceil(Math.max(y, y + dy) + reach - region.y));
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

  /** The columns and rows that a stroke reaches, one span for all of it. */
  private inReachOf(ink: PackedStroke, run: (row: number, column: number, n: number) => void): void {
    const d = diagonal(this.region.picture);
    const whole = { left: Infinity, right: -Infinity, top: Infinity, bottom: -Infinity, radius: 0 };
    for (let i = 0; i < segmentCount(ink); i++) {
      const { x, y, dx, dy, radius, radiusStep } = inkSegment(ink, i, this.region.picture, d);
      whole.left = Math.min(whole.left, x, x + dx);
      whole.right = Math.max(whole.right, x, x + dx);
      whole.top = Math.min(whole.top, y, y + dy);
      whole.bottom = Math.max(whole.bottom, y, y + dy);
      whole.radius = Math.max(whole.radius, radius, radius + radiusStep);
    }
    const { left, right, top, bottom, radius } = whole;
    this.inReach(
      {
        x: left,
        y: top,
        dx: right - left,
        dy: bottom - top,
        radius,
        radiusStep: 0,
        strength: 0,
        strengthStep: 0,
      },
      run,
    );
  }

  private foldOpen(): void {
    const { ink } = this.open!;
    const { kernels, at } = this;
    this.inReachOf(ink, (row, column, n) =>
      kernels.mergeStrokeRow(
        sampleAddress(this.line(at.gain, row), column),
        sampleAddress(this.line(at.lift, row), column),
        sampleAddress(this.line(at.cover, row), column),
        n,
        MODES[ink.mode],
      ),
    );
    this.folded.push(ink.id);
    this.open = null;
  }

  private wipeOpen(): void {
    this.inReachOf(this.open!.ink, (row, column, n) => {
      this.heap.fillFloats(sampleAddress(this.line(this.at.cover, row), column), (n + 3) & ~3, 0);
    });
    this.open = null;
  }

  private fillKeep(keep: readonly KeepMask[]): void {
    if (keep.length === 0) return;
    const { kernels, at, region } = this;
    const key = keep.map(({ raster, combine, haze }) => `${raster.id} ${combine} ${haze}`).join();
    if (this.keepKey !== key) {
      for (const y of this.rows()) this.joinKept(keep, y);
      this.keepKey = key;
    }
    for (const y of this.rows())
      kernels.applyKeepMaskRow(this.row(y), this.line(at.keep, y), this.line(at.stand, y), region.width);
  }

  private joinKept(keep: readonly KeepMask[], y: number): void {
    const { at, region } = this;
    // Fill the last SIMD vector too: padding must hold valid haze.
    const n = padded(region.width);
    const row = this.heap.floatsAt(this.line(at.keep, y), n);
    const own = this.heap.floatsAt(at.distances, n);
    const sample = (one: KeepMask, out: Float32Array): void =>
      sampleRow(one.raster, region.picture, region.x, region.y + y, 1, 0, out);
    const stand = this.heap.floatsAt(this.line(at.stand, y), n).fill(0);
    const [first, ...others] = keep.filter(({ haze }) => haze === undefined);
    if (first?.combine === 'add') sample(first, row);
    else row.fill(0);
    for (const one of others) {
      sample(one, own);
      for (let i = 0; i < n; i++) row[i] = combineMask(one.combine, row[i]!, own[i]!);
    }
    for (const one of keep) {
      if (one.haze === undefined) continue;
      sample(one, own);
      for (let i = 0; i < n; i++) {
        const left = 1 - own[i]!;
        row[i] = 1 - (1 - row[i]!) * left;
        stand[i] = stand[i]! * left + one.haze * own[i]!;
      }
    }
  }
}
