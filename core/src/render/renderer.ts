import { blurOf } from '../blur';
import { measureLocalLightness, placeLocalLightness } from '../colour/clarity';
import { fillLut } from '../colour/lut';
import { primariesMatrix } from '../colour/primaries';
import { type Noise, noiseOfPrimaries, noiseUnder } from '../finish/grain/noise';
import { fieldKey } from '../focus/field';
import type { Size } from '../geometry/size';
import { Heap, createMemory } from '../memory';
import type { LightLevel } from '../layers/image';
import { type PlaceTask, fillPlaceTable, rowsToLoad } from '../layers/placing';
import { PART_FORMAT, coveredSource, isCovered, straightOfParts } from '../pixels/covered';
import { codecFor } from '../pixels/codec';
import { planeBytes } from '../pixels/format';
import { hazeRamp } from './haze-map';
import { type LayerSheet, LayerSheets, NO_SHEETS } from './layer-sheets';
import { type Job, type LayoutSettings, hasDepth, passKeys, restsOnHaze } from './settings';
import { sidePasses } from './sides';
import {
  type Known,
  type Measured,
  SourceMeasures,
  needsLocalLightness,
  needsNoise,
  noiseIn,
} from './measured';
import { MAX_BYTES, type RenderPlan, type View, planRender } from './plan';
import type { PassOf } from './sides';
import type { RenderTask } from './worker';

/** A thread that runs a RenderWorker: gives it one task and waits for its end. */
export type TaskRunner = (task: RenderTask) => Promise<void>;

/** Threads that render, and the kernels they run. */
export interface Threads {
  readonly runners: readonly TaskRunner[];
  readonly module: WebAssembly.Module | Promise<WebAssembly.Module>;
}

export interface RenderOptions {
  signal?: AbortSignal | undefined;
  /** Hears the share of rows that are done, 0..1. */
  onProgress?: ((done: number) => void) | undefined;
}

/**
 * Renders pictures through looks: the stage, exports, the command line and footage all call it in this way. Nothing
 * outside of it knows of memory.
 */
export interface Renderer {
  /** Makes room for a view. What the pictures in it were is forgotten. @throws RangeError where memory runs out. */
  open(view: View): Promise<void>;
  /** Where the source of a slot is to be written, in the view's input format. */
  input(slot: number): Uint8Array;
  /** Renders the source of a slot; the bytes are good until the slot is rendered again. @throws the signal's reason. */
  render(job: Job, options?: RenderOptions): Promise<Uint8Array>;
  close(): Promise<void>;
}

/** Memory is asked for with some to spare, so that the next view may fit. */
const SPARE = 1.2;
/** A pass of fewer rows is not worth sharing out. */
const MIN_SHARED = 64;

let count = 0;

/** A renderer over threads that share one memory. */
export class SharedRenderer implements Renderer {
  private readonly name = `render-${++count}`;
  private memory: WebAssembly.Memory | null = null;
  private plan: RenderPlan | null = null;
  /** The job that was begun last. */
  private job: Job | null = null;
  /** What was measured of the picture in hand, for who brings no measures of its source. */
  private own: { of: string; source: SourceMeasures } | null = null;
  /** Renders that were asked for take turns: two at once would read what the other one writes. */
  private turn: Promise<unknown> = Promise.resolve();
  /** What the passes that are made were made of, and the haze. */
  private passed = '';
  private hazeOf = '';
  private surroundingsOf = '';
  private tableOf = '';
  private layers: LayerSheets | null = null;
  /** What lies over the picture in hand, and in it. */
  private laid = NO_SHEETS;

  constructor(private readonly threads: Threads) {}

  open(view: View): Promise<void> {
    return this.inTurn(() => this.openNow(view));
  }

  private async openNow(view: View): Promise<void> {
    const plan = planRender(view, this.threads.runners.length);
    if (!this.memory || this.memory.buffer.byteLength < plan.bytes) {
      // The old memory goes first: both together may be more than there is.
      this.memory = null;
      this.memory = memoryFor(plan.bytes);
    }
    await this.openAs(plan, this.memory);
  }

