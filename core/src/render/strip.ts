import { linearTable } from '../colour/transfer';
import { FieldRows } from '../focus/field-rows';
import type { Kernels } from '../kernels';
import { splineWeights } from '../optics/gaussian';
import { FIRST_VARIANCE, FULL_SIZE_REACH, STACK_TAPS, levelOf, levelPlace } from '../optics/levels';
import { hazeRamp } from './haze-map';
import type { Look } from './look';
import { MARGIN, type RenderPlan, bareStride, fullSigma, paddedStride, secondRows } from './plan';

/** Index of a sample of a picture mirrored at both edges: … c b a | a b c …. */
export function reflect(i: number, n: number): number {
  const period = 2 * n;
  const k = ((i % period) + period) % period;
  return k < n ? k : period - 1 - k;
}

/** How far a level in single precision may lie from the exact one. */
const ROUNDING = 1e-3;

/** What a strip is turned into. */
export type StripContent = 'picture' | 'haze-map' | 'haze16';

/** Writes the tables that all workers read; called once, before any strip. */
export function fillTables(plan: RenderPlan, memory: WebAssembly.Memory): void {
  const put = (at: number, values: ArrayLike<number>): void =>
    new Float32Array(memory.buffer, at).set(values);
  put(plan.linearTable, linearTable(plan.format.bytes));
  STACK_TAPS.full.forEach((taps, i) => put(plan.fullTaps[i]!, taps));
  put(plan.firstHalvingTaps, STACK_TAPS.firstHalving);
  put(plan.halvingTaps, STACK_TAPS.halving);
  put(plan.secondTaps, STACK_TAPS.second);
  plan.splines.forEach((at, i) => put(at, splineTable(2 ** (i + 1))));
  new Uint8Array(memory.buffer, plan.ramp, 4096).set(hazeRamp());
}

/** B-spline weights as `mixRow` reads them: for each phase of four pixels the three weights' vectors. */
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

/**
 * One worker's share of a render. A strip's levels stay in memory until another strip is asked for, so that rendering
 * the same rows with another focus, or other colours, only mixes anew.
 */
export class StripRenderer {
  private readonly own;
  private readonly field: FieldRows;
  private readonly words: Int32Array;
  private readonly floats: Float32Array;
  private readonly ringRows = new Int32Array(12).fill(-1);
  private from = -1;
  private to = -1;
  private hasLinear = false;
  /** Blur and colour of the picture that the strip's output holds; empty where it holds none. */
  private shownKey = '';
  private readonly ready = new Set<number>();

  /** `worker` says which of the plan's workers this is. */
  constructor(
    private readonly kernels: Kernels,
    private readonly plan: RenderPlan,
    private readonly memory: WebAssembly.Memory,
    worker: number,
  ) {
    this.own = plan.workers[worker]!;
    this.words = new Int32Array(memory.buffer);
    this.floats = new Float32Array(memory.buffer);
    this.field = new FieldRows(kernels, memory, this.own.field, plan.region);
  }

  /** Computes rows from..to of octave `k` (1 is half size) from the octave above it, which must be complete. */
  buildOctave(k: number, from: number, to: number): void {
    const { plan, kernels, own } = this;
    const target = plan.octaves[k - 1]!;
    const taps = k === 1 ? STACK_TAPS.firstHalving : STACK_TAPS.halving;
    const tapsAt = k === 1 ? plan.firstHalvingTaps : plan.halvingTaps;
    const half = taps.length;
    const stride = k === 1 ? paddedStride(plan.extended.width) : plan.octaves[k - 2]!.stride;
    const rowOf = k === 1 ? (y: number) => this.ringRow(y) : (y: number) => this.octaveRow(k - 1, y);
    this.ringRows.fill(-1);
    for (let y = from; y < to; y++) {
      const rows: number[] = [];
      const weights: number[] = [];
      for (let r = -half; r < half; r++) {
        rows.push(rowOf(2 * y + 1 + r));
        weights.push(taps[r < 0 ? -r - 1 : r]!);
      }
      this.weigh(rows, weights, own.row, 3 * stride);
      const out = this.octaveRow(k, y);
      kernels.halveRow(
        own.row + MARGIN * 4,
        stride * 4,
        tapsAt,
        half,
        out + MARGIN * 4,
        target.stride * 4,
        target.width,
      );
      kernels.mirrorRow(
        out + MARGIN * 4,
        target.stride * 4,
        target.width,
        MARGIN,
        target.stride - target.width - MARGIN,
      );
    }
  }

  /**
   * Renders rows from..to of the region into the output: as a picture, as the coloured haze map, or as the haze itself,
   * one 16-bit sample a pixel (65535 is haze 1).
   */
  renderStrip(look: Look, from: number, to: number, content: StripContent): void {
    this.fillStrip(look, from, to, content);
    Atomics.add(this.words, this.plan.finished >> 2, 1);
  }

