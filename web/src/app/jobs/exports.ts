import { Injectable, computed, inject, signal } from '@angular/core';
import { fileSave } from 'browser-fs-access';
import { type ExportOptions, type ExportProgress, type ExportSource, Exporter } from '../engine/export';
import { timeLeft } from './time-left';

/** How a file is wanted. */
export type ExportWish = Omit<ExportOptions, 'exif'> & { fileName: string; extension: string; label: string };

/** All that a job works on: it is taken when the job is ordered, and nothing changes it after that. */
export interface ExportInput extends ExportSource {
  /** The EXIF block of the source's file, or null. */
  exif: Uint8Array | null;
}

/** A file that is being made, as people see it. */
export interface ExportJob {
  readonly fileName: string;
  readonly says: string;
  /** 0..1 */
  readonly done: number;
  readonly left: string | null;
}

/** What became of a job. */
export type Outcome =
  { kind: 'written'; bytes: number } | { kind: 'cancelled' } | { kind: 'failed'; reason: string };

const STAGES: Record<ExportProgress['stage'], string> = {
  reading: 'Reading the picture',
  rendering: 'Rendering',
  writing: 'Writing the file',
};

/** The exports that are under way: one is made after the other, whatever is open meanwhile. */
@Injectable({ providedIn: 'root' })
export class Exports {
  private readonly exporter = inject(Exporter);
  private readonly entries = signal<readonly { job: ExportJob; abort: AbortController }[]>([]);
  readonly jobs = computed(() => this.entries().map(({ job }) => job));
  private last: Promise<unknown> = Promise.resolve();

  constructor() {
    addEventListener('beforeunload', (event) => {
      if (this.entries().length > 0) event.preventDefault();
    });
  }

  cancel(job: ExportJob): void {
    this.entries()
      .find((entry) => entry.job === job)
      ?.abort.abort();
  }

  /** Makes a file. To be called while the click is fresh: a picker may open. */
  async run(wish: ExportWish, input: Promise<ExportInput>): Promise<Outcome> {
    const { fileName, extension, label } = wish;
    const abort = new AbortController();
    const waiting: ExportJob = { fileName, says: 'Waiting', done: 0, left: null };
    this.entries.update((list) => [...list, { job: waiting, abort }]);
    const report = (change: Partial<ExportJob>): void =>
      this.entries.update((list) =>
        list.map((one) => (one.abort === abort ? { abort, job: { ...one.job, ...change } } : one)),
      );
    input.catch(() => undefined);
    const blob = this.last.then(() => this.make(wish, input, report, abort.signal));
    this.last = blob.catch(() => undefined);
    try {
      // A picker must open while the click is fresh; a download has to wait for its bytes.
      await fileSave('showSaveFilePicker' in window ? blob : await blob, {
        fileName,
        extensions: [extension],
        description: `${label} picture`,
      });
      return { kind: 'written', bytes: (await blob).size };
    } catch (error) {
      if (abort.signal.aborted || (error as Error).name === 'AbortError') return { kind: 'cancelled' };
      return { kind: 'failed', reason: (error as Error).message };
    } finally {
      abort.abort();
      this.entries.update((list) => list.filter((one) => one.abort !== abort));
    }
  }

  private async make(
    wish: ExportWish,
    input: Promise<ExportInput>,
    report: (change: Partial<ExportJob>) => void,
    signal: AbortSignal,
  ): Promise<Blob> {
    report({ says: 'Preparing' });
    const { exif, ...source } = await input;
    signal.throwIfAborted();
    let stage: ExportProgress['stage'] | null = null;
    let started = 0;
    return this.exporter.export(
      source,
      { ...wish, exif },
      (now) => {
        if (now.stage !== stage) [stage, started] = [now.stage, performance.now()];
        const left = timeLeft(now.done, performance.now() - started);
        report({ says: STAGES[now.stage], done: now.done, left });
      },
      signal,
    );
  }
}