  /** Opens a plan in a memory that was made for it. */
  async openAs(plan: RenderPlan, memory: WebAssembly.Memory): Promise<void> {
    const { name: render } = this;
    const { runners } = this.threads;
    this.memory = memory;
    this.plan = plan;
    this.passed = this.hazeOf = this.surroundingsOf = this.tableOf = '';
    this.own = this.job = null;
    const heap = new Heap(memory);
    const { input, output } = plan;
    (isCovered(input) ? coveredSource(input) : codecFor(input)).fillTables(plan.inTables, heap);
    if (!isCovered(output)) codecFor(output).fillTables(plan.outTables, heap);
    heap.bytes.set(hazeRamp(), plan.ramp);
    for (const own of [plan.blurPlan, plan.coverPlan, plan.sides?.blurPlan, plan.sides?.coverPlan])
      if (own) blurOf({ kind: plan.blur }).fillTables(own, heap);
    const module = await this.threads.module;
    await Promise.all(
      runners.map((run, worker) => run({ kind: 'open', render, module, memory, plan, worker })),
    );
  }

  input(slot: number): Uint8Array {
    return this.bytesOf(slot, 'source');
  }

  /** The bytes that a slot's picture comes out in. */
  output(slot: number): Uint8Array {
    return this.bytesOf(slot, 'output');
  }

  private bytesOf(slot: number, which: 'source' | 'output'): Uint8Array {
    const planes = this.opened.places[slot]![which];
    return new Uint8Array(this.memory!.buffer, planes[0]!.at, planeBytes(planes));
  }

  private get opened(): RenderPlan {
    if (!this.plan) throw new Error('A renderer was used before it was opened.');
    return this.plan;
  }

  /**
   * True where all strips of a job are done, and no job came after it: its picture is there, although the threads' answers
   * may not be. May be asked while it runs, or waits for its turn.
   */
  isDone(job: Job): boolean {
    if (!this.plan || this.job !== job) return false;
    const { finished, region, stripRows } = this.plan;
    const done = Atomics.load(new Int32Array(this.memory!.buffer, finished, 1), 0);
    return done === Math.ceil(region.height / stripRows);
  }

  render(job: Job, options: RenderOptions = {}): Promise<Uint8Array> {
    return this.inTurn(() => this.renderNow(job, options));
  }

  private async renderNow(job: Job, options: RenderOptions): Promise<Uint8Array> {
    const plan = this.opened;
    this.job = job;
    Atomics.store(new Int32Array(this.memory!.buffer, plan.finished, 1), 0, 0);
    if (job.content === 'picture') {
      this.putSurroundings(job);
      this.putTable(job);
      await this.layOut(job, options.signal);
      await this.prepareNow(job, options.signal);
    }
    await this.renderStrips(job, options);
    const bytes = this.output(job.slot);
    return job.content === 'haze16' ? bytes.subarray(0, plan.region.width * plan.region.height * 2) : bytes;
  }

  /** Makes what the blur needs before its strips, each pass shared out among the threads; `render` does it where it is missing. */
  prepare(job: Job, signal?: AbortSignal): Promise<void> {
    return this.inTurn(() => this.prepareNow(job, signal));
  }

  /** Makes what lies over a job's picture, and in it. */
  private async layOut({ look }: Job, signal?: AbortSignal): Promise<void> {
    this.laid = NO_SHEETS;
    const all = [...look.grounds, ...look.layers];
    if (all.length === 0 && !this.layers) return;
    this.layers ??= new LayerSheets(() => new SharedRenderer(this.threads), this.threads.runners.length);
    const made = await this.layers.of(all, look.blur, this.opened, signal);
    const isGround = ({ id }: LayerSheet): boolean => look.grounds.some((ground) => ground.id === id);
    this.laid = {
      sheets: made.filter((sheet) => !isGround(sheet)),
      grounds: made.filter(isGround),
    };
  }

  /** Takes an image's level in, which has the size that the view says. */
  load(level: LightLevel): Promise<void> {
    const { name: render } = this;
    return this.inTurn(() =>
      this.share(rowsToLoad(this.opened.placing!), (from, to) => ({ kind: 'load', render, level, from, to })),
    );
  }