  private fillStrip(look: Look, from: number, to: number, content: StripContent): void {
    const { plan, kernels } = this;
    const { width } = plan.region;
    const { range } = this.own;
    if (from !== this.from || to !== this.to) this.forget(from, to);
    this.field.fill(look.field, from, to);
    if (content !== 'picture') this.shownKey = '';
    if (content === 'haze-map') {
      for (let y = from; y < to; y++)
        kernels.hazeMapRow(this.field.row(y), width, plan.ramp, plan.output + y * width * 4);
      return;
    }
    if (content === 'haze16') {
      const samples = new Uint16Array(this.memory.buffer, plan.output, plan.region.height * width);
      for (let y = from; y < to; y++) {
        const row = this.field.row(y) >> 2;
        for (let x = 0; x < width; x++) samples[y * width + x] = Math.round(this.floats[row + x]! * 65535);
      }
      return;
    }
    const sigma = fullSigma(look.blur, plan.region.picture);
    const scale = sigma / Math.sqrt(FIRST_VARIANCE);
    const saturation = look.colour.on ? look.colour.saturation : 0;
    const key = `${sigma} ${saturation}`;
    const isFresh = this.shownKey !== key;
    this.shownKey = key;
    for (let y = from; y < to; y++) {
      // A row whose haze is the same as in the last picture is in the output already.
      const changed = kernels.keepChanged(this.field.row(y), this.shownRow(y), width);
      if (!changed && !isFresh) continue;
      kernels.levelRow(this.field.row(y), width, scale, range);
      const [low, high] = this.floats.subarray(range >> 2, (range >> 2) + 2) as unknown as [number, number];
      this.finishRow(y, levelOf(low * sigma), levelOf(high * sigma), saturation);
    }
  }

  /** Byte offset of the haze that a row of the output was made of. */
  private shownRow(y: number): number {
    return this.own.shown + (y - this.from) * bareStride(this.plan.region.width) * 4;
  }

  private forget(from: number, to: number): void {
    this.shownKey = '';
    this.from = from;
    this.to = to;
    this.hasLinear = false;
    this.ready.clear();
  }

  private finishRow(y: number, low: number, high: number, saturation: number): void {
    const { plan, kernels, own } = this;
    const { width, x: px, y: py } = plan.region;
    const { channels, bytes } = plan.format;
    const rowBytes = width * channels * bytes;
    const source = plan.source + y * rowBytes;
    const output = plan.output + y * rowBytes;
    const neutral = saturation === 0;
    if (neutral && high === 0) {
      new Uint8Array(this.memory.buffer).copyWithin(output, source, source + rowBytes);
      return;
    }
    // The kernel computes levels in single precision: a hair of room on both sides.
    const last = Math.min(plan.topLevel, Math.ceil(high + ROUNDING));
    for (let level = Math.max(0, Math.floor(low - ROUNDING)); level <= last; level++) this.pointTo(level, y);
    const plane = bareStride(width) * 4;
    kernels.mixRow(this.field.row(y), width, own.table, own.mixed, plane);
    if (!neutral) kernels.saturateRow(own.mixed, plane, width, saturation);
    const level = this.field.row(y);
    if (bytes === 1)
      kernels.encodeRow8(own.mixed, plane, level, neutral, source, channels, output, width, px, py + y);
    else kernels.encodeRow16(own.mixed, plane, level, neutral, source, channels, output, width);
  }

  /** Makes sure that a level is ready for the strip and points the mixing table at its row y. */
  private pointTo(level: number, y: number): void {
    const { own, plan } = this;
    const { octave, index } = levelPlace(level);
    if (!this.ready.has(level)) this.prepare(level);
    const entry = (own.table >> 2) + level * 4;
    if (octave === 0) {
      const { width } = plan.region;
      const stride = level === 0 ? paddedStride(width) : bareStride(width);
      const base =
        level === 0
          ? this.linearRow(y) + MARGIN * 4
          : own.levels[level - 1]! + (y - this.from) * 3 * stride * 4;
      this.words.set([base, stride * 4, 0, 0], entry);
      return;
    }
    const { stride } = plan.octaves[octave - 1]!;
    const scale = 2 ** octave;
    const i = Math.floor(y / scale);
    const rows = [i - 1, i, i + 1].map((row) =>
      index === 0 ? this.octaveRow(octave, row) : this.secondRow(octave, row),
    );
    const blended = own.blended[(octave - 1) * 2 + index]!;
    this.weigh(rows, splineWeights((y + 0.5) / scale - 0.5 - i), blended, 3 * stride);
    this.words.set([blended + MARGIN * 4, stride * 4, octave, plan.splines[octave - 1]!], entry);
  }

