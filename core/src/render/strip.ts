import { blurOf } from '../blur';
import type { Blur, BlurWish, BlurWorker, Source } from '../blur/blur';
import { POINT_STEPS } from '../colour';
import { FINISH_STEPS } from '../finish';
import { NOISE_BINS } from '../finish/grain/noise';
import { keepsClear } from '../focus/field';
import { FieldRows, fieldKey } from '../focus/field-rows';
import { HAZE_CHANGED, HAZE_THERE, type Kernels } from '../kernels';
import { type Pixels, isYuv, pixelsOf, sameFormat } from '../pixels/format';
import { Heap, type Run, type Use, rowAt, sampleAt } from './arena';
import { type Job, passKeys } from './look';
import type { Known } from './measured';
import { RUN, type RenderPlan } from './plan';

/**
 * One worker's share of a render: rows of pixels to linear light, blurred, changed, and back to pixels, in short runs.
 * What a strip was made of is known by keys (source, field, blur, steps): the same strip again begins at the first that
 * changed, and runs whose haze is as it was are in the output already.
 */
export class StripRenderer {
  private readonly own;
  private readonly use: Use;
  private readonly field: FieldRows;
  private readonly kind: Blur<unknown>;
  private readonly blur: BlurWorker;
  private readonly input: Pixels;
  private readonly output: Pixels;
  /** Pixels may be copied as they are. */
  private readonly copies: boolean;
  private known: Known = { noise: null, surroundings: null };
  private from = -1;
  private to = -1;
  private shown = { field: '', rest: '' };

  /** `worker` says which of the plan's workers this is. */
  constructor(
    kernels: Kernels,
    private readonly plan: RenderPlan,
    memory: WebAssembly.Memory,
    worker: number,
  ) {
    this.own = plan.workers[worker]!;
    this.use = { kernels, heap: new Heap(memory) };
    this.field = new FieldRows(this.use, this.own.field, plan.haze, plan.region);
    this.kind = blurOf({ kind: plan.blur });
    this.blur = this.kind.worker(this.use, plan.blurPlan, plan.frame, worker);
    this.input = pixelsOf(plan.input);
    this.output = pixelsOf(plan.output);
    this.copies = sameFormat(plan.input, plan.output);
  }

  /** Hears what is known of the source of the next job, as far as its look wants that. */
  hear(known: Known): void {
    this.known = known;
  }

  /** Makes the haze of rows from..to. */
  fillHaze({ look }: Job, from: number, to: number): void {
    this.field.fill(look.field, from, to);
  }

  /** Makes rows from..to of a pass of the blur. */
  pass(i: number, job: Job, from: number, to: number): void {
    this.blur.pass(i, this.wish(job), this.source(job.slot), from, to);
  }

  /** Renders rows from..to of the region into the output of the job's slot. @param hasHaze their haze is made already. */
  render(job: Job, hasHaze: boolean, from: number, to: number): void {
    if (!hasHaze) this.fillHaze(job, from, to);
    this.fill(job, from, to);
    this.use.heap.countUp(this.plan.finished);
  }

  private wish({ look: { blur, field }, isBlurred }: Job): BlurWish {
    const strength = isBlurred ? 0 : this.kind.strength(blur, this.plan.region.picture);
    return { look: blur, strength, keeps: keepsClear(field) };
  }

  private source(slot: number): Source {
    return { pixels: this.input, tables: this.plan.inTables, planes: this.plan.places[slot]!.source };
  }

