import { diagonal, reflect } from '../../focus/geometry';
import {
  MARGIN,
  type Rows,
  type Run,
  type Use,
  marginAfter,
  padded,
  rowAt,
  sampleAt,
} from '../../render/arena';
import type { BlurFrame, BlurWish, BlurWorker, Source } from '../blur';
import { Made } from '../made';
import { Mixing, type Stretch } from '../mixing';
import { FARTHEST_OUTLINE, FRINGE, apertureTaps } from './aperture';
import type { LensPlan, LensRoom } from './lens';
import { HALVING, LENS_PLANES, OVERLAP, discTop, gatherReach, tintReach } from './levels';

const NO_SOURCE: Source = { pixels: null as never, tables: 0, planes: [] };
const MOST_REACH = gatherReach(2);

/**
 * One worker's share of lens blur. Levels are made in passes: light times its weight, halved again and again. The discs
 * of a strip are gathered where they are asked for, in stretches of 64 samples, each on the level that fits its size.
 */
export class LensWorker implements BlurWorker {
  private readonly own: LensRoom;
  private from = -1;
  private to = -1;
  private key = '';
  /** What the taps are of, and what the gathered discs are. */
  private aperture = '';
  private shape = '';
  private wish: BlurWish = { look: null as never, strength: 0, keeps: false };
  private source = NO_SOURCE;
  private readonly near: Made;
  private readonly gathered: Made[];
  private readonly mixing: Mixing;

  constructor(
    private readonly use: Use,
    private readonly plan: LensPlan,
    private readonly frame: BlurFrame,
    worker: number,
  ) {
    this.own = plan.workers[worker]!;
    this.near = new Made(this.own.near);
    this.gathered = this.own.gathered.map((rows) => new Made(rows));
    this.mixing = new Mixing(use, this.own.mix, plan.splines);
  }

