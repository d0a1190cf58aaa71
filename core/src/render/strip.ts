import { blurOf } from '../blur';
import type { Blur, BlurRequest, BlurWorker, Source } from '../blur/blur';
import { POINT_STEPS } from '../colour';
import type { PointRoom } from '../colour/step';
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

/** What a job asks for, resolved once for all of its strips. */
interface StripTask {
  job: Job;
  wish: BlurRequest;
  source: Source;
  /** The picture's two sides, where the look tells them apart. */
  sides: Sides | null;
  /** Pixels that light travels at most. */
  reach: number;
  steps: typeof POINT_STEPS;
  finish: typeof FINISH_STEPS;
  surroundings: PointRoom['surroundings'];
  /** Pixels without haze come out as they came. */
  keepsClear: boolean;
  /** What the strip is made of: its field; what the blur's passes rest on; all but the field. */
  keys: { field: string; passes: string; rest: string };
}

/** What is to be done with a run. */
interface RunPart {
  run: Run;
  /** Something near may lie over it. */
  isNear: boolean;
  isBlurred: boolean;
  /** The picture's own light comes as it is. */
  isPlain: boolean;
  /** What lies over it. */
  over: readonly LaidSheet[];
}

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
  private task: StripTask | null = null;
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

  /** Takes a job in hand. @param known of its source, as far as its look wants that. @param sheets what lies over it. */
  begin(job: Job, known: Known, { sheets, grounds }: RenderSheets): void {
    this.known = known;
    this.sheets = laidSheets(sheets);
    this.ground.sheets = laidSheets(grounds);
    this.task = this.taskOf(job);
  }

  private get inHand(): StripTask {
    if (!this.task) throw new Error('A render worker was given rows before it was told of which picture.');
    return this.task;
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
  fillHaze(from: number, to: number): void {
    this.field.fill(this.inHand.job.look.field, from, to);
  }

  /** Makes rows from..to of a pass. */
  pass(of: PassOf, i: number, from: number, to: number): void {
    const { wish, source } = this.inHand;
    if (of === 'light') this.blur.pass(i, wish, source, from, to);
    else if (of === 'cover') this.covered!.blur!.pass(i, unlit(wish), this.coverSource(source), from, to);
    else this.sides!.pass(of, i, wish, source, from, to);
  }

  /** Renders rows from..to of the region into the output of the job's slot. @param hasHaze their haze is made already. */
  render(hasHaze: boolean, from: number, to: number): void {
    if (!hasHaze) this.fillHaze(from, to);
    this.fill(this.inHand, from, to);
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

  private coverSource(source: Source): Source {
    return { ...source, pixels: this.covered!.source.cover };
  }

  private fill(task: StripTask, from: number, to: number): void {
    if (from !== this.from || to !== this.to) {
      [this.from, this.to] = [from, to];
      this.shown = NOTHING_SHOWN;
    }
    const { job, keys } = task;
    const { shown, sheets } = this;
    const isMap = job.content !== 'picture';
    const moved = isMap ? [] : changedSheets(shown.sheets, sheets);
    if (shown.field === keys.field && shown.rest === keys.rest && moved.length === 0) return;
    // Until all is done the output is of neither.
    this.shown = NOTHING_SHOWN;
    this.setNoise(job.look.finish.grain);
    if (isMap) this.fillMap(job, from, to);
    else {
      this.blur.begin(task.wish, task.source, keys.passes, from, to);
      this.covered?.blur?.begin(unlit(task.wish), this.coverSource(task.source), keys.passes, from, to);
      task.sides?.begin(task.wish, task.source, keys.passes, from, to);
      for (const runs of this.runs(from, to)) {
        const isFresh =
          shown.rest !== keys.rest || runs.some((run) => moved.some((sheet) => lies(sheet, run)));
        this.fillRuns(task, runs, isFresh);
      }
    }
    this.shown = { field: keys.field, rest: keys.rest, sheets: isMap ? shown.sheets : sheets };
  }

  /** What a job asks for. */
  private taskOf(job: Job): StripTask {
    const { look, frame = 0 } = job;
    const { picture } = this.plan.region;
    const wish = this.wish(job);
    const steps = POINT_STEPS.filter((step) => step.key(look) !== '');
    const finish = FINISH_STEPS.filter((step) => step.key(look) !== '');
    const { surroundings, noise } = this.known;
    const grounds = this.ground.sheets.map(({ key }) => key);
    const passes = [job.source, ...grounds, ...passKeys(this.kind, look, wish.strength)].join();
    const ends = [
      wish.strength,
      this.kind.key(look.blur),
      ...[...steps, ...finish].map((step) => step.key(look)),
    ];
    if (finish.length > 0) ends.push(frame, JSON.stringify(noise));
    if (look.showsGround) ends.push('ground');
    if (surroundings) ends.push(JSON.stringify(surroundings));
    return {
      job,
      wish,
      source: this.source(job),
      sides: this.sidesOf(look),
      reach: Math.ceil(this.kind.reach(look.blur, picture)),
      steps,
      finish,
      surroundings: surroundings && { rows: this.plan.surroundings, on: surroundings },
      keepsClear: this.copies && !look.showsGround && steps.length === 0 && finish.length === 0,
      keys: { field: fieldKey(look.field), passes, rest: [job.slot, passes, job.content, ...ends].join() },
    };
  }

  /** The runs of rows from..to, those together that are encoded together. */
  private *runs(from: number, to: number): Generator<Run[]> {
    const { width } = this.plan.region;
    const { run } = this.own;
    const rowsTogether = this.output?.rowsTogether ?? 1;
    for (let y = from; y < to; y += rowsTogether)
      for (let x = 0; x < width; x += RUN) {
        const n = Math.min(RUN, width - x);
        const runs: Run[] = [];
        for (let i = 0; i < rowsTogether && y + i < to; i++)
          runs.push({ at: rowAddress(run, i), planeBytes: run.planeBytes, n, x, y: y + i });
        yield runs;
      }
  }

  /** Fills a run, and those below it that are encoded together with it. */
  private fillRuns(task: StripTask, runs: readonly Run[], isFresh: boolean): void {
    const { plan, use, own } = this;
    const { region } = plan;
    const states = runs.map((run) => {
      const shown = sampleAddress(rowAddress(own.shown, run.y - this.from), run.x);
      return use.kernels.copyHazeRow(this.hazeOf(run), shown, run.n);
    });
    if (!isFresh && states.every((state) => (state & HAZE_CHANGED) === 0)) return;
    const { source, output } = plan.places[task.job.slot]!;
    const parts = runs.map((run, i) => this.partOf(task, run, (states[i]! & HAZE_THERE) !== 0));
    const first = runs[0]!;
    if (task.keepsClear && parts.every(({ isBlurred, over }) => !isBlurred && over.length === 0))
      return this.output!.copy(use.heap, first, source, output);
    const haze = parts.map((part) => this.makeRun(task, part));
    const [px, py] = [region.x + first.x, region.y + first.y];
    if (this.covered) return this.covered.target.encode(use, first, coverOf(first), haze[0]!, output, px, py);
    const keep = task.keepsClear ? { haze, from: source } : null;
    this.output!.encode(use, plan.outTables, runs, output, px, py, keep);
  }

  /** Address of the haze of a run. */
  private hazeOf({ x, y }: Run): number {
    return sampleAddress(rowAddress(this.plan.haze, y), x);
  }

  private partOf({ job, wish, sides, reach }: StripTask, run: Run, isHazy: boolean): RunPart {
    const blurs = wish.strength > 0;
    const isNear = blurs && sides !== null && sides.reaches(run, reach);
    const isBlurred = isNear || (blurs && isHazy);
    const over = this.sheets.filter((sheet) => lies(sheet, run));
    // What is as it came needs no ground, and nothing of its own laid over it.
    const isPlain =
      !isBlurred && !job.look.showsGround && over.every((sheet) => sheet.isPlain || !sheet.isOwn);
    return { run, isNear, isBlurred, isPlain, over: isPlain ? over.filter((sheet) => !sheet.isPlain) : over };
  }

  /** Makes the light of a run as it is encoded; gives the address of its haze, with what lies over it. */
  private makeRun(task: StripTask, { run, isNear, isBlurred, isPlain, over }: RunPart): number {
    const { own, plan, use, covered } = this;
    const { sides, source } = task;
    const { look, frame = 0 } = task.job;
    const before = this.hazeOf(run);
    let haze = task.keepsClear && !isBlurred ? own.none : before;
    if (isBlurred) {
      this.blur.fill(run, sides ? sides.farHaze(run) : before);
      if (covered?.blur) this.fillCover(covered.blur, run, before);
    } else {
      const pixels = isPlain ? (covered?.source.whole ?? this.input) : source.pixels;
      pixels.decode(use, source.tables, source.planes, run);
    }
    if (isNear) {
      haze = rowAddress(own.touched, run.y % 2);
      sides!.lay(run, before, haze);
    }
    for (const sheet of over) haze = this.lay(sheet, run, haze, look);
    if (covered?.target.isStraight) use.kernels.normaliseRow(run.at, run.planeBytes, 3, run.n, coverOf(run));
    const room = { floats: own.room, table: plan.table, surroundings: task.surroundings };
    for (const step of task.steps) step.apply(use, look, run, room);
    const place = {
      haze,
      px: plan.region.x + run.x,
      py: plan.region.y + run.y,
      picture: plan.region.picture,
      scale: plan.scale,
      frame,
      noise: own.noise,
      noiseRoom: own.noiseRoom,
    };
    for (const step of task.finish) step.apply(use, look, run, place);
    return haze;
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
