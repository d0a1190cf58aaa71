import { diagonal, reflect } from '../../geometry/size';
import {
  MARGIN,
  type Rows,
  type KernelContext,
  marginAfter,
  padded,
  rowAddress,
  sampleAddress,
  writeBlock,
} from '../../memory';
import { BLOCK_BYTES } from '../../kernels';
import type { BlurSetup, BlurRequest, OpticalAxis, Source } from '../blur';
import { ComputedSegments } from '../computed-segments';
import { lampsIn } from './lamps';
import { FRINGE } from './aperture';
import { MAX_REACH, roomOfDiscs } from './disc-level';
import type { LensPlan, LensScratch } from './plan';
import { maxForegroundRadius } from './tiles';
import { HALVING, LENS_PLANES, CROSSFADE, maxDiscSamples, gatherReach, reachOf } from './levels';

const NO_SOURCE: Source = { key: '', pixels: null as never, tables: 0, planes: [] };
const CENTRED: OpticalAxis = { middle: [0.5, 0.5], reach: 0.5 };

/** One worker's share of the levels of a picture, and of the discs that are gathered from them. */
export class LensLevels {
  private readonly levels: readonly Rows[];
  private readonly near: Rows;
  private readonly nearMade: ComputedSegments;
  private readonly gathered: readonly Rows[];
  private readonly gatheredMade: ComputedSegments[];
  private from = -1;
  private wish: BlurRequest = { look: null as never, strength: 0, keeps: false };
  private source = NO_SOURCE;

  constructor(
    private readonly use: KernelContext,
    private readonly plan: LensPlan,
    private readonly frame: BlurSetup,
    private readonly own: LensScratch,
  ) {
    this.levels = plan.levels;
    this.near = own.near;
    this.nearMade = new ComputedSegments(own.near);
    this.gathered = own.gathered;
    this.gatheredMade = own.gathered.map((rows) => new ComputedSegments(rows));
  }

  /** Says what is blurred; `rowsStay` and `discsStay` where what was made of it for the strip is still good. */
  begin(wish: BlurRequest, source: Source, from: number, rowsStay: boolean, discsStay: boolean): void {
    [this.wish, this.source, this.from] = [wish, source, from];
    if (!rowsStay) this.nearMade.clear();
    if (!discsStay) for (const made of this.gatheredMade) made.clear();
    for (let level = 0; level <= this.levels.length; level++) this.writeLevel(level);
  }

  /** Writes what the kernels are told of a level's discs, the same for all rows of a strip. */
  private writeLevel(level: number): void {
    const { own, plan, use, wish } = this;
    const { isNear } = this.frame;
    const { rim, fringe, cat } = wish.look.lens;
    const scale = 2 ** level;
    const [under, over] = [plan.topRadii[level - 1] ?? 0, plan.topRadii[level] ?? 0];
    writeBlock(use.heap, this.blockOf(level), 'DiscLevel', {
      ...roomOfDiscs(own.discs, cat !== 0),
      plane: (level === 0 ? this.near : this.levels[level - 1]!).planeBytes,
      // What is near is told apart by its level; else a disc that is smaller than the level's is gathered, too.
      top: isNear ? over / scale : maxDiscSamples(level) / (1 + FRINGE),
      bound: isNear ? under / scale : level === 0 ? CROSSFADE * (plan.topRadii[0] ?? Infinity) : 0,
      outPlane: level === 0 ? own.row.planeBytes : this.planeOf(level),
      rim,
      fringe: fringe * FRINGE,
      unit: scale * scale,
    });
  }

  private blockOf(level: number): number {
    return this.own.discs.blocks + level * BLOCK_BYTES;
  }

