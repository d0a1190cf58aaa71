import { reflect } from '../../geometry/size';
import {
  MARGIN,
  type Run,
  type KernelContext,
  marginAfter,
  padded,
  rowAddress,
  sampleAddress,
} from '../../memory';
import type { BlurSetup, BlurRequest, BlurWorker, Source } from '../blur';
import { ComputedSegments } from '../computed-segments';
import { LevelMixer, type ColumnSpan } from '../level-mixer';
import type { GaussianPlan, GaussianScratch } from './plan';
import { FIRST_VARIANCE, FULL_SIZE_REACH, STACK_TAPS, levelPlace } from './levels';

/** A list of taps for `convolveColumnsSymmetric`: a kernel with a middle has half of it, twice. */
const paired = (taps: Float32Array): Float32Array => taps.map((tap, r) => (r === 0 ? tap / 2 : tap));
const PAIRED = { full: STACK_TAPS.full.map(paired), second: paired(STACK_TAPS.second) };
const NO_SOURCE: Source['planes'] = [];

/**
 * One worker's share of the blur stack. Octaves are made in passes, row by row. The levels of a strip are made as they
 * are asked for, in stretches of 64 pixels, and stay until another strip or another source comes.
 */
export class GaussianWorker implements BlurWorker {
  private readonly own: GaussianScratch;
  private from = -1;
  private to = -1;
  private key = '';
  private scale = 0;
  /** Planes in use: with one more than the light has, what is kept clear does not spread. */
  private planes = 3;
  private source: Source = { key: '', pixels: null as never, tables: 0, planes: NO_SOURCE };
  /** Which stretches of which rows are there. */
  private readonly linear: ComputedSegments;
  private readonly levels: ComputedSegments[];
  private readonly seconds: ComputedSegments[];
  private readonly mixing: LevelMixer;

  constructor(
    private readonly use: KernelContext,
    private readonly plan: GaussianPlan,
    private readonly frame: BlurSetup,
    worker: number,
  ) {
    this.own = plan.workers[worker]!;
    const { linear, levels, seconds } = this.own;
    this.linear = new ComputedSegments(linear);
    this.levels = levels.map((rows) => new ComputedSegments(rows));
    this.seconds = seconds.map((rows) => new ComputedSegments(rows));
    this.mixing = new LevelMixer(use, this.own.mix, plan.splines, frame.colours);
  }

  /** Rows of octave i + 1, from the picture or from the octave above: halved along the rows first, then across them. */
  pass(i: number, { keeps }: BlurRequest, source: Source, from: number, to: number): void {
    this.planes = this.frame.colours + (keeps ? 1 : 0);
    const { plan, own } = this;
    const { kernels } = this.use;
    const target = plan.octaves[i]!;
    const above = i === 0 ? null : plan.octaves[i - 1]!;
    const taps = above ? STACK_TAPS.halving : STACK_TAPS.firstHalving;
    const tapsAt = above ? plan.taps.halving : plan.taps.firstHalving;
    const half = taps.length;
    const height = above ? above.count : this.frame.region.height;
    const held = new Int32Array(own.ring.count).fill(-1);
    const halvedRow = (y: number): number => {
      const row = reflect(y, height);
      const slot = row % own.ring.count;
      const out = rowAddress(own.ring, slot);
      if (held[slot] === row) return out;
      held[slot] = row;
      if (!above) this.decodeExtended(source, row);
      const wide = above ?? own.decoded;
      const at = above ? rowAddress(above, row) : own.decoded.at;
      const halving = this.use.parameters('Halving', { taps: tapsAt, half, split: own.split });
      kernels.downsampleRow(
        at,
        wide.planeBytes,
        this.planes,
        halving,
        out,
        own.ring.planeBytes,
        target.width,
      );
      return out;
    };
    this.use.heap.setFloats(own.weights, taps);
    for (let y = from; y < to; y++) {
      for (let r = 0; r < half; r++) {
        this.point(2 * r, halvedRow(2 * y - r));
        this.point(2 * r + 1, halvedRow(2 * y + 1 + r));
      }
      const out = rowAddress(target, y);
      kernels.convolveColumnsSymmetric(
        own.pointers,
        own.weights,
        half,
        own.ring.planeBytes,
        this.planes,
        out,
        target.planeBytes,
        padded(target.width),
      );
      kernels.mirrorRow(out, target.planeBytes, this.planes, target.width, MARGIN, marginAfter(target));
    }
  }

  private decodeExtended(source: Source, y: number): void {
    const { decoded } = this.own;
    const { width } = this.frame.region;
    this.decode(source, { at: decoded.at, planeBytes: decoded.planeBytes, n: width, x: 0, y });
    const after = decoded.width - width + marginAfter(decoded);
    this.use.kernels.mirrorRow(decoded.at, decoded.planeBytes, this.planes, width, MARGIN, after);
  }

  /** A run of the picture in linear light, where something is kept clear with how far it spreads. */
  private decode({ pixels, tables, planes }: Source, run: Run): void {
    pixels.decode(this.use, tables, planes, run);
    const { colours, haze } = this.frame;
    if (this.planes > colours)
      this.use.kernels.premultiplyRow(
        run.at,
        run.planeBytes,
        colours,
        run.n,
        sampleAddress(rowAddress(haze, run.y), run.x),
      );
  }

  begin({ strength, keeps }: BlurRequest, source: Source, key: string, from: number, to: number): void {
    this.planes = this.frame.colours + (keeps ? 1 : 0);
    this.mixing.isWeighed = keeps;
    this.scale = strength / Math.sqrt(FIRST_VARIANCE);
    this.source = source;
    if (from === this.from && to === this.to && key === this.key) return;
    this.from = from;
    this.to = to;
    this.key = key;
    for (const made of [this.linear, ...this.levels, ...this.seconds]) made.clear();
  }