  /** Writes the level that was taken in into the source, which has a coverage, where it lies. */
  place(how: Omit<PlaceTask, 'width' | 'out'>): Promise<void> {
    const { name: render } = this;
    return this.inTurn(() => {
      const { region, places, placing } = this.opened;
      const { at, rowBytes } = places[0]!.source[0]!;
      const place = { ...how, width: region.width, out: { at, row: rowBytes } };
      fillPlaceTable(new Heap(this.memory!), placing!, place);
      return this.share(region.height, (from, to) => ({ kind: 'place', render, place, from, to }));
    });
  }

  /** Has rows shared out among the threads. */
  private async share(rows: number, task: (from: number, to: number) => RenderTask): Promise<void> {
    const share = this.threads.runners.slice(0, rows < MIN_SHARED ? 1 : undefined);
    const bound = (w: number): number => Math.round((rows * w) / share.length);
    await Promise.all(share.map((run, w) => run(task(bound(w), bound(w + 1)))));
  }

  private async prepareNow(job: Job, signal?: AbortSignal): Promise<void> {
    const plan = this.opened;
    const { slot, source, look } = job;
    const blur = blurOf({ kind: plan.blur });
    const strength = blur.strength(look.blur, plan.region.picture);
    const grounds = this.laid.grounds.map((sheet) => sheet.key);
    const key = [slot, source, ...grounds, ...passKeys(blur, look, strength)].join(' ');
    if (key === this.passed || strength === 0) return;
    this.passed = '';
    if (restsOnHaze(blur, look)) await this.fillHaze(job, signal);
    else await this.begin(job);
    const { name: render } = this;
    const { blurPlan, coverPlan, sides } = plan;
    const all: { of: PassOf; rows: readonly number[] }[] = [
      ...(sides && look.field.depth ? sidePasses(blur, sides) : []),
      { of: 'light', rows: blur.passes(blurPlan) },
      { of: 'cover', rows: coverPlan === null ? [] : blur.passes(coverPlan) },
    ];
    for (const { of, rows } of all)
      for (const [pass, count] of rows.entries()) {
        signal?.throwIfAborted();
        await this.share(count, (from, to) => ({ kind: 'pass', render, of, pass, from, to }));
      }
    this.passed = key;
  }

  /** Tells all threads which picture comes next. */
  private async begin(job: Job): Promise<void> {
    const task = this.beginning(job);
    await Promise.all(this.threads.runners.map((run) => run(task)));
  }

  private beginning(job: Job): RenderTask {
    const { name: render } = this;
    // Measures are for this thread alone.
    const look = { ...job.look, measured: null, layers: [], grounds: [] };
    return { kind: 'begin', render, job: { ...job, look }, known: this.knownOf(job), ...this.laid };
  }

  /** What is known of a job's source. */
  private measured({ slot, source, look }: Job): Measured {
    if (look.measured) return look.measured;
    const of = `${slot} ${source}`;
    if (this.own?.of !== of) {
      const { input, region } = this.opened;
      const bytes = this.input(slot);
      const source = isCovered(input)
        ? new SourceMeasures(of, straightOfParts(bytes), PART_FORMAT, region)
        : new SourceMeasures(of, bytes, input, region);
      this.own = { of, source };
    }
    return { source: this.own.source };
  }

  private knownOf(job: Job): Known {
    const { look, content } = job;
    if (content !== 'picture') return { noise: null, surroundings: null };
    const { region } = this.opened;
    const noise = needsNoise(look) ? this.noiseOf(job) : null;
    if (!needsLocalLightness(look)) return { noise, surroundings: null };
    const { source, at } = this.measured(job);
    return { noise, surroundings: placeLocalLightness(source.cells, region, at) };
  }

  /** The source's noise as what is clear shows it. */
  private noiseOf(job: Job): Noise {
    const { light, primaries } = job.look;
    const lit = noiseUnder(noiseIn(this.measured(job)), light);
    return noiseOfPrimaries(lit, primariesMatrix(primaries.source, primaries.output));
  }

