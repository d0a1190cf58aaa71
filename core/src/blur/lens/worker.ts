import { type Rows, type Run, type KernelContext, rowAddress, sampleAddress } from '../../memory';
import type { BlurSetup, BlurRequest, BlurWorker, Source } from '../blur';
import { LevelMixer } from '../level-mixer';
import { findLamps } from './lamps';
import { LensRows } from './lens-rows';
import { LevelMaker } from './level-maker';
import { TILE } from './levels';
import type { LensPlan, LensScratch } from './plan';
import { StripDiscs } from './strip-discs';
import { maxForegroundRadius } from './tiles';

/**
 * One worker's share of lens blur. Levels are made in passes: light times its weight, halved again and again. The discs
 * of a strip are gathered where they are asked for, in stretches of 64 samples, each on the level that fits its size.
 */
export class LensWorker implements BlurWorker {
  private readonly own: LensScratch;
  private lampsOf = '';
  /** Blur radius in pixels where haze is 1, of the strip in hand. */
  private strength = 0;
  private readonly levels: LevelMaker;
  private readonly discs: StripDiscs;
  private readonly mixing: LevelMixer;

  constructor(
    private readonly use: KernelContext,
    private readonly plan: LensPlan,
    private readonly frame: BlurSetup,
    worker: number,
  ) {
    this.own = plan.workers[worker]!;
    const rows = new LensRows(use, plan, frame);
    this.levels = new LevelMaker(use, plan, frame, this.own, rows);
    this.discs = new StripDiscs(use, plan, frame, this.own, rows);
    this.mixing = new LevelMixer(use, this.own.mix, plan.splines);
    this.mixing.isWeighed = frame.isNear;
  }

  pass(i: number, wish: BlurRequest, source: Source, from: number, to: number): void {
    const { tiles } = this.plan;
    if (i === 0) this.findLamps(wish, source);
    else if (!tiles) this.levels.make(i - 1, wish, source, from, to);
    else if (i === 1) this.measureTiles(tiles, from, to);
    else this.levels.make(i - 2, wish, source, from, to);
  }

  /** Least and most haze of what is near, in rows from..to of tiles. */
  private measureTiles(tiles: Rows, from: number, to: number): void {
    const { kernels, heap } = this.use;
    const { width, height } = this.frame.region;
    for (let row = from; row < to; row++) {
      heap.setFloats(
        rowAddress(tiles, row),
        Array.from({ length: tiles.width }, (_, i) => (i % 2 === 0 ? Infinity : 0)),
      );
      for (let y = row * TILE; y < Math.min(height, (row + 1) * TILE); y++)
        for (let x = 0; x < width; x += TILE)
          kernels.foregroundHazeRange(
            sampleAddress(rowAddress(this.frame.haze, y), x),
            Math.min(TILE, width - x),
            sampleAddress(rowAddress(tiles, row), (2 * x) / TILE),
          );
    }
  }

  /** Looks for spots of clipped light, where they are to get a colour, unless that was done for the same picture. */
  private findLamps({ look }: BlurRequest, { key, pixels, tables, planes }: Source): void {
    const { heap } = this.use;
    const { region } = this.frame;
    const { threshold, stops, tint } = look.lens.highlights;
    const of = `${key} ${threshold}`;
    if (stops === 0 || tint === 0 || of === this.lampsOf) return;
    findLamps(heap, this.plan.lamps, region, region.picture, threshold, (at, plane, y) =>
      pixels.decode(this.use, tables, planes, { at, planeBytes: plane, n: region.width, x: 0, y }),
    );
    this.lampsOf = of;
  }

  begin(wish: BlurRequest, source: Source, key: string, from: number, to: number): void {
    this.strength = wish.strength;
    this.discs.begin(wish, source, key, from, to);
  }

  fill(run: Run, haze: number): void {
    if (this.frame.isNear) return this.fillNear(run);
    const { own, plan, mixing, discs, strength } = this;
    const { level, spans } = own.mix;
    this.use.kernels.discLevelRow(haze, level, run.n, strength, plan.tops, plan.topRadii.length, spans);
    for (const [k, stretch] of mixing.stretchesOf(run).entries()) {
      if (stretch.to < 0) continue;
      if (k === 0) {
        const row = discs.gatherFull(run.y, stretch.from, stretch.to - stretch.from);
        mixing.point(0, row.at, row.planeBytes);
      } else
        mixing.spread(k, k, run.y, stretch, discs.planeOf(k), (row, left, right) =>
          discs.gatherFar(k, row, left, right),
        );
    }
    mixing.mix(run);
  }

  /** Adds up what is near from all levels whose discs reach a run. */
  private fillNear(run: Run): void {
    const { own, mixing, discs } = this;
    const { kernels, heap } = this.use;
    const { part, mix } = own;
    const { x, y, n, at, planeBytes } = run;
    const weight = at + 3 * planeBytes;
    for (let k = 0; k < 4; k++) heap.fillFloats(at + k * planeBytes, n, 0);
    for (const level of this.levelsOver(run)) {
      if (level === 0) {
        const row = discs.gatherFull(y, x, n);
        const from = sampleAddress(row.at, x);
        kernels.accumulateRow(at, planeBytes, n, from, row.planeBytes, from + 3 * row.planeBytes, weight);
        continue;
      }
      heap.fillFloats(mix.level, n, level);
      for (let i = 0; i * 64 < n; i++) {
        heap.setInt32(mix.spans + 8 * i, level);
        heap.setInt32(mix.spans + 8 * i + 4, level);
      }
      mixing.spread(level, level, y, { from: x, to: x + n }, discs.planeOf(level), (row, left, right) =>
        discs.gatherFar(level, row, left, right),
      );
      mixing.mix({ ...run, at: part.at, planeBytes: part.planeBytes });
      kernels.accumulateRow(at, planeBytes, n, part.at, part.planeBytes, mix.weight, weight);
    }
  }

  /** The levels on which discs of what is near reach a run. */
  private levelsOver({ x, y, n }: Run): number[] {
    const { plan, use, strength } = this;
    const part = { x, y, width: n, height: 1 };
    return Array.from({ length: plan.topRadii.length + 1 }, (_, level) => level).filter(
      (level) => maxForegroundRadius(use.heap, plan, strength, level, part) > 0,
    );
  }
}
