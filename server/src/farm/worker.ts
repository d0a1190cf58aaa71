import { mkdir, mkdtemp, rm } from 'node:fs/promises';
import { hostname, tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Job as QueuedPart, UnrecoverableError, Worker } from 'bullmq';
import { messageLine } from '@hazy-lens/core';
import { start } from '../footage/ffmpeg';
import { OpenFootage } from '../footage/job';
import { InputError } from '../render/picture';
import { type WorkerThreads, startThreads } from '../render/threads';
import { ATTEMPTS, type Farm, QUEUE } from './farm';
import { jobFrom, readManifest } from './manifest';
import { type Machine, PART, type Part, type Result, checked } from './messages';
import type { Heard, Store } from './store';

/** How a machine works. */
export interface WorkerOptions {
  name: string;
  /** Threads of a part. */
  threads: number;
  build: string;
  /** A part that shows no frame for so long stands still: it is given up, and its threads ended. */
  stillMs: number;
  /** A machine that was killed gives its parts back after so long. */
  lockMs: number;
  /** Where the built program lies. */
  built: URL;
}

/** Times that machines may be lost over one part before it counts as failed. */
const MOST_LOST = 3;
const HEARTBEAT_MS = 4000;
/** Parts over which the rate is taken. */
const RATE_PARTS = 6;
const SMALL_PX = 240;

/** What a machine is called: where it runs, and as what. */
export const machineName = (number: number): string => `${hostname()}-${process.pid}-${number}`;

/** One machine's hand at a farm: takes parts of jobs, one after the other, until it is closed. */
export class FarmWorker {
  private readonly worker: Worker;
  private readonly machine: Machine;
  private readonly rates: { frames: number; ms: number }[] = [];
  private readonly heartbeat: NodeJS.Timeout;
  private readonly folder: Promise<string>;
  private threads: WorkerThreads | null = null;
  /** The job that is open: its next part finds all as it was. */
  private open: { manifest: string; footage: OpenFootage } | null = null;
  private cancelled: string | null = null;
  private inHand: Part | null = null;

  constructor(
    private readonly farm: Farm,
    private readonly store: Store,
    private readonly options: WorkerOptions,
  ) {
    this.machine = { name: options.name, since: Date.now(), frames: 0, fps: 0, doing: '' };
    this.folder = mkdtemp(join(tmpdir(), 'hazy-lens-work-'));
    const { lockMs } = options;
    this.worker = new Worker(QUEUE, (part) => this.carryOut(part), {
      connection: farm.redis,
      concurrency: 1,
      lockDuration: lockMs,
      stalledInterval: lockMs / 2,
      maxStalledCount: MOST_LOST,
    });
    this.worker.on('error', () => undefined);
    this.worker.on('failed', (part, error) => void this.noteFailure(part, error));
    this.heartbeat = setInterval(() => void this.beat().catch(() => undefined), HEARTBEAT_MS);
    void this.beat().catch(() => undefined);
  }

  private async beat(): Promise<void> {
    await this.farm.tell(this.machine);
    const { inHand } = this;
    if (inHand && (await this.farm.job(inHand.job)).cancelled) this.cancelled = inHand.job;
  }

  private async noteFailure(part: QueuedPart | undefined, error: Error): Promise<void> {
    if (!part) return;
    const isOver =
      part.attemptsMade >= ATTEMPTS || error instanceof UnrecoverableError || /stalled/.test(error.message);
    const { success, data } = PART.safeParse(part.data);
    if (!isOver || !success) return;
    const why = /stalled/.test(error.message)
      ? `Machines were lost over it ${MOST_LOST + 1} times.`
      : messageLine(error.message);
    await this.farm.fail(data.job, data.from, `${why} (${this.options.name})`);
  }

  private async carryOut(queued: QueuedPart): Promise<Result> {
    let part: Part;
    try {
      part = checked(PART, queued.data, 'A part');
    } catch (error) {
      throw new UnrecoverableError((error as Error).message);
    }
    if (part.build !== this.options.build)
      throw new UnrecoverableError(
        `This machine has build ${this.options.build.slice(0, 8)} of Hazy Lens, the job was sent by ${part.build.slice(0, 8)}. Install the same on both.`,
      );
    this.inHand = part;
    this.machine.doing = `${messageLine(queued.name)}, frames ${part.from + 1} to ${part.to + 1}`;
    try {
      const result = await this.watched(part, (onFrame) => this.render(part, onFrame));
      await this.farm.finish(part.job, part.from, result);
      return result;
    } catch (error) {
      // A fault in one part must not follow into the next.
      await this.letGo();
      const wrapped = error instanceof InputError || error instanceof UnrecoverableError;
      throw wrapped ? error : new Error(messageLine((error as Error).message));
    } finally {
      this.inHand = null;
      this.machine.doing = '';
    }
  }

