import { Injectable, computed, signal } from '@angular/core';
import { fileSave } from 'browser-fs-access';
import { AdvisedError, reasonOf } from '../model/causes';
import { queueWords } from '../words/queue';

/** A file that is being made, as people see it. */
export interface Job {
  readonly fileName: string;
  readonly says: string;
  /** 0..1 */
  readonly progress: number;
  readonly remaining: string | null;
  /** Null where it cannot be paused. */
  readonly isPaused: boolean | null;
}

export type Report = (change: Partial<Pick<Job, 'says' | 'progress' | 'remaining'>>) => void;

/** What a job hears while it works. */
export interface Control {
  signal: AbortSignal;
  /** Ends at once, or when the job is no longer paused. @throws the signal's reason. */
  waitWhilePaused(): Promise<void>;
}

/** Work that takes its turn in the queue. */
export interface JobSpec<T> {
  /** What it is called there. */
  fileName: string;
  canPause: boolean;
  /** It keeps other machines busy, not this one: it need not wait for its turn. */
  isElsewhere?: boolean;
  make(report: Report, control: Control): Promise<T>;
}

/** How a file is made, and under which name. */
export interface FileJobSpec extends JobSpec<Blob> {
  extension: string;
  /** What it is, for the browser's picker. */
  label: string;
  /** What ought to be known of the file that was made, a sentence; empty for nothing. */
  note?(): string;
  /** Hears what became of it. */
  ended?(outcome: JobResult): Promise<void>;
}

/** What became of a job. */
export type JobResult =
  | { kind: 'written'; bytes: number; /** A sentence on the file. */ note?: string }
  | { kind: 'cancelled' }
  | { kind: 'failed'; reason: string; /** The reason says what to do. */ isAdvised?: true };

/** Takes a file that was made. */
export type WriteFile = (file: Blob) => Promise<void>;

interface Entry {
  job: Job;
  abort: AbortController;
  /** Lets a paused job go on. */
  goOn: (() => void) | null;
}

/** One has its turn at a time, in the order in which they asked. */
class Turns {
  private last: Promise<void> = Promise.resolve();

  /** Ends when it is one's turn; what it gives ends that turn. */
  async take(): Promise<() => void> {
    const before = this.last;
    let release!: () => void;
    this.last = new Promise((resolve) => (release = resolve));
    await before;
    return release;
  }
}

/** The exports that are under way: one is made after the other, whatever is open meanwhile. */
@Injectable({ providedIn: 'root' })
export class JobQueue {
  private readonly entries = signal<readonly Entry[]>([]);
  readonly jobs = computed(() => this.entries().map(({ job }) => job));
  private readonly turns = new Turns();

  constructor() {
    addEventListener('beforeunload', (event) => {
      if (this.entries().length > 0) event.preventDefault();
    });
  }

  private entryOf(job: Job): Entry | undefined {
    return this.entries().find((entry) => entry.job === job);
  }

  cancel(job: Job): void {
    const entry = this.entryOf(job);
    entry?.abort.abort();
    entry?.goOn?.();
  }

  /** Pauses a job, or lets it go on. */
  pause(job: Job, isPaused: boolean): void {
    const entry = this.entryOf(job);
    if (!entry || job.isPaused === null) return;
    entry.goOn?.();
    this.change(entry.abort, { isPaused });
  }

  private change(abort: AbortController, change: Partial<Job>, goOn?: Entry['goOn']): void {
    this.entries.update((list) =>
      list.map((one) =>
        one.abort === abort ? { ...one, job: { ...one.job, ...change }, goOn: goOn ?? one.goOn } : one,
      ),
    );
  }

  /**
   * Makes a file. To be called while the click is fresh: a picker may open.
   * @param write takes the file in place of the picker and the downloads.
   */
  async run(order: FileJobSpec, write: WriteFile | null = null): Promise<JobResult> {
    const outcome = await this.written(order, write);
    await order.ended?.(outcome);
    return outcome;
  }

  private async written(order: FileJobSpec, write: WriteFile | null): Promise<JobResult> {
    const { fileName, extension, label } = order;
    const { made: blob, abort, leave } = this.enter(order);
    try {
      // A picker must open while the click is fresh; a download has to wait for its bytes.
      if (write) await write(await blob);
      else
        await fileSave('showSaveFilePicker' in window ? blob : await blob, {
          fileName,
          extensions: [extension],
          description: label,
        });
      return { kind: 'written', bytes: (await blob).size, ...(order.note?.() && { note: order.note() }) };
    } catch (error) {
      if (abort.signal.aborted || (error as Error).name === 'AbortError') return { kind: 'cancelled' };
      return {
        kind: 'failed',
        reason: reasonOf(error),
        ...(error instanceof AdvisedError && { isAdvised: true }),
      };
    } finally {
      leave();
    }
  }

  /** Does work that writes no file by itself. @throws the signal's reason where it is cancelled. */
  async work<T>(task: JobSpec<T>): Promise<T> {
    const { made, leave } = this.enter(task);
    return made.finally(leave);
  }

  /** Takes a place in the queue, until `leave` is called; what comes of it is `made` when its turn came. */
  private enter<T>(task: JobSpec<T>): { made: Promise<T>; abort: AbortController; leave: () => void } {
    const abort = new AbortController();
    const job: Job = {
      fileName: task.fileName,
      says: queueWords.waiting,
      progress: 0,
      remaining: null,
      isPaused: task.canPause ? false : null,
    };
    this.entries.update((list) => [...list, { job, abort, goOn: null }]);
    const control: Control = {
      signal: abort.signal,
      waitWhilePaused: async () => {
        const isPaused = (): boolean =>
          this.entries().find((one) => one.abort === abort)?.job.isPaused === true && !abort.signal.aborted;
        if (isPaused()) {
          // Others have their turn meanwhile.
          release();
          while (isPaused()) await new Promise<void>((resolve) => this.change(abort, {}, resolve));
          release = await this.turns.take();
        }
        abort.signal.throwIfAborted();
      },
    };
    let release: () => void;
    const make = async (): Promise<T> => {
      release = task.isElsewhere ? () => undefined : await this.turns.take();
      try {
        abort.signal.throwIfAborted();
        const result = await task.make((change) => this.change(abort, change), control);
        abort.signal.throwIfAborted();
        return result;
      } finally {
        release();
      }
    };
    const made = make();
    made.catch(() => undefined);
    const leave = (): void => {
      abort.abort();
      this.entries.update((list) => list.filter((one) => one.abort !== abort));
    };
    return { made, abort, leave };
  }
}
