import { blurOf } from '../blur';
import type { Blur, BlurRequest, BlurWorker, Source } from '../blur/blur';
import { POINT_STEPS } from '../colour';
import { primariesMatrix } from '../colour/primaries';
import { FINISH_STEPS } from '../finish';
import { noiseTable } from '../finish/grain/noise-table';
import { fieldKey, protectsAreas } from '../focus/field';
import { FieldRows } from '../focus/rows';
import { HAZE_CHANGED, HAZE_THERE, type Kernels } from '../kernels';
import {
  type CoveredSource,
  type CoveredTarget,
  coveredSource,
  coveredTarget,
  isCovered,
} from '../pixels/covered';
import { type PixelReader, type PixelCodec, isYuv, sameFormat } from '../pixels/format';
import { codecFor } from '../pixels/codec';
import type { LightLevel } from '../layers/image';
import { type PlaceTask, loadRows, placeRows } from '../layers/placing';
import { KernelContext, type Run, rowAddress, sampleAddress } from '../memory';
import { LaidReader, type LaidSheet, changedSheets, copySheet, laidSheets, lies } from './laid-sheets';
import type { RenderSheets } from './layer-sheets';
import { Sides, unlit } from './sides';
import type { PassOf } from './sides';
import { type Job, passKeys } from './settings';
import type { Known } from './measured';
import { RUN, type RenderPlan } from './plan';

const NOTHING_SHOWN = { field: '', rest: '', sheets: [] };

/** Address of a run's coverage. */
const coverOf = ({ at, planeBytes }: Run): number => at + 3 * planeBytes;

/**
 * One worker's share of a render: rows of pixels to linear light, blurred, changed, and back to pixels, in short runs.
 * What a strip was made of is known by keys (source, field, blur, steps): the same strip again begins at the first that
 * changed, and runs whose haze is as it was are in the output already.
 */
export class StripRenderer {
  private readonly own;
  private readonly use: KernelContext;
  private readonly field: FieldRows;
  private readonly kind: Blur<unknown>;
  private readonly blur: BlurWorker;
  private readonly input: PixelReader;
  /** The input with the ground behind what is lifted off it. */
  private readonly ground: LaidReader;
  /** Under a depth map, where there is room for it. */
  private readonly sides: Sides | null;
  private readonly output: PixelCodec | null;
  /** Where the pixels have a coverage. */
  private readonly covered: {
    source: CoveredSource;
    target: CoveredTarget;
    /** Of the coverage by itself, where the kind of blur does not take it along. */
    blur: BlurWorker | null;
  } | null;
  /** Pixels may be copied as they are. */
  private readonly copies: boolean;
  private known: Known = { noise: null, surroundings: null };
  private sheets: readonly LaidSheet[] = [];
  private from = -1;
  private to = -1;
  private shown: { field: string; rest: string; sheets: readonly LaidSheet[] } = NOTHING_SHOWN;

  /** `worker` says which of the plan's workers this is. */
  constructor(
    kernels: Kernels,
    private readonly plan: RenderPlan,
    memory: WebAssembly.Memory,
    private readonly worker: number,
  ) {
    this.own = plan.workers[worker]!;
    this.use = new KernelContext(kernels, memory, this.own.parameters);
    this.field = new FieldRows(this.use, this.own.field, plan.haze, plan.region);
    this.kind = blurOf({ kind: plan.blur });
    this.blur = this.kind.worker(this.use, plan.blurPlan, plan.frame, worker);
    this.use.heap.fillFloats(this.own.none, RUN, 0);
    const { input, output } = plan;
    if (isCovered(input) && isCovered(output)) {
      const source = coveredSource(input);
      const cover =
        plan.coverPlan === null ? null : this.kind.worker(this.use, plan.coverPlan, plan.frame, worker);
      this.covered = { source, target: coveredTarget(output), blur: cover };
      this.input = cover ? source : source.whole;
      this.output = null;
      this.copies = false;
    } else if (isCovered(input) || isCovered(output)) {
      throw new TypeError('Pixels with a coverage come out with one, and others don’t.');
    } else {
      this.covered = null;
      this.input = codecFor(input);
      this.output = codecFor(output);
      this.copies = sameFormat(input, output);
    }
    this.ground = new LaidReader(this.input, this.own.over, this.own.none);
    this.sides =
      plan.sides && new Sides(this.use, plan.sides, this.kind, worker, plan.haze, () => this.picture);
  }