  /** Rows of level i + 1, from the picture or from the level above. */
  pass(i: number, wish: BlurRequest, source: Source, from: number, to: number): void {
    const { plan, own, frame } = this;
    const { kernels } = this.use;
    [this.wish, this.source] = [wish, source];
    const target = this.levels[i]!;
    const above = i === 0 ? null : this.levels[i - 1]!;
    const height = above ? above.count : frame.region.height;
    const held = new Int32Array(own.ring.count).fill(-1);
    const halvedRow = (y: number): number => {
      const row = reflect(y, height);
      const slot = row % own.ring.count;
      const out = rowAddress(own.ring, slot);
      if (held[slot] === row) return out;
      held[slot] = row;
      const wide = above ?? this.weighExtended(row);
      // As many samples beyond the ends as halving reads.
      const start = (above ? rowAddress(above, row) : wide.at) - 4 * MARGIN;
      const { admitted } = own;
      kernels.prefilterDiscRow(
        start,
        wide.planeBytes,
        admitted.at - 4 * MARGIN,
        admitted.planeBytes,
        wide.width + 2 * MARGIN,
      );
      const halving = this.use.parameters('Halving', {
        taps: plan.halving,
        half: HALVING.length,
        split: own.split,
      });
      kernels.downsampleRow(
        admitted.at,
        admitted.planeBytes,
        LENS_PLANES,
        halving,
        out,
        own.ring.planeBytes,
        target.width,
      );
      return out;
    };
    this.use.heap.setFloats(own.weights, HALVING);
    for (let y = from; y < to; y++) {
      for (const r of HALVING.keys()) {
        this.point(2 * r, halvedRow(2 * y - r));
        this.point(2 * r + 1, halvedRow(2 * y + 1 + r));
      }
      const out = rowAddress(target, y);
      kernels.convolveColumnsSymmetric(
        own.discs.rows,
        own.weights,
        HALVING.length,
        own.ring.planeBytes,
        LENS_PLANES,
        out,
        target.planeBytes,
        padded(target.width),
      );
      kernels.unpackDiscRadiusRow(out, target.planeBytes, target.width);
      this.mirror(out, target, target.width, target.margin, marginAfter(target));
    }
  }

  /** Row y of the picture, weighed, and mirrored to the extended width. */
  private weighExtended(y: number): Rows {
    const { decoded } = this.own;
    const { width } = this.frame.region;
    this.weigh(decoded.at, decoded.planeBytes, 0, width, y);
    this.mirror(decoded.at, decoded, width, MARGIN, decoded.width - width + marginAfter(decoded));
    return decoded;
  }

  /** Columns x.. of row y of the picture, as a lens row. */
  private weigh(at: number, plane: number, x: number, n: number, y: number): void {
    const { kernels } = this.use;
    const { look, strength } = this.wish;
    const { threshold, stops, tint } = look.lens.highlights;
    this.decode(at, plane, x, n, y);
    if (stops > 0 && tint > 0)
      lampsIn(this.use.heap, this.plan.lamps, x, n, y, (from, to, colour) =>
        kernels.recolourClippedSpan(sampleAddress(at, from - x), plane, to - from, colour, threshold, tint),
      );
    const haze = sampleAddress(rowAddress(this.frame.haze, y), x);
    kernels.packDiscRow(at, plane, n, haze, strength, threshold, 2 ** stops - 1, Number(this.frame.isNear));
  }

  private decode(at: number, plane: number, x: number, n: number, y: number): void {
    const { pixels, tables, planes } = this.source;
    pixels.decode(this.use, tables, planes, { at, planeBytes: plane, n, x, y });
  }

  /** Fills so many samples before the n of all planes of a row, and after them. */
  private mirror(at: number, { planeBytes }: Rows, n: number, before: number, after: number): void {
    this.use.kernels.mirrorRow(at, planeBytes, LENS_PLANES, n, before, after);
  }

  private point(i: number, row: number): void {
    this.use.heap.setInt32(this.own.discs.rows + 4 * i, row);
  }