  private fill(job: Job, from: number, to: number): void {
    const { plan, shown } = this;
    const { look } = job;
    if (from !== this.from || to !== this.to) {
      [this.from, this.to] = [from, to];
      shown.field = shown.rest = '';
    }
    const wish = this.wish(job);
    const { strength } = wish;
    const steps = POINT_STEPS.filter((step) => step.key(look) !== '');
    const field = fieldKey(look.field);
    const made = [job.source, ...passKeys(this.kind, look, strength)].join();
    const finish = FINISH_STEPS.filter((step) => step.key(look) !== '');
    const ends = [strength, this.kind.key(look.blur), ...[...steps, ...finish].map((step) => step.key(look))];
    if (finish.length > 0) ends.push(job.frame ?? 0, ...(this.known.noise ?? []));
    if (this.known.surroundings) ends.push(JSON.stringify(this.known.surroundings));
    const rest = [job.slot, made, job.content, ...ends].join();
    if (shown.field === field && shown.rest === rest) return;
    const isFresh = shown.rest !== rest;
    // Until all is done the output is of neither.
    shown.rest = '';
    this.setCurve(look.finish.grain);
    if (job.content !== 'picture') this.fillMap(job, from, to);
    else {
      this.blur.begin(wish, this.source(job.slot), made, from, to);
      const { width } = plan.region;
      const { rowsTogether } = this.output;
      for (let y = from; y < to; y += rowsTogether)
        for (let x = 0; x < width; x += RUN) {
          const runs = Array.from({ length: Math.min(rowsTogether, to - y) }, (_, i) => ({
            at: rowAt(this.own.run, i),
            plane: this.own.run.plane,
            n: Math.min(RUN, width - x),
            x,
            y: y + i,
          }));
          this.fillRuns(job, runs, strength > 0, isFresh, steps, finish);
        }
    }
    this.shown = { field, rest };
  }

  /** Fills a run, and those below it that are encoded together with it. */
  private fillRuns(
    { slot, look, frame = 0 }: Job,
    runs: Run[],
    blurs: boolean,
    isFresh: boolean,
    steps: typeof POINT_STEPS,
    finish: typeof FINISH_STEPS,
  ): void {
    const { plan, use, own } = this;
    const { region } = plan;
    const haze = runs.map((run) => sampleAt(rowAt(plan.haze, run.y), run.x));
    const states = runs.map((run, i) =>
      use.kernels.keepHaze(haze[i]!, sampleAt(rowAt(own.shown, run.y - this.from), run.x), run.n),
    );
    const state = states.reduce((a, b) => a | b);
    if (!isFresh && (state & HAZE_CHANGED) === 0) return;
    const { source, output } = plan.places[slot]!;
    const on = this.known.surroundings;
    const surroundings = on && { rows: plan.surroundings, on };
    const keeps = this.copies && steps.length === 0 && finish.length === 0;
    const isBlurred = runs.map(
      (run, i) => blurs && ((states[i]! & HAZE_THERE) !== 0 || this.blur.covers?.(run) === true),
    );
    const first = runs[0]!;
    if (keeps && !isBlurred.includes(true)) return this.output.copy(use.heap, first, source, output);
    for (const [i, run] of runs.entries()) {
      if (isBlurred[i]) haze[i] = this.blur.fill(run, haze[i]!);
      else this.input.decode(use.kernels, plan.inTables, source, run);
      for (const step of steps)
        step.apply(use, look, run, { floats: own.room, table: plan.table, surroundings });
      const place = {
        haze: haze[i]!,
        px: region.x + run.x,
        py: region.y + run.y,
        picture: region.picture,
        scale: plan.scale,
        frame,
        curve: own.curve,
      };
      for (const step of finish) step.apply(use, look, run, place);
    }
    const keep = keeps ? { haze, from: source } : null;
    const [px, py] = [region.x + first.x, region.y + first.y];
    this.output.encode(use.kernels, plan.outTables, runs, output, px, py, keep);
  }

  /** The source's noise, as strong as it is to be put back; the last value twice, for reading between them. */
  private setCurve({ match, size }: Job['look']['finish']['grain']): void {
    const noise = this.known.noise ?? [];
    // Where the picture in hand is smaller than the source, its noise has averaged out by as much.
    const share = match * Math.min(1, size * this.plan.scale);
    const curve = Array.from({ length: NOISE_BINS + 1 }, (_, i) => share * (noise[i] ?? noise.at(-1) ?? 0));
    this.use.heap.setFloats(this.own.curve, curve);
  }

  private fillMap({ slot, content }: Job, from: number, to: number): void {
    const { plan } = this;
    const { kernels } = this.use;
    const { width } = plan.region;
    if (isYuv(plan.output)) throw new Error('A haze map has no planes of luma and chroma.');
    const { channels, bytes } = plan.output;
    const { at, row } = plan.places[slot]!.output[0]!;
    for (let y = from; y < to; y++) {
      const haze = rowAt(plan.haze, y);
      if (content === 'haze16') kernels.haze16Row(haze, width, at + y * width * 2);
      else kernels.hazeMapRow(haze, width, plan.ramp, at + y * row, channels, bytes);
    }
  }
}