  /** Rows of level i + 1, from the picture or from the level above. */
  pass(i: number, wish: BlurWish, source: Source, from: number, to: number): void {
    const { plan, own, frame } = this;
    const { kernels } = this.use;
    [this.wish, this.source] = [wish, source];
    const target = plan.levels[i]!;
    const above = i === 0 ? null : plan.levels[i - 1]!;
    const height = above ? above.count : frame.region.height;
    const held = new Int32Array(own.ring.count).fill(-1);
    const halvedRow = (y: number): number => {
      const row = reflect(y, height);
      const slot = row % own.ring.count;
      const out = rowAt(own.ring, slot);
      if (held[slot] === row) return out;
      held[slot] = row;
      const wide = above ?? this.weighExtended(row);
      // As many samples beyond the ends as halving reads.
      const start = (above ? rowAt(above, row) : wide.at) - 4 * MARGIN;
      const { admitted } = own;
      kernels.admitRow(start, wide.plane, admitted.at - 4 * MARGIN, admitted.plane, wide.width + 2 * MARGIN);
      kernels.halveRow(
        admitted.at,
        admitted.plane,
        LENS_PLANES,
        plan.halving,
        HALVING.length,
        own.split,
        out,
        own.ring.plane,
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
      const out = rowAt(target, y);
      kernels.weighPairs(
        own.pointers,
        own.weights,
        HALVING.length,
        own.ring.plane,
        LENS_PLANES,
        out,
        target.plane,
        padded(target.width),
      );
      kernels.settleRow(out, target.plane, target.width);
      this.mirror(out, target, target.width, target.margin, marginAfter(target));
    }
  }

  /** Row y of the picture, weighed, and mirrored to the extended width. */
  private weighExtended(y: number): Rows {
    const { decoded } = this.own;
    const { width } = this.frame.region;
    this.weigh(decoded.at, decoded.plane, 0, width, y);
    this.mirror(decoded.at, decoded, width, MARGIN, decoded.width - width + marginAfter(decoded));
    return decoded;
  }

  /** Columns x.. of row y of the picture, as a lens row. */
  private weigh(at: number, plane: number, x: number, n: number, y: number): void {
    const { kernels } = this.use;
    const { look, strength } = this.wish;
    const { threshold, stops, tint } = look.lens.highlights;
    if (stops > 0 && tint > 0) this.tinted(at, plane, x, n, y);
    else this.decode(at, plane, x, n, y);
    const haze = sampleAt(rowAt(this.frame.haze, y), x);
    kernels.weighLight(at, plane, n, haze, strength, threshold, 2 ** stops - 1);
  }

  private decode(at: number, plane: number, x: number, n: number, y: number): void {
    const { pixels, tables, planes } = this.source;
    pixels.decode(this.use.kernels, tables, planes, { at, plane, n, x, y });
  }

  /** Columns x.. of row y, clipped light in the colour of its surroundings. */
  private tinted(at: number, plane: number, x: number, n: number, y: number): void {
    const { context, sums } = this.own;
    const { threshold, tint } = this.wish.look.lens.highlights;
    const { width, picture } = this.frame.region;
    const reach = tintReach(diagonal(picture));
    const from = Math.max(0, x - reach);
    const count = Math.min(width, x + n + reach) - from;
    this.decode(context.at, context.plane, from, count, y);
    this.use.kernels.tintRow(
      context.at,
      context.plane,
      count,
      reach,
      threshold,
      tint,
      sums,
      x - from,
      n,
      at,
      plane,
    );
  }

  /** Fills so many samples before the n of all planes of a row, and after them. */
  private mirror(at: number, { plane }: Rows, n: number, before: number, after: number): void {
    this.use.kernels.mirrorRow(at, plane, LENS_PLANES, n, before, after);
  }

  private point(i: number, row: number): void {
    this.use.heap.setWord(this.own.pointers + 4 * i, row);
  }

  begin(wish: BlurWish, source: Source, key: string, from: number, to: number): void {
    this.wish = wish;
    this.source = source;
    const { blades, roundness, rotation, squeeze, rim, fringe } = wish.look.lens;
    const aperture = [blades, roundness, rotation, squeeze].join();
    const shape = [aperture, rim, fringe].join();
    const isSame = from === this.from && to === this.to && key === this.key;
    if (aperture !== this.aperture) this.fillTaps();
    if (!isSame) this.near.clear();
    if (!isSame || shape !== this.shape) for (const made of this.gathered) made.clear();
    [this.from, this.to, this.key] = [from, to, key];
    [this.aperture, this.shape] = [aperture, shape];
  }

  private fillTaps(): void {
    const { own } = this;
    const { heap } = this.use;
    const { list, counts } = apertureTaps(this.wish.look.lens, discTop(2));
    list.forEach(([dy, dx, scale, reach], i) => {
      const at = own.taps + 16 * i;
      heap.setWord(at, 4 * (dy + MOST_REACH));
      heap.setWord(at + 4, 4 * dx);
      heap.setFloats(at + 8, [scale, reach]);
    });
    counts.forEach((count, i) => heap.setWord(own.counts + 4 * i, count));
  }

  fill(run: Run, haze: number): void {
    const { own, plan, mixing } = this;
    const { level, spans } = own.mix;
    const { strength } = this.wish;
    this.use.kernels.discLevelRow(haze, level, run.n, strength, plan.tops, plan.levels.length, spans);
    for (const [k, stretch] of mixing.stretchesOf(run).entries()) {
      if (stretch.to < 0) continue;
      if (k === 0) this.gatherNear(run.y, stretch);
      else
        mixing.spread(k, k, run.y, stretch, own.gathered[k - 1]!.plane, (row, left, right) =>
          this.gatherFar(k, row, left, right),
        );
    }
    mixing.mix(run);
  }

  /** Discs in a stretch of row y at full size. */
  private gatherNear(y: number, { from, to }: Stretch): void {
    const { own } = this;
    const reach = this.reachOf(0);
    for (let dy = -reach; dy <= reach; dy++)
      this.point(MOST_REACH + dy, this.nearRow(y + dy, from - reach, to + reach));
    const end = OVERLAP * (this.plan.topRadii[0] ?? Infinity);
    this.gather(own.near.plane, 0, from, to - from, end, own.row.at, own.row.plane);
    this.mixing.point(0, own.row.at, own.row.plane);
  }

  /** Rows or samples around that the discs of a level reach. */
  private reachOf(level: number): number {
    const { strength } = this.wish;
    return Math.min(
      gatherReach(level),
      Math.ceil((strength / 2 ** level) * (1 + FRINGE) * FARTHEST_OUTLINE) + 1,
    );
  }

  /** The picture's row y as a lens row, columns from..to of it made. */
  private nearRow(y: number, from: number, to: number): number {
    const { near } = this.own;
    const { width, height } = this.frame.region;
    const i = y - this.from + gatherReach(0);
    const row = rowAt(near, i);
    this.near.make(i, from, to, (x, end) => {
      this.weigh(sampleAt(row, x), near.plane, x, end - x, reflect(y, height));
      this.mirror(row, near, width, x === 0 ? near.margin : 0, end === width ? marginAfter(near) : 0);
    });
    return row;
  }

  /** Row y of a level's discs, made between two columns. */
  private gatherFar(level: number, y: number, from: number, to: number): number {
    const rows = this.own.gathered[level - 1]!;
    const source = this.plan.levels[level - 1]!;
    const slot = y - (Math.floor(this.from / 2 ** level) - 1);
    const row = rowAt(rows, slot);
    this.gathered[level - 1]!.make(slot, from, to, (x, end) => {
      const reach = this.reachOf(level);
      for (let dy = -reach; dy <= reach; dy++)
        this.point(MOST_REACH + dy, rowAt(source, reflect(y + dy, source.count)));
      this.gather(source.plane, level, x, end - x, 0, row, rows.plane);
      this.use.kernels.mirrorRow(
        row,
        rows.plane,
        3,
        rows.width,
        x === 0 ? MARGIN : 0,
        end === rows.width ? marginAfter(rows) : 0,
      );
    });
    return row;
  }

  private gather(
    plane: number,
    level: number,
    x: number,
    n: number,
    end: number,
    out: number,
    outPlane: number,
  ): void {
    const { own } = this;
    const { rim, fringe } = this.wish.look.lens;
    const top = discTop(level) / (1 + FRINGE);
    this.use.kernels.gatherDiscs(
      own.pointers,
      MOST_REACH,
      plane,
      x,
      n,
      own.taps,
      own.counts,
      top,
      end,
      out,
      outPlane,
      rim,
      fringe * FRINGE,
    );
  }
}
