import { Injectable, computed, inject, signal } from '@angular/core';
import { readExif } from '@hazy-lens/core';
import { fileSave } from 'browser-fs-access';
import { Engine } from '../engine/engine';
import { type ExportOptions, type ExportProgress, type ExportSource, Exporter } from '../engine/export';
import { FocusPicturesSource } from '../engine/focus-pictures';
import { MatteCutter } from '../engine/matte-cutter';
import { Document } from '../state/document';
import { Notices } from '../state/notices';
import { Projects } from '../storage/projects';
import { timeLeft } from './time-left';

/** A file that is being made; it goes on whatever is opened meanwhile. */
export interface ExportJob {
  readonly fileName: string;
  /** The project it is made of. */
  readonly projectId: string | null;
  readonly says: string;
  /** 0..1 */
  readonly done: number;
  readonly left: string | null;
}

const STAGES: Record<ExportProgress['stage'], string> = {
  reading: 'Reading the picture',
  rendering: 'Rendering',
  writing: 'Writing the file',
};

/** How a file is wanted. */
export type ExportWish = Omit<ExportOptions, 'exif'> & { fileName: string; extension: string; label: string };

/** The exports that are under way: one is made after the other. */
@Injectable({ providedIn: 'root' })
export class Exports {
  private readonly engine = inject(Engine);
  private readonly exporter = inject(Exporter);
  private readonly document = inject(Document);
  private readonly focusPictures = inject(FocusPicturesSource);
  private readonly cutter = inject(MatteCutter);
  private readonly projects = inject(Projects);
  private readonly notices = inject(Notices);
  private readonly entries = signal<readonly { job: ExportJob; abort: AbortController }[]>([]);
  readonly jobs = computed(() => this.entries().map(({ job }) => job));
  /** What became of the last export of each project, by its id. */
  readonly finished = signal<ReadonlyMap<string | null, string>>(new Map());
  private last: Promise<unknown> = Promise.resolve();

  constructor() {
    addEventListener('beforeunload', (event) => {
      if (this.entries().length > 0) event.preventDefault();
    });
  }

  /** All that the open project's file is made of, when nothing of it is being made any more. */
  async source(): Promise<ExportSource> {
    const picture = this.engine.picture();
    if (!picture) throw new Error('There is no picture open.');
    await this.cutter.settled();
    const focusPictures = await this.focusPictures.settled();
    // Cutting may have put the last matte into the recipe.
    return { picture, recipe: this.document.recipe(), focusPictures };
  }

  cancel(job: ExportJob): void {
    this.entries()
      .find((entry) => entry.job === job)
      ?.abort.abort();
  }

  /** Exports the open project as it is now. To be called while the click is fresh: a picker may open. */
  async start(wish: ExportWish): Promise<void> {
    const { projectId } = this.document.state();
    const { fileName, extension, label } = wish;
    const abort = new AbortController();
    const id = { abort, job: { fileName, projectId, says: 'Waiting', done: 0, left: null } as ExportJob };
    this.entries.update((list) => [...list, id]);
    this.tell(projectId, '');
    const report = (change: Partial<ExportJob>): void =>
      this.entries.update((list) =>
        list.map((one) => (one.abort === abort ? { abort, job: { ...one.job, ...change } } : one)),
      );
    // What it is made of is taken now; what is changed later does not belong to it.
    const source = this.source();
    const exif = this.sourceExif();
    const blob = this.last.then(async () => {
      report({ says: 'Preparing' });
      const [ready, block] = [await source, await exif];
      let stage: ExportProgress['stage'] | null = null;
      let started = 0;
      return this.exporter.export(
        ready,
        { ...wish, exif: block },
        (now) => {
          if (now.stage !== stage) [stage, started] = [now.stage, performance.now()];
          report({
            says: STAGES[now.stage],
            done: now.done,
            left: timeLeft(now.done, performance.now() - started),
          });
        },
        abort.signal,
      );
    });
    source.catch(() => undefined);
    this.last = blob.catch(() => undefined);
    try {
      // A picker must open while the click is fresh; a download has to wait for its bytes.
      await fileSave('showSaveFilePicker' in window ? blob : await blob, {
        fileName,
        extensions: [extension],
        description: `${label} picture`,
      });
      const { width, height } = wish;
      const size = ((await blob).size / 1e6).toFixed(1);
      this.tell(projectId, `“${fileName}” is written: ${width} × ${height} px, ${size} MB.`);
    } catch (error) {
      const isCancelled = abort.signal.aborted || (error as Error).name === 'AbortError';
      abort.abort();
      if (isCancelled) this.tell(projectId, 'Cancelled. No file was written; the project is as it was.');
      else
        this.notices.error(
          `“${fileName}” could not be written: ${(error as Error).message} The project is safe; try a smaller size.`,
        );
    } finally {
      this.entries.update((list) => list.filter((one) => one.abort !== abort));
    }
  }

  tell(projectId: string | null, text: string): void {
    this.finished.update((all) => new Map(all).set(projectId, text));
  }

  private async sourceExif(): Promise<Uint8Array | null> {
    const source = this.document.source();
    const file = source && (await this.projects.picture(source).catch(() => null));
    return file ? readExif(new Uint8Array(await file.arrayBuffer())) : null;
  }
}
