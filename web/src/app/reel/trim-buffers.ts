import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';
import { Footage } from '../project/footage/footage';
import { OpenProject } from '../project/session/open-project';
import { Trim } from '../project/footage/trim';
import { Drag, type DragHandler } from '../ui/drag';
import { arrowOf, stepMultiplier } from '../ui/arrow-keys';
import { formatTimecode } from './timecode';
import { ReelView } from './reel-view';
import { reelWords } from '../words/reel';

/** Where the footage begins and ends, and what of it is missing: buffers at both ends of the track that can be pushed. What is cut away is paler. */
@Component({
  selector: 'hl-trim-buffers',
  imports: [Drag, MatTooltip],
  template: `
    <div class="cut" [style.left.px]="0" [style.width.px]="view.x(trim()[0])"></div>
    <div class="cut" [style.left.px]="view.x(trim()[1])" [style.right.px]="0"></div>
    @if (missing(); as from) {
      <div
        class="missing"
        role="img"
        [style.left.px]="view.x(from.time)"
        [style.right.px]="0"
        [attr.aria-label]="from.says"
        [matTooltip]="from.says"
      ></div>
    }
    @for (buffer of buffers; track buffer.end) {
      <div
        class="buffer"
        [class]="buffer.name"
        role="slider"
        tabindex="0"
        [attr.aria-label]="buffer.label"
        [style.left.px]="view.x(trim()[buffer.end])"
        [attr.aria-valuenow]="trim()[buffer.end]"
        [attr.aria-valuetext]="clock(trim()[buffer.end])"
        aria-valuemin="0"
        [attr.aria-valuemax]="footage.times().end"
        [matTooltip]="buffer.tip"
        [hlDrag]="buffer.grasp"
        (keydown)="key(buffer.end, $event)"
      ></div>
    }
  `,
  styleUrl: './trim-buffers.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TrimBuffers {
  protected readonly footage = inject(Footage);
  protected readonly view = inject(ReelView);
  private readonly project = inject(OpenProject);
  protected readonly clock = formatTimecode;
  private readonly part = inject(Trim);
  protected readonly trim = this.part.part;
  /** Where the file is cut short. */
  protected readonly missing = computed(() => {
    const from = this.footage.facts()?.missingFrom ?? null;
    const { starts } = this.footage.times();
    return from === null
      ? null
      : { time: starts[from]!, says: reelWords.framesToAreMissing(from + 1, starts.length) };
  });
  protected readonly buffers = ([0, 1] as const).map((end) => ({
    end,
    name: end === 0 ? 'in' : 'out',
    label: end === 0 ? reelWords.inPoint : reelWords.outPoint,
    tip: end === 0 ? reelWords.dragToSet : reelWords.dragToSetTheOut,
    grasp: () => this.pushing(end),
  }));

  private pushing(end: 0 | 1): DragHandler {
    const gesture = crypto.randomUUID();
    return {
      move: (event) => this.part.set(end, this.view.timeAt(event), gesture),
      cancel: () => this.project.abandon(gesture),
    };
  }

  protected key(end: 0 | 1, event: KeyboardEvent): void {
    const arrow = arrowOf(event);
    if (!arrow?.[0]) return;
    event.preventDefault();
    event.stopPropagation();
    const span = 1 / this.footage.timeline().fps;
    this.part.set(end, this.trim()[end] + arrow[0] * Math.max(1, stepMultiplier(event)) * span, null);
  }
}