  fill(run: Run, haze: number): void {
    const { own, plan, mixing } = this;
    const { level, spans } = own.mix;
    this.use.kernels.levelRow(haze, level, run.n, this.scale, plan.topLevel, spans);
    for (const [k, stretch] of mixing.stretchesOf(run).entries())
      if (stretch.to >= 0) this.make(k, run.y, stretch);
    mixing.mix(run);
    if (mixing.isWeighed)
      this.use.kernels.normaliseRow(run.at, run.planeBytes, this.frame.colours, run.n, own.mix.weight);
  }

  /** Makes sure that a stretch of a level is there in row y, and has it mixed. */
  private make(level: number, y: number, stretch: ColumnSpan): void {
    const { own, plan, mixing } = this;
    const { octave, index } = levelPlace(level);
    if (octave === 0) {
      if (level === 0) this.makeLinear(y, stretch.from, stretch.to);
      else this.makeLevel(level, y, stretch.from, stretch.to);
      const rows = level === 0 ? own.linear : own.levels[level - 1]!;
      const i = y - this.from + (level === 0 ? FULL_SIZE_REACH : 0);
      mixing.point(level, rowAddress(rows, i), rows.planeBytes);
      return;
    }
    const { planeBytes } = index === 0 ? plan.octaves[octave - 1]! : own.seconds[octave - 1]!;
    mixing.spread(level, octave, y, stretch, planeBytes, (row, left, right) =>
      index === 0 ? this.octaveRow(octave, row) : this.secondRow(octave, row, left, right),
    );
  }

  private point(i: number, row: number): void {
    this.use.heap.setInt32(this.own.pointers + 4 * i, row);
  }

  /** The picture's row y in linear light. */
  private makeLinear(y: number, from: number, to: number): void {
    const { linear } = this.own;
    const { kernels } = this.use;
    const { width, height } = this.frame.region;
    const i = y - this.from + FULL_SIZE_REACH;
    this.linear.ensure(i, from, to, (x, end) => {
      const row = rowAddress(linear, i);
      const run = {
        at: sampleAddress(row, x),
        planeBytes: linear.planeBytes,
        n: end - x,
        x,
        y: reflect(y, height),
      };
      this.decode(this.source, run);
      // The margins mirror what has just been made, for a stretch at an edge reaches farther in than they do.
      kernels.mirrorRow(
        row,
        linear.planeBytes,
        this.planes,
        width,
        x === 0 ? MARGIN : 0,
        end === width ? marginAfter(linear) : 0,
      );
    });
  }

  private makeLevel(level: number, y: number, from: number, to: number): void {
    const { own, plan } = this;
    const out = own.levels[level - 1]!;
    const i = y - this.from;
    this.levels[level - 1]!.ensure(i, from, to, (x, end) => {
      const taps = PAIRED.full[level - 1]!;
      const reach = taps.length - 1;
      for (let r = -reach; r <= reach; r++) this.makeLinear(y + r, x - reach, end + reach);
      const rowOf = (row: number): number => rowAddress(own.linear, row - this.from + FULL_SIZE_REACH);
      this.blur(
        rowOf,
        y,
        taps,
        plan.taps.full[level - 1]!,
        own.linear.planeBytes,
        x,
        end,
        rowAddress(out, i),
        out.planeBytes,
      );
    });
  }

  /** Row y of the second level of an octave, made between two columns. */
  private secondRow(octave: number, y: number, from: number, to: number): number {
    const { own, plan } = this;
    const rows = own.seconds[octave - 1]!;
    const slot = y - (Math.floor(this.from / 2 ** octave) - 1);
    const row = rowAddress(rows, slot);
    const { width, planeBytes } = plan.octaves[octave - 1]!;
    this.seconds[octave - 1]!.ensure(slot, from, to, (x, end) => {
      const rowOf = (i: number): number => this.octaveRow(octave, i);
      this.blur(rowOf, y, PAIRED.second, plan.taps.second, planeBytes, x, end, row, rows.planeBytes);
      this.use.kernels.mirrorRow(
        row,
        rows.planeBytes,
        this.planes,
        width,
        x === 0 ? MARGIN : 0,
        end === width ? marginAfter(rows) : 0,
      );
    });
    return row;
  }

  /** A symmetric blur in both directions of columns x..end of row y. */
  private blur(
    rowOf: (y: number) => number,
    y: number,
    taps: Float32Array,
    tapsAt: number,
    plane: number,
    x: number,
    end: number,
    out: number,
    outPlane: number,
  ): void {
    const { own } = this;
    const { kernels, heap } = this.use;
    const reach = taps.length - 1;
    const left = x - MARGIN;
    for (let r = 0; r <= reach; r++) {
      this.point(2 * r, sampleAddress(rowOf(y - r), left));
      this.point(2 * r + 1, sampleAddress(rowOf(y + r), left));
    }
    heap.setFloats(own.weights, taps);
    const mixed = sampleAddress(own.row.at, left);
    const n = padded(end - x) + 2 * MARGIN;
    kernels.convolveColumnsSymmetric(
      own.pointers,
      own.weights,
      taps.length,
      plane,
      this.planes,
      mixed,
      own.row.planeBytes,
      n,
    );
    kernels.convolveRowSymmetric(
      sampleAddress(own.row.at, x),
      own.row.planeBytes,
      this.planes,
      tapsAt,
      reach,
      sampleAddress(out, x),
      outPlane,
      end - x,
    );
  }

  private octaveRow(k: number, y: number): number {
    const octave = this.plan.octaves[k - 1]!;
    return rowAddress(octave, reflect(y, octave.count));
  }
}