  /** Writes how light the surroundings of each place are, where the colours have clarity. */
  private putSurroundings(job: Job): void {
    const { look } = job;
    if (!needsLocalLightness(look)) return;
    const { source } = this.measured(job);
    const { exposure, warmth, tint, contrast } = look.colour;
    const of = [source.id, look.light, exposure, warmth, tint, contrast, look.primaries.source].join();
    if (of === this.surroundingsOf) return;
    const { surroundings } = this.opened;
    const heap = new Heap(this.memory!);
    const { light, colour, primaries } = look;
    measureLocalLightness(surroundings, heap, source.cells, light, colour, primaries.source);
    this.surroundingsOf = of;
  }

  /** Puts the look's table of colours where the threads find it. */
  private putTable({ look: { table } }: Job): void {
    if (!table || table.id === this.tableOf) return;
    fillLut(this.opened.table, new Heap(this.memory!), table);
    this.tableOf = table.id;
  }

  /** Makes the haze of the whole region, unless it is there. */
  private async fillHaze(job: Job, signal?: AbortSignal): Promise<void> {
    const key = fieldKey(job.look.field);
    if (key === this.hazeOf) return this.begin(job);
    this.hazeOf = '';
    const { name: render } = this;
    await this.eachStrip(job, (from, to) => ({ kind: 'haze', render, from, to }), { signal });
    this.hazeOf = key;
  }

  private async renderStrips(job: Job, options: RenderOptions): Promise<void> {
    const key = fieldKey(job.look.field);
    const hasHaze = key === this.hazeOf;
    if (!hasHaze) this.hazeOf = '';
    const { name: render } = this;
    await this.eachStrip(job, (from, to) => ({ kind: 'strip', render, hasHaze, from, to }), options);
    this.hazeOf = key;
  }

  /** Has something done to each strip: each thread takes the next when it is free. */
  private async eachStrip(
    job: Job,
    task: (from: number, to: number) => RenderTask,
    { signal, onProgress }: RenderOptions,
  ): Promise<void> {
    const { region, stripRows } = this.opened;
    const { height } = region;
    let next = 0;
    let finished = 0;
    await Promise.all(
      this.threads.runners.map(async (run) => {
        // Tasks are carried out in order: there is no need to wait for this one.
        let last = run(this.beginning(job));
        while (next < height) {
          signal?.throwIfAborted();
          const from = next;
          const to = (next = Math.min(height, from + stripRows));
          last = Promise.all([last, run(task(from, to))]).then(() => undefined);
          await last;
          finished += to - from;
          onProgress?.(finished / height);
        }
        await last;
      }),
    );
  }

  close(): Promise<void> {
    const { name: render } = this;
    return this.inTurn(async () => {
      await this.layers?.close();
      this.layers = null;
      this.memory = this.plan = this.job = null;
      await Promise.all(this.threads.runners.map((run) => run({ kind: 'close', render })));
    });
  }

  private inTurn<T>(work: () => Promise<T>): Promise<T> {
    const done = this.turn.then(work);
    this.turn = done.catch(() => undefined);
    return done;
  }
}

/** Memory for so many bytes, with some to spare where there is so much. @throws RangeError where there is not enough. */
function memoryFor(bytes: number): WebAssembly.Memory {
  try {
    return createMemory(Math.max(bytes, Math.min(MAX_BYTES, bytes * SPARE)));
  } catch {
    return createMemory(bytes);
  }
}

/** A view of a whole picture at a size, as a file is rendered; `look` says how strong the blur gets. @param scale see `View`. */
export function wholeView(
  size: Size,
  look: LayoutSettings,
  formats: Pick<View, 'input' | 'output'>,
  scale = 1,
): View {
  const { width, height } = size;
  return {
    region: { x: 0, y: 0, width, height, picture: { width, height } },
    ...formats,
    scale,
    hasDepth: hasDepth(look),
    blur: look.blur.kind,
    most: blurOf(look.blur).strength(look.blur, size),
    stripRows: blurOf(look.blur).stripRows,
    isDraft: false,
    slots: 1,
  };
}