  /** Hears what is known of the source of the next job, as far as its look wants that, and what lies over it. */
  hear(known: Known, { sheets, grounds }: RenderSheets): void {
    this.known = known;
    this.sheets = laidSheets(sheets);
    this.ground.sheets = laidSheets(grounds);
  }

  /** Takes rows of an image's level in. */
  load(level: LightLevel, from: number, to: number): void {
    loadRows(this.use.heap, this.plan.placing!, level, from, to);
  }

  /** Writes rows from..to of the source from the image that was taken in. */
  place(task: PlaceTask, from: number, to: number): void {
    placeRows(this.use, this.plan.placing!, this.worker, task, from, to);
  }

  /** Makes the haze of rows from..to. */
  fillHaze({ look }: Job, from: number, to: number): void {
    this.field.fill(look.field, from, to);
  }

  /** Makes rows from..to of a pass. */
  pass(of: PassOf, i: number, job: Job, from: number, to: number): void {
    if (of === 'light') this.blur.pass(i, this.wish(job), this.source(job), from, to);
    else if (of === 'cover')
      this.covered!.blur!.pass(i, unlit(this.wish(job)), this.coverSource(job), from, to);
    else this.sides!.pass(of, i, this.wish(job), this.source(job), from, to);
  }

  /** Renders rows from..to of the region into the output of the job's slot. @param hasHaze their haze is made already. */
  render(job: Job, hasHaze: boolean, from: number, to: number): void {
    if (!hasHaze) this.fillHaze(job, from, to);
    this.fill(job, from, to);
    this.use.heap.atomicAdd(this.plan.finished);
  }

  private wish({ look: { blur, field } }: Job): BlurRequest {
    const strength = this.kind.strength(blur, this.plan.region.picture);
    return { look: blur, strength, keeps: protectsAreas(field) };
  }

  /** The picture as it is blurred. */
  private get picture(): PixelReader {
    return this.ground.sheets.length > 0 ? this.ground : this.input;
  }

  /** Its two sides, where a look tells them apart. */
  private sidesOf({ field }: Job['look']): Sides | null {
    return field.depth ? this.sides : null;
  }

  private source({ slot, source, look }: Job): Source {
    const key = [slot, source, ...this.ground.sheets.map((sheet) => sheet.key)].join();
    const pixels = this.sidesOf(look)?.behind ?? this.picture;
    return { key, pixels, tables: this.plan.inTables, planes: this.plan.places[slot]!.source };
  }

  private coverSource(job: Job): Source {
    return { ...this.source(job), pixels: this.covered!.source.cover };
  }

