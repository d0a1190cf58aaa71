import { Injectable, type Signal, effect, inject, signal, untracked } from '@angular/core';
import { JobQueue } from '../../jobs/job-queue';
import type { FilmInput, NamelessWish } from '../../jobs/film';
import { type FilmEstimate, FilmRenderer } from '../../jobs/film-renderer';
import type { Held } from '../../jobs/held';
import { ExportInputs } from '../../project/session/export-input';
import { Footage } from '../../project/footage/footage';
import { OpenProject } from '../../project/session/open-project';
import { Player } from '../../workspace/player';

/** A hand that did nothing for so long leaves the machine time for a trial. */
const REST_MS = 900;

/** Tries how long the open footage takes as a film, again whenever something of it changed and the hand rests. */
@Injectable()
export class ClipEstimator {
  private readonly renderer = inject(FilmRenderer);
  private readonly inputs = inject(ExportInputs);
  private readonly queue = inject(JobQueue);
  private readonly project = inject(OpenProject);
  private readonly footage = inject(Footage);
  private readonly player = inject(Player);
  private readonly found = signal<{ of: NamelessWish; estimate: FilmEstimate } | null>(null);

  /** What the last trial of a kind and size said; null where there is none yet, or it came to nothing. */
  estimate({ kind, width, quality, bitrate, holds }: NamelessWish): FilmEstimate | null {
    const found = this.found();
    const isOf =
      found?.of.kind === kind &&
      found.of.width === width &&
      found.of.quality === quality &&
      found.of.holds === holds &&
      found.of.bitrate === bitrate;
    return isOf ? found.estimate : null;
  }

  /** To be called once, where effects may be made. */
  watch(wish: Signal<NamelessWish>): void {
    effect((onCleanup) => {
      const now = wish();
      this.project.keyed();
      this.footage.timeline();
      // Timings on a busy machine would mislead.
      if (this.queue.jobs().length > 0 || this.player.isPlaying() || this.footage.isSurveyed()) return;
      const abort = new AbortController();
      const timer = setTimeout(() => void untracked(() => this.try(now, abort.signal)), REST_MS);
      onCleanup(() => {
        clearTimeout(timer);
        abort.abort();
      });
    });
  }

  private async try(wish: NamelessWish, stopped: AbortSignal): Promise<void> {
    let input: Held<FilmInput> | null = null;
    try {
      input = this.inputs.film();
      const estimate = await this.renderer.estimate(wish, await input.ready, stopped);
      this.found.set({ of: wish, estimate });
    } catch {
      // Where it cannot be made, the export says why.
      if (!stopped.aborted) this.found.set(null);
    } finally {
      input?.letGo();
    }
  }
}