  /** Discs of columns x..x + n of row y at full size, as a row of three planes for the whole picture. */
  gatherFull(y: number, x: number, n: number): Rows {
    const { row } = this.own;
    const most = this.mostAround(0, x, n, y);
    const reach = reachOf(0, most);
    for (let dy = -reach; dy <= reach; dy++)
      this.point(MAX_REACH + dy, this.nearRow(y + dy, x - reach, x + n + reach));
    this.gather(0, x, n, y, most, row.at);
    return row;
  }

  /** The picture's row y as a lens row, columns from..to of it made. */
  private nearRow(y: number, from: number, to: number): number {
    const { near } = this;
    const { width, height } = this.frame.region;
    const i = y - this.from + gatherReach(0);
    const row = rowAddress(near, i);
    this.nearMade.ensure(i, from, to, (x, end) => {
      this.weigh(sampleAddress(row, x), near.planeBytes, x, end - x, reflect(y, height));
      this.mirror(row, near, width, x === 0 ? near.margin : 0, end === width ? marginAfter(near) : 0);
    });
    return row;
  }

  /** Largest radius (px) of the level's discs that reach samples x..x + n of row y. */
  private mostAround(level: number, x: number, n: number, y: number): number {
    const { frame, wish, plan, use } = this;
    if (!frame.isNear) return wish.strength;
    const scale = 2 ** level;
    const part = { x: x * scale, y: y * scale, width: n * scale, height: scale };
    return maxForegroundRadius(use.heap, plan, wish.strength, level, part);
  }

  /** Row y of a level's discs, made between two columns. */
  gatherFar(level: number, y: number, from: number, to: number): number {
    const rows = this.gathered[level - 1]!;
    const source = this.levels[level - 1]!;
    const slot = y - (Math.floor(this.from / 2 ** level) - 1);
    const row = rowAddress(rows, slot);
    this.gatheredMade[level - 1]!.ensure(slot, from, to, (x, end) => {
      const most = this.mostAround(level, x, end - x, y);
      const reach = reachOf(level, most);
      for (let dy = -reach; dy <= reach; dy++)
        this.point(MAX_REACH + dy, rowAddress(source, reflect(y + dy, source.count)));
      this.gather(level, x, end - x, y, most, row);
      this.use.kernels.mirrorRow(
        row,
        rows.planeBytes,
        this.frame.isNear ? 4 : 3,
        rows.width,
        x === 0 ? MARGIN : 0,
        end === rows.width ? marginAfter(rows) : 0,
      );
    });
    return row;
  }

  /** Bytes between the planes of a level's gathered rows. */
  planeOf(level: number): number {
    return this.gathered[level - 1]!.planeBytes;
  }

  /** How the discs of a level's row y are cut towards the corners. */
  private cutAt(level: number, y: number): readonly [number, number, number] | null {
    const { look } = this.wish;
    const { cat } = look.lens;
    if (cat === 0) return null;
    const { x: left, y: top, picture } = this.frame.region;
    const { middle, reach } = look.axis ?? CENTRED;
    const scale = 2 ** level;
    const each = cat / (reach * diagonal(picture));
    const shift = (at: number, start: number, centre: number): number =>
      (start + (at + 0.5) * scale - centre) * each;
    return [
      shift(0, left, middle[0] * picture.width),
      scale * each,
      shift(y, top, middle[1] * picture.height),
    ];
  }

  /** Makes samples x..x + n of a level's row y from the rows that were pointed to. */
  private gather(level: number, x: number, n: number, y: number, most: number, out: number): void {
    const { discs } = this.own;
    const { kernels, heap } = this.use;
    const cut = this.cutAt(level, y);
    if (cut) heap.setFloats(discs.cat, cut);
    const block = this.blockOf(level);
    if (!this.frame.isNear) return kernels.gatherDiscs(block, x, x + n, out);
    const largest = Math.min(maxDiscSamples(level), (most / 2 ** level) * (1 + FRINGE));
    const count = heap.int32(discs.counts + 4 * Math.ceil(largest * 4));
    kernels.scatterDiscs(block, x, x + n, count, out);
  }
}
