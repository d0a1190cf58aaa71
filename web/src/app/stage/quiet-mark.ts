import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Drag, type DragStart } from '../ui/drag';
import { arrowOf, stepMultiplier } from '../ui/arrow-keys';
import { QuietArea, type QuietFrame } from '../workspace/quiet-area';
import { Viewport } from '../workspace/viewport';
import { stageWords } from '../words/stage';

/** The frame of the quiet area on the picture: moved by its inside, sized at a corner. */
@Component({
  selector: 'hl-quiet-mark',
  imports: [Drag],
  template: `
    @if (place(); as at) {
      <div
        class="frame"
        role="group"
        tabindex="0"
        [aria-label]="words.quietAreaArrowKeysMove"
        [style.left.px]="at.left"
        [style.top.px]="at.top"
        [style.width.px]="at.width"
        [style.height.px]="at.height"
        [hlDrag]="move"
        (keydown)="key($event, 'move')"
      ></div>
      <div
        class="corner"
        role="slider"
        tabindex="0"
        [aria-label]="words.sizeOfTheQuietArea"
        aria-valuemin="3"
        aria-valuemax="100"
        [attr.aria-valuenow]="at.percent.toFixed(0)"
        [style.left.px]="at.left + at.width"
        [style.top.px]="at.top + at.height"
        [hlDrag]="size"
        (keydown)="key($event, 'size')"
      ></div>
    }
  `,
  styles: `
    .frame {
      position: absolute;
      box-sizing: border-box;
      border: 1.25px solid #fff;
      border-radius: 3px;
      box-shadow:
        0 0 0 1.25px rgb(12 14 20 / 0.6),
        inset 0 0 0 1.25px rgb(12 14 20 / 0.6);
      pointer-events: auto;
      cursor: move;
      touch-action: none;
    }
    .corner {
      position: absolute;
      width: 14px;
      height: 14px;
      margin: -7px 0 0 -7px;
      box-sizing: border-box;
      border: 1.5px solid rgb(12 14 20 / 0.8);
      border-radius: 3px 3px 7px 3px;
      background: #fff;
      pointer-events: auto;
      cursor: nwse-resize;
      touch-action: none;
    }
    .frame:focus-visible,
    .corner:focus-visible {
      outline: 2px solid #fff;
      outline-offset: 2px;
    }
  `,
  styleUrl: './mark.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class QuietMark {
  protected readonly words = stageWords;
  private readonly area = inject(QuietArea);
  private readonly viewport = inject(Viewport);

  protected readonly place = computed(() => {
    const frame = this.area.frame();
    if (!frame) return null;
    const { width, height } = this.viewport.sheet();
    const from = this.viewport.fromSheet(frame.x * width, frame.y * height);
    const to = this.viewport.fromSheet((frame.x + frame.width) * width, (frame.y + frame.height) * height);
    return {
      left: from.x,
      top: from.y,
      width: to.x - from.x,
      height: to.y - from.y,
      percent: frame.width * 100,
    };
  });

  private grasp(event: PointerEvent, change: (start: QuietFrame, dx: number, dy: number) => void) {
    const start = this.area.frame();
    if (event.button !== 0 || !start) return null;
    const { width, height } = this.viewport.sheet();
    const from = this.viewport.sheetAt(event);
    return {
      move: (next: PointerEvent) => {
        const to = this.viewport.sheetAt(next);
        change(start, (to.x - from.x) / width, (to.y - from.y) / height);
      },
      cancel: () => this.area.frame.set(start),
    };
  }

  protected readonly move: DragStart = (event) => this.grasp(event, (...how) => this.area.move(...how));
  protected readonly size: DragStart = (event) => this.grasp(event, (...how) => this.area.size(...how));

  protected key(event: KeyboardEvent, what: 'move' | 'size'): void {
    const step = arrowOf(event);
    const frame = this.area.frame();
    if (!step || !frame) return;
    event.preventDefault();
    event.stopPropagation();
    const by = stepMultiplier(event) / 200;
    this.area[what](frame, step[0] * by, step[1] * by);
  }
}
