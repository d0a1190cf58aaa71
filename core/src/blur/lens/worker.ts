import { type Run, type Use, rowAt, sampleAt } from '../../render/arena';
import type { BlurFrame, BlurWish, BlurWorker, Source } from '../blur';
import { Mixing } from '../mixing';
import { apertureTaps } from './aperture';
import { BEHIND, LensLayer, MOST_REACH, NEAR, WHOLE } from './layer';
import type { LensPlan, LensRoom } from './lens';
import { findLamps } from './lamps';
import { discTop } from './levels';
import { TILE, mostNear } from './tiles';

/**
 * One worker's share of lens blur. Levels are made in passes: light times its weight, halved again and again. The discs
 * of a strip are gathered where they are asked for, in stretches of 64 samples, each on the level that fits its size.
 *
 * Under a depth map the picture is two layers. What is nearer than the depth in focus is hazier the nearer it is, so by
 * the pair rule its light always spreads as far as its own disc, whatever lies below: that sum is the same for all pixels
 * and is laid over what is gathered from the rest.
 */
export class LensWorker implements BlurWorker {
  private readonly own: LensRoom;
  private from = -1;
  private to = -1;
  private key = '';
  private lampsOf = '';
  /** What the taps are of, and what the gathered discs are. */
  private aperture = '';
  private shape = '';
  private wish: BlurWish = { look: null as never, strength: 0, keeps: false };
  private readonly behind: LensLayer;
  private readonly near: LensLayer | null;
  private readonly mixing: Mixing;
  private readonly overMixing: Mixing;

  constructor(
    private readonly use: Use,
    private readonly plan: LensPlan,
    private readonly frame: BlurFrame,
    worker: number,
  ) {
    this.own = plan.workers[worker]!;
    const isLayered = plan.tiles !== null;
    this.behind = new LensLayer(use, plan, frame, this.own, isLayered ? BEHIND : WHOLE, 0);
    this.near = isLayered ? new LensLayer(use, plan, frame, this.own, NEAR, 1) : null;
    this.mixing = new Mixing(use, this.own.mix, plan.splines);
    this.overMixing = new Mixing(use, this.own.overMix, plan.splines);
    this.mixing.isWeighed = isLayered;
    this.overMixing.isWeighed = true;
  }

  pass(i: number, wish: BlurWish, source: Source, from: number, to: number): void {
    this.wish = wish;
    const { near } = this;
    if (i === 0) this.findLamps(source);
    else if (!near) this.behind.pass(i - 1, wish, source, from, to);
    else if (i === 1) this.measureTiles(from, to);
    else for (const layer of [this.behind, near]) layer.pass(i - 2, wish, source, from, to);
  }

  /** Looks for spots of clipped light, where they are to get a colour, unless that was done for the same picture. */
  private findLamps({ key, pixels, tables, planes }: Source): void {
    const { kernels, heap } = this.use;
    const { region } = this.frame;
    const { threshold, stops, tint } = this.wish.look.lens.highlights;
    const of = `${key} ${threshold}`;
    if (stops === 0 || tint === 0 || of === this.lampsOf) return;
    findLamps(heap, this.plan.lamps, region, region.picture, threshold, (at, plane, y) =>
      pixels.decode(kernels, tables, planes, { at, plane, n: region.width, x: 0, y }),
    );
    this.lampsOf = of;
  }

  /** Least and most haze of what is near, in rows from..to of tiles. */
  private measureTiles(from: number, to: number): void {
    const { kernels, heap } = this.use;
    const tiles = this.plan.tiles!;
    const { width, height } = this.frame.region;
    for (let row = from; row < to; row++) {
      heap.setFloats(
        rowAt(tiles, row),
        Array.from({ length: tiles.width }, (_, i) => (i % 2 === 0 ? Infinity : 0)),
      );
      for (let y = row * TILE; y < Math.min(height, (row + 1) * TILE); y++)
        for (let x = 0; x < width; x += TILE)
          kernels.nearRange(
            sampleAt(rowAt(this.frame.haze, y), x),
            Math.min(TILE, width - x),
            sampleAt(rowAt(tiles, row), (2 * x) / TILE),
          );
    }
  }

  begin(wish: BlurWish, source: Source, key: string, from: number, to: number): void {
    this.wish = wish;
    const { blades, roundness, rotation, squeeze, rim, fringe, cat } = wish.look.lens;
    const aperture = [blades, roundness, rotation, squeeze].join();
    const shape = [aperture, rim, fringe, cat, JSON.stringify(wish.look.axis)].join();
    const isSame = from === this.from && to === this.to && key === this.key;
    if (aperture !== this.aperture) this.fillTaps();
    for (const layer of [this.behind, this.near])
      layer?.begin(wish, source, from, isSame, isSame && shape === this.shape);
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

  covers(run: Run): boolean {
    return this.near !== null && this.levelsOver(run).length > 0;
  }

  fill(run: Run, haze: number): number {
    const { own, plan, mixing, behind } = this;
    const { level, spans } = own.mix;
    const { strength } = this.wish;
    this.use.kernels.discLevelRow(haze, level, run.n, strength, plan.tops, plan.topRadii.length, spans);
    for (const [k, stretch] of mixing.stretchesOf(run).entries()) {
      if (stretch.to < 0) continue;
      if (k === 0) {
        const row = behind.gatherFull(run.y, stretch.from, stretch.to - stretch.from);
        mixing.point(0, row.at, row.plane);
      } else
        mixing.spread(k, k, run.y, stretch, behind.planeOf(k), (row, left, right) =>
          behind.gatherFar(k, row, left, right),
        );
    }
    mixing.mix(run);
    return this.near ? this.layOver(this.near, run, haze) : haze;
  }

  /** The levels on which discs of what is near reach a run. */
  private levelsOver({ x, y, n }: Run): number[] {
    const { plan, use, wish } = this;
    const part = { x, y, width: n, height: 1 };
    return Array.from({ length: plan.topRadii.length + 1 }, (_, level) => level).filter(
      (level) => mostNear(use.heap, plan, wish.strength, level, part) > 0,
    );
  }

  /** Lays what is near over a run; gives the address of the haze with what is covered by it. */
  private layOver(near: LensLayer, run: Run, haze: number): number {
    const { own, overMixing } = this;
    const { kernels, heap } = this.use;
    const { over, part, overMix, mix } = own;
    const levels = this.levelsOver(run);
    if (levels.length === 0) return haze;
    heap.fillFloats(over.at, over.row / 4, 0);
    const weight = over.at + 3 * over.plane;
    const { x, y, n } = run;
    for (const level of levels) {
      if (level === 0) {
        const row = near.gatherFull(y, x, n);
        const from = sampleAt(row.at, x);
        kernels.gainRow(over.at, over.plane, n, from, row.plane, from + 3 * row.plane, weight);
        continue;
      }
      heap.fillFloats(overMix.level, n, level);
      for (let i = 0; i * 64 < n; i++) {
        heap.setWord(overMix.spans + 8 * i, level);
        heap.setWord(overMix.spans + 8 * i + 4, level);
      }
      overMixing.spread(level, level, y, { from: x, to: x + n }, near.planeOf(level), (row, left, right) =>
        near.gatherFar(level, row, left, right),
      );
      overMixing.mix({ ...run, at: part.at, plane: part.plane });
      kernels.gainRow(over.at, over.plane, n, part.at, part.plane, overMix.weight, weight);
    }
    const touched = rowAt(own.touched, y % 2);
    kernels.layOver(run.at, run.plane, n, mix.weight, over.at, over.plane, weight, haze, touched);
    return touched;
  }
}
