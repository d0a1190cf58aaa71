import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatProgressBar } from '@angular/material/progress-bar';
import { JobQueue } from '../jobs/job-queue';
import { ClipExports, type UnfinishedClip } from '../jobs/clip-exports';
import { Notices } from '../project/session/notices';
import { reasonOf } from '../model/causes';
import { counted } from '../model/counted';
import { shellWords } from '../words/shell';

/** One line for each file that is being made, at the foot of the window: out of the way, and always in reach. */
@Component({
  selector: 'hl-queue-strip',
  imports: [MatButton, MatProgressBar],
  template: `
    @for (job of queue.jobs(); track job.id) {
      <div class="job" role="group" [attr.aria-label]="words.exportOf(job.fileName)">
        <span class="name">{{ job.fileName }}</span>
        <span class="quiet says">{{ job.says }}</span>
        <mat-progress-bar
          [mode]="job.progress > 0 ? 'determinate' : 'indeterminate'"
          [value]="job.progress * 100"
          [attr.aria-label]="job.says"
        />
        <span class="quiet left">{{ job.remaining }}</span>
        <span class="row">
          @if (job.isPaused !== null) {
            <button matButton="outlined" (click)="queue.pause(job, !job.isPaused)">
              {{ job.isPaused ? words.resume : words.pause }}
            </button>
          }
          <button matButton="outlined" (click)="queue.cancel(job)">{{ words.cancel }}</button>
        </span>
      </div>
    }
    @for (film of clipExports.unfinished(); track film.id) {
      <div class="job" role="group" [attr.aria-label]="words.unfinishedExport(film.fileName)">
        <span class="name">{{ film.fileName }}</span>
        <span class="quiet says">{{ words.ofFramesRendered(film.made, film.frames) }}</span>
        <mat-progress-bar
          mode="determinate"
          [value]="(100 * film.made) / film.frames"
          [attr.aria-label]="words.progressOf(film.fileName)"
        />
        <span class="quiet left">{{ words.unfinished }}</span>
        <span class="row">
          <button matButton="outlined" (click)="takeUp(film, 'resume')">{{ words.resume }}</button>
          <button matButton="outlined" (click)="takeUp(film, 'save partial')">
            {{ words.savePartialClip }}
          </button>
          <button matButton="outlined" (click)="clipExports.letGo(film.id)">{{ words.discard }}</button>
        </span>
      </div>
    }
  `,
  styles: `
    :host {
      display: block;
      background: var(--paper);
    }
    .job {
      display: grid;
      grid-template-columns: minmax(0, 220px) 210px minmax(80px, 1fr) 130px auto;
      gap: 12px;
      align-items: center;
      height: 36px;
      padding: 0 16px;
      border-top: 1px solid var(--line);
    }
    @media (max-width: 1099.98px) {
      .job {
        grid-template-columns: minmax(0, 1fr) auto auto;
        height: auto;
        padding: 6px 12px;
        gap: 4px 12px;
      }
      .job mat-progress-bar {
        grid-column: 1 / 3;
        grid-row: 2;
        align-self: center;
      }
      .job .row {
        grid-row: 2;
        grid-column: 3;
      }
    }
    .name {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
      font-weight: 600;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class QueueStrip {
  protected readonly words = shellWords;
  protected readonly queue = inject(JobQueue);
  protected readonly clipExports = inject(ClipExports);
  private readonly notices = inject(Notices);

  /** Goes on with a film that was left unfinished, or writes what there is of it. To be called while the click is fresh. */
  protected async takeUp(
    { id, fileName, made, frames }: UnfinishedClip,
    how: 'resume' | 'save partial',
  ): Promise<void> {
    try {
      const order = how === 'resume' ? await this.clipExports.goOn(id) : await this.clipExports.asItIs(id);
      const outcome = await this.queue.run(order);
      const pictures = how === 'resume' ? frames : made;
      if (outcome.kind === 'written')
        this.notices.info(shellWords.exported(fileName, counted(pictures, 'frame')), id);
      else if (outcome.kind === 'failed') throw new Error(outcome.reason);
    } catch (error) {
      this.notices.error(shellWords.exportOfFailedRenderedFrames(fileName, reasonOf(error)), id);
    }
  }
}