  /** Ends what shows no frame for too long, or is no longer wanted. */
  private watched(part: Part, work: (onFrame: () => void) => Promise<Result>): Promise<Result> {
    return new Promise((resolve, reject) => {
      let last = Date.now();
      const giveUp = (error: Error): void => {
        clearInterval(timer);
        // What hangs is ended, not waited for.
        void this.threads?.close();
        void this.open?.footage.close().catch(() => undefined);
        this.threads = null;
        this.open = null;
        reject(error);
      };
      const timer = setInterval(
        () => {
          if (this.cancelled === part.job) giveUp(new UnrecoverableError('The job was cancelled.'));
          else if (Date.now() - last > this.options.stillMs)
            giveUp(
              new Error(`It stood still for ${Math.round(this.options.stillMs / 1000)} s, and was given up.`),
            );
        },
        Math.min(1000, this.options.stillMs / 4),
      );
      work(() => (last = Date.now()))
        .then(resolve, reject)
        .finally(() => clearInterval(timer));
    });
  }

  private async footageOf({ manifest }: Part, heard: Heard): Promise<OpenFootage> {
    if (this.open?.manifest === manifest) return this.open.footage;
    await this.letGo();
    const folder = join(await this.folder, manifest);
    const job = await jobFrom(this.store, await readManifest(this.store, manifest), folder, heard);
    this.threads ??= await startThreads(this.options.threads, this.options.built);
    const footage = await OpenFootage.open(job, this.threads, heard);
    this.open = { manifest, footage };
    return footage;
  }

  private async render(part: Part, onFrame: () => void): Promise<Result> {
    const started = performance.now();
    const footage = await this.footageOf(part, onFrame);
    onFrame();
    if (part.to >= footage.frames)
      throw new InputError(`The job has ${footage.frames} frames, and a part asks for frame ${part.to + 1}.`);
    const folder = join(await this.folder, `${part.job}-${part.from}`);
    await mkdir(folder, { recursive: true });
    try {
      const names = await footage.renderPart(folder, part.from, part.to, () => {
        onFrame();
        this.machine.frames++;
      });
      const files = [];
      for (const name of names) {
        files.push({ name, hash: await this.store.putFile(join(folder, name), onFrame) });
        onFrame();
      }
      const small = part.from === 0 ? await this.smallOf(join(folder, names[0]!)) : null;
      const ms = performance.now() - started;
      this.rate(part.to - part.from + 1, ms);
      return { files, small, machine: this.options.name, ms };
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  }

  private rate(frames: number, ms: number): void {
    this.rates.push({ frames, ms });
    if (this.rates.length > RATE_PARTS) this.rates.shift();
    const sum = (key: 'frames' | 'ms'): number => this.rates.reduce((all, one) => all + one[key], 0);
    this.machine.fps = (1000 * sum('frames')) / sum('ms');
  }

  /** A small picture of a part's first frame; a job is no worse without. */
  private async smallOf(path: string): Promise<string | null> {
    const out = `${path}.small.jpg`;
    const scale = `scale=w=${SMALL_PX}:h=${SMALL_PX}:force_original_aspect_ratio=decrease:force_divisible_by=2`;
    try {
      await start('ffmpeg', [
        '-y',
        '-i',
        `file:${path}`,
        '-frames:v',
        '1',
        '-vf',
        scale,
        `file:${out}`,
      ]).finish(path);
      return await this.store.putFile(out);
    } catch {
      return null;
    }
  }

  private async letGo(): Promise<void> {
    const { open } = this;
    this.open = null;
    await open?.footage.close().catch(() => undefined);
  }

  /** Finishes the part in hand, and takes no other. */
  async close(): Promise<void> {
    clearInterval(this.heartbeat);
    await this.farm.unlessGone(this.worker.close());
    await this.letGo();
    await this.threads?.close();
    await rm(await this.folder, { recursive: true, force: true });
    await this.farm.unlessGone(this.farm.leave(this.options.name));
  }
}