  private fill(job: Job, from: number, to: number): void {
    const { plan } = this;
    const { look } = job;
    if (from !== this.from || to !== this.to) {
      [this.from, this.to] = [from, to];
      this.shown = NOTHING_SHOWN;
    }
    const wish = this.wish(job);
    const { strength } = wish;
    const steps = POINT_STEPS.filter((step) => step.key(look) !== '');
    const field = fieldKey(look.field);
    const grounds = this.ground.sheets.map(({ key }) => key);
    const made = [job.source, ...grounds, ...passKeys(this.kind, look, strength)].join();
    const finish = FINISH_STEPS.filter((step) => step.key(look) !== '');
    const ends = [strength, this.kind.key(look.blur), ...[...steps, ...finish].map((step) => step.key(look))];
    if (finish.length > 0) ends.push(job.frame ?? 0, JSON.stringify(this.known.noise));
    if (look.showsGround) ends.push('ground');
    if (this.known.surroundings) ends.push(JSON.stringify(this.known.surroundings));
    const rest = [job.slot, made, job.content, ...ends].join();
    const { shown, sheets } = this;
    const moved = job.content === 'picture' ? changedSheets(shown.sheets, sheets) : [];
    if (shown.field === field && shown.rest === rest && moved.length === 0) return;
    // Until all is done the output is of neither.
    this.shown = NOTHING_SHOWN;
    const isFresh = (runs: readonly Run[]): boolean =>
      shown.rest !== rest || runs.some((run) => moved.some((sheet) => lies(sheet, run)));
    this.setNoise(look.finish.grain);
    if (job.content !== 'picture') this.fillMap(job, from, to);
    else {
      this.blur.begin(wish, this.source(job), made, from, to);
      this.covered?.blur?.begin(unlit(wish), this.coverSource(job), made, from, to);
      this.sidesOf(look)?.begin(wish, this.source(job), made, from, to);
      const { width } = plan.region;
      const rowsTogether = this.output?.rowsTogether ?? 1;
      for (let y = from; y < to; y += rowsTogether)
        for (let x = 0; x < width; x += RUN) {
          const runs = Array.from({ length: Math.min(rowsTogether, to - y) }, (_, i) => ({
            at: rowAddress(this.own.run, i),
            planeBytes: this.own.run.planeBytes,
            n: Math.min(RUN, width - x),
            x,
            y: y + i,
          }));
          this.fillRuns(job, runs, strength > 0, isFresh(runs), steps, finish);
        }
    }
    this.shown = { field, rest, sheets: job.content === 'picture' ? sheets : shown.sheets };
  }

  /** Fills a run, and those below it that are encoded together with it. */
  private fillRuns(
    job: Job,
    runs: Run[],
    blurs: boolean,
    isFresh: boolean,
    steps: typeof POINT_STEPS,
    finish: typeof FINISH_STEPS,
  ): void {
    const { plan, use, own } = this;
    const { slot, look, frame = 0 } = job;
    const { region } = plan;
    const haze = runs.map((run) => sampleAddress(rowAddress(plan.haze, run.y), run.x));
    const states = runs.map((run, i) =>
      use.kernels.copyHazeRow(
        haze[i]!,
        sampleAddress(rowAddress(own.shown, run.y - this.from), run.x),
        run.n,
      ),
    );
    const state = states.reduce((a, b) => a | b);
    if (!isFresh && (state & HAZE_CHANGED) === 0) return;
    const { source, output } = plan.places[slot]!;
    const on = this.known.surroundings;
    const surroundings = on && { rows: plan.surroundings, on };
    const keeps = this.copies && !look.showsGround && steps.length === 0 && finish.length === 0;
    const sides = this.sidesOf(look);
    const reach = Math.ceil(this.kind.reach(look.blur, region.picture));
    const isNear = runs.map((run) => blurs && sides !== null && sides.reaches(run, reach));
    const isBlurred = states.map((one, i) => isNear[i] || (blurs && (one & HAZE_THERE) !== 0));
    const first = runs[0]!;
    const seen = runs.map((run) => this.sheets.filter((sheet) => lies(sheet, run)));
    // What is as it came needs no ground, and nothing of its own laid over it.
    const isPlain = seen.map(
      (list, i) => !isBlurred[i] && !look.showsGround && list.every((sheet) => sheet.isPlain || !sheet.isOwn),
    );
    const over = seen.map((list, i) => (isPlain[i] ? list.filter((sheet) => !sheet.isPlain) : list));
    if (keeps && !isBlurred.includes(true) && over.every((list) => list.length === 0))
      return this.output!.copy(use.heap, first, source, output);
    const from = this.source(job);
    for (const [i, run] of runs.entries()) {
      const before = haze[i]!;
      if (isBlurred[i]) this.blur.fill(run, sides ? sides.farHaze(run) : before);
      else if (keeps) haze[i] = own.none;
      if (!isBlurred[i])
        (isPlain[i] ? (this.covered?.source.whole ?? this.input) : from.pixels).decode(
          use,
          from.tables,
          from.planes,
          run,
        );
      else if (this.covered?.blur) this.fillCover(this.covered.blur, run, before);
      if (isNear[i]) {
        const touched = rowAddress(own.touched, run.y % 2);
        sides!.lay(run, before, touched);
        haze[i] = touched;
      }
      for (const sheet of over[i]!) haze[i] = this.lay(sheet, run, haze[i]!, look);
      if (this.covered?.target.isStraight)
        use.kernels.normaliseRow(run.at, run.planeBytes, 3, run.n, coverOf(run));
      for (const step of steps)
        step.apply(use, look, run, { floats: own.room, table: plan.table, surroundings });
      const place = {
        haze: haze[i]!,
        px: region.x + run.x,
        py: region.y + run.y,
        picture: region.picture,
        scale: plan.scale,
        frame,
        noise: own.noise,
        noiseRoom: own.noiseRoom,
      };
      for (const step of finish) step.apply(use, look, run, place);
    }
    const [px, py] = [region.x + first.x, region.y + first.y];
    if (this.covered) return this.covered.target.encode(use, first, coverOf(first), haze[0]!, output, px, py);
    const keep = keeps ? { haze, from: source } : null;
    this.output!.encode(use, plan.outTables, runs, output, px, py, keep);
  }

