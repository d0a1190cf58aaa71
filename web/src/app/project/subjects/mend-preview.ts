import { Injectable, computed, effect, inject, signal } from '@angular/core';
import { type Mend, mendsIn } from '@hazy-lens/core';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { FrameMender } from '../../engine/footage/frame-mender';
import { StillMender } from '../../engine/still-mender';
import type { Picture } from '../../engine/picture';
import { OpenProject } from '../session/open-project';
import { ProjectNotices } from '../session/project-notices';
import { reasonOf } from '../../model/causes';
import { projectWords } from '../../words/project';

/** Keeps the mends of the open recipe carried out on the open picture; frames of footage have theirs as they are read. */
@Injectable()
export class MendPreview {
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly project = inject(OpenProject);
  private readonly mender = inject(StillMender);
  private readonly frameMender = inject(FrameMender);
  private readonly notices = inject(ProjectNotices);
  private readonly tidy = computed(() => this.project.recipe().tidy);
  private readonly wanted = computed(() => mendsIn({ tidy: this.tidy() }), {
    equal: (a, b) => a.length === b.length && a.every((one, i) => one === b[i]),
  });
  private readonly done = signal<number | null>(null);
  /** How far the mends are that are being made, 0..1, or that some are; null where all are there. */
  readonly progress = computed(() => this.done() ?? (this.frameMender.making() > 0 ? 'some' : null));
  /** The newest step asked for what is being made: it can be taken back. */
  readonly canCancel = computed(
    () =>
      this.progress() !== null &&
      !!this.project.newestStep()?.undo.some(({ path }) => path.startsWith('/recipe/tidy/mends')),
  );

  constructor() {
    effect((onCleanup) => {
      const first = this.renderLoop.guide();
      const material = this.renderLoop.material();
      const mends = this.wanted();
      if (!first || !material || material.footage) return;
      const stop = new AbortController();
      onCleanup(() => stop.abort());
      void this.carryOut(first, mends, stop.signal);
    });
  }

  /** Stops the touch-ups that are being made, and takes the step back that asked for them. */
  cancel(): void {
    if (!this.canCancel()) return;
    if (this.frameMender.making() > 0) this.frameMender.stop();
    this.project.undo();
  }

  private async carryOut(first: Picture, mends: readonly Mend[], signal: AbortSignal): Promise<void> {
    if (mends.length > 0) this.done.set(0);
    const show = (picture: Picture): void => {
      if (this.renderLoop.guide() === first) this.renderLoop.show(picture);
    };
    try {
      const picture = await this.mender.of(
        first,
        mends,
        signal,
        (done) => !signal.aborted && this.done.set(done),
        show,
      );
      if (signal.aborted) return;
      show(picture);
      this.done.set(null);
    } catch (error) {
      if (signal.aborted) return;
      this.done.set(null);
      this.notices.error(projectWords.theTouchUpsCouldnt(reasonOf(error)));
    }
  }
}
