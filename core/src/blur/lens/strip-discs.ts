import { BLOCK_BYTES } from '../../kernels';
import { diagonal, reflect } from '../../geometry/size';
import {
  type KernelContext,
  MARGIN,
  type Rows,
  marginAfter,
  rowAddress,
  sampleAddress,
  writeBlock,
} from '../../memory';
import type { BlurRequest, BlurSetup, OpticalAxis, Source } from '../blur';
import { ComputedSegments } from '../computed-segments';
import { FRINGE } from './aperture';
import { MAX_REACH, fillTaps, roomOfDiscs } from './disc-level';
import type { LensRows } from './lens-rows';
import { CROSSFADE, gatherReach, maxDiscSamples, reachOf } from './levels';
import type { LensPlan, LensScratch } from './plan';
import { maxForegroundRadius } from './tiles';

const CENTRED: OpticalAxis = { middle: [0.5, 0.5], reach: 0.5 };

/** The discs of a strip, gathered from the levels of the picture where they are asked for, and kept. */
export class StripDiscs {
  private readonly levels: readonly Rows[];
  private readonly near: Rows;
  private readonly nearMade: ComputedSegments;
  private readonly gathered: readonly Rows[];
  private readonly gatheredMade: ComputedSegments[];
  /** What the rows, taps and discs that are kept were made for. */
  private made = { from: -1, to: -1, key: '', aperture: '', shape: '' };
  private wish!: BlurRequest;
  private source!: Source;

  constructor(
    private readonly use: KernelContext,
    private readonly plan: LensPlan,
    private readonly frame: BlurSetup,
    private readonly own: LensScratch,
    private readonly rows: LensRows,
  ) {
    this.levels = plan.levels;
    this.near = own.near;
    this.nearMade = new ComputedSegments(own.near);
    this.gathered = own.gathered;
    this.gatheredMade = own.gathered.map((rows) => new ComputedSegments(rows));
  }

  /** Rows from..to are gathered next; what was made for the same rows stays where the key, and the aperture, are the same. */
  begin(wish: BlurRequest, source: Source, key: string, from: number, to: number): void {
    const { blades, roundness, rotation, squeeze, rim, fringe, cat } = wish.look.lens;
    const aperture = [blades, roundness, rotation, squeeze].join();
    const shape = [aperture, rim, fringe, cat, JSON.stringify(wish.look.axis)].join();
    const { made } = this;
    const isSame = from === made.from && to === made.to && key === made.key;
    if (aperture !== made.aperture) fillTaps(this.own.discs, this.use.heap, wish.look.lens);
    if (!isSame) this.nearMade.clear();
    if (!isSame || shape !== made.shape) for (const one of this.gatheredMade) one.clear();
    this.made = { from, to, key, aperture, shape };
    [this.wish, this.source] = [wish, source];
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
    const { near, wish, source } = this;
    const { width, height } = this.frame.region;
    const i = y - this.made.from + gatherReach(0);
    const row = rowAddress(near, i);
    this.nearMade.ensure(i, from, to, (x, end) => {
      this.rows.read(wish, source, sampleAddress(row, x), near.planeBytes, x, end - x, reflect(y, height));
      this.rows.mirror(row, near, width, x === 0 ? near.margin : 0, end === width ? marginAfter(near) : 0);
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
    const slot = y - (Math.floor(this.made.from / 2 ** level) - 1);
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