  /** Makes a run's coverage, which is blurred as its light is. */
  private fillCover(blur: BlurWorker, run: Run, haze: number): void {
    const { at, planeBytes } = this.own.cover;
    blur.fill({ ...run, at, planeBytes }, haze);
    this.use.kernels.copyPlanes(at, planeBytes, 1, coverOf(run), 0, run.n);
  }

  /** Lays a sheet over a run; gives the address of the haze with what is covered by it. */
  private lay(sheet: LaidSheet, run: Run, haze: number, { light, primaries }: Job['look']): number {
    const { heap, kernels } = this.use;
    const { over } = this.own;
    const touched = rowAddress(this.own.touched, run.y % 2);
    copySheet(heap, sheet, run, over);
    // Elements are of sRGB; what was cut out of the picture is as the picture is.
    const matrix = sheet.isOwn ? null : primariesMatrix('srgb', primaries.source);
    if (matrix) {
      heap.setFloats(this.own.room, matrix);
      kernels.matrixRow(over.at, over.planeBytes, run.n, this.own.room);
    }
    // What is done to the light of a frame is not done to what lies over it, but for what was cut out of it.
    const below = this.covered ? coverOf(run) : 0;
    const overlay = this.use.parameters('Overlay', {
      row: over.at,
      plane: over.planeBytes,
      opacity: sheet.opacity,
      factor: sheet.isOwn ? 1 : 1 / light,
    });
    kernels.compositeRow(run.at, run.planeBytes, run.n, overlay, haze, touched, below);
    return touched;
  }

  /** The source's noise, as strong as it is to be put back. */
  private setNoise({ match }: Job['look']['finish']['grain']): void {
    const { noise } = this.known;
    if (noise) this.use.heap.setFloats(this.own.noise, noiseTable(noise, match, this.plan.scale));
  }

  private fillMap({ slot, content }: Job, from: number, to: number): void {
    const { plan } = this;
    const { kernels } = this.use;
    const { width } = plan.region;
    const format = plan.output;
    if (isCovered(format) || isYuv(format)) throw new TypeError('A haze map has interleaved samples.');
    const { channels, bytes } = format;
    const { at, rowBytes } = plan.places[slot]!.output[0]!;
    for (let y = from; y < to; y++) {
      const haze = rowAddress(plan.haze, y);
      if (content === 'haze16') kernels.haze16Row(haze, width, at + y * width * 2);
      else kernels.hazeMapRow(haze, width, plan.ramp, at + y * rowBytes, channels, bytes);
    }
  }
}