  private prepare(level: number): void {
    const { octave, index } = levelPlace(level);
    if (octave === 0) {
      this.decodeStrip();
      if (level > 0) this.blurStrip(level);
    } else if (index === 1) this.blurOctave(octave);
    this.ready.add(level);
  }

  /** The strip's rows in linear light, and the rows around it that the full-size kernels reach. */
  private decodeStrip(): void {
    if (this.hasLinear) return;
    const { width, height } = this.plan.region;
    const stride = paddedStride(width);
    for (let y = this.from - FULL_SIZE_REACH; y < this.to + FULL_SIZE_REACH; y++) {
      this.decode(reflect(y, height), this.linearRow(y), stride);
    }
    this.hasLinear = true;
  }

  private decode(y: number, row: number, stride: number): void {
    const { plan, kernels } = this;
    const { width } = plan.region;
    const { channels, bytes } = plan.format;
    const source = plan.source + y * width * channels * bytes;
    kernels.decodeRow(source, channels, bytes, plan.linearTable, row + MARGIN * 4, stride * 4, width);
    kernels.mirrorRow(row + MARGIN * 4, stride * 4, width, MARGIN, stride - width - MARGIN);
  }

  private blurStrip(level: number): void {
    const { width } = this.plan.region;
    const taps = STACK_TAPS.full[level - 1]!;
    const at = { taps: this.plan.fullTaps[level - 1]!, stride: paddedStride(width), width };
    const out = this.own.levels[level - 1]!;
    const outStride = bareStride(width);
    for (let y = this.from; y < this.to; y++) {
      this.blur(
        (row) => this.linearRow(row),
        y,
        taps,
        at,
        out + (y - this.from) * 3 * outStride * 4,
        outStride,
      );
    }
  }

  private blurOctave(octave: number): void {
    const { plan } = this;
    const { width, stride } = plan.octaves[octave - 1]!;
    const [first, last] = this.secondSpan(octave);
    for (let y = first; y <= last; y++) {
      const out = this.secondRow(octave, y) + MARGIN * 4;
      this.blur(
        (row) => this.octaveRow(octave, row),
        y,
        STACK_TAPS.second,
        { taps: plan.secondTaps, stride, width },
        out,
        stride,
      );
      this.kernels.mirrorRow(out, stride * 4, width, MARGIN, stride - width - MARGIN);
    }
  }

  /** A symmetric blur in both directions of one row; `out` points to its first sample. */
  private blur(
    rowOf: (y: number) => number,
    y: number,
    taps: Float32Array,
    at: { taps: number; stride: number; width: number },
    out: number,
    outStride: number,
  ): void {
    const radius = taps.length - 1;
    const rows: number[] = [];
    const weights: number[] = [];
    for (let r = -radius; r <= radius; r++) {
      rows.push(rowOf(y + r));
      weights.push(taps[Math.abs(r)]!);
    }
    this.weigh(rows, weights, this.own.row, 3 * at.stride);
    this.kernels.blurRow(
      this.own.row + MARGIN * 4,
      at.stride * 4,
      at.taps,
      radius,
      out,
      outStride * 4,
      at.width,
    );
  }

  private weigh(rows: readonly number[], weights: readonly number[], out: number, n: number): void {
    const { own } = this;
    this.words.set(rows, own.pointers >> 2);
    this.floats.set(weights, own.weights >> 2);
    this.kernels.weighRows(own.pointers, own.weights, rows.length, out, n);
  }

  private linearRow(y: number): number {
    const row = 3 * paddedStride(this.plan.region.width) * 4;
    return this.own.linear + (y - this.from + FULL_SIZE_REACH) * row;
  }

  private octaveRow(k: number, y: number): number {
    const octave = this.plan.octaves[k - 1]!;
    return octave.pointer + reflect(y, octave.height) * 3 * octave.stride * 4;
  }

  /** First and last row of an octave that the strip reads. */
  private secondSpan(octave: number): [number, number] {
    return [Math.floor(this.from / 2 ** octave) - 1, Math.floor((this.to - 1) / 2 ** octave) + 1];
  }

  private secondRow(octave: number, y: number): number {
    const { stride } = this.plan.octaves[octave - 1]!;
    const slot = y - this.secondSpan(octave)[0];
    if (slot < 0 || slot >= secondRows(this.plan.stripRows, octave))
      throw new RangeError('A strip reads beyond its rows.');
    return this.own.seconds[octave - 1]! + slot * 3 * stride * 4;
  }

  /** A decoded row, extended to the stack's width; the last twelve are kept. */
  private ringRow(y: number): number {
    const row = reflect(y, this.plan.region.height);
    const stride = paddedStride(this.plan.extended.width);
    const slot = row % this.ringRows.length;
    const at = this.own.ring + slot * 3 * stride * 4;
    if (this.ringRows[slot] !== row) {
      this.decode(row, at, stride);
      this.ringRows[slot] = row;
    }
    return at;
  }
}
