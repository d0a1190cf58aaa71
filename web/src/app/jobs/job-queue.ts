import { Injectable, inject } from '@angular/core';
import { fileSave } from 'browser-fs-access';
import { AdvisedError, reasonOf } from '../model/causes';
import { queueWords } from '../words/queue';
import { type Job, JobStore } from './job-store';

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

/** What holds a job's work. */
interface Held {
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
  private readonly store = inject(JobStore);
  readonly jobs = this.store.entities;
  private readonly held = new Map<number, Held>();
  private readonly turns = new Turns();

  constructor() {
    addEventListener('beforeunload', (event) => {
      if (this.held.size > 0) event.preventDefault();
    });
  }

  cancel({ id }: Job): void {
    const held = this.held.get(id);
    held?.abort.abort();
    held?.goOn?.();
  }

  /** Pauses a job, or lets it go on. */
  pause({ id }: Job, isPaused: boolean): void {
    const held = this.held.get(id);
    if (!held || this.store.entityMap()[id]!.isPaused === null) return;
    this.store.change(id, { isPaused });
    held.goOn?.();
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
    const held: Held = { abort, goOn: null };
    const id = this.store.add({
      fileName: task.fileName,
      says: queueWords.waiting,
      progress: 0,
      remaining: null,
      isPaused: task.canPause ? false : null,
    });
    this.held.set(id, held);
    const control: Control = {
      signal: abort.signal,
      waitWhilePaused: async () => {
        const isPaused = (): boolean =>
          this.store.entityMap()[id]?.isPaused === true && !abort.signal.aborted;
        if (isPaused()) {
          // Others have their turn meanwhile.
          release();
          while (isPaused()) await new Promise<void>((resolve) => (held.goOn = resolve));
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
        const result = await task.make((change) => this.store.change(id, change), control);
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
      this.held.delete(id);
      this.store.remove(id);
    };
    return { made, abort, leave };
  }
}
