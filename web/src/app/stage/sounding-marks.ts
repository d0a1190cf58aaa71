import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { Point } from '@hazy-lens/core';
import { focusOf } from '../model/elements';
import { OpenProject } from '../project/session/open-project';
import { SelectionStore } from '../workspace/selection-store';
import { Drag, type DragStart } from '../ui/drag';
import { arrowOf, stepMultiplier } from '../ui/arrow-keys';
import { Viewport } from '../workspace/viewport';
import { stageWords } from '../words/stage';

const BAR_PX = 34;

/** The soundings on the picture, each with its amount in pixels and a small depth bar to turn it. */
@Component({
  selector: 'hl-sounding-marks',
  imports: [Drag],
  template: `
    @for (mark of marks(); track mark.index) {
      <div
        class="mark"
        [class.chosen]="mark.chosen"
        [style.transform]="'translate(' + mark.x + 'px, ' + mark.y + 'px)'"
        (wheel)="wheel($event, mark.index)"
      >
        <button
          class="spot"
          [attr.aria-label]="words.arrowKeysMoveDeleteRemoves(mark.name)"
          [attr.data-sounding]="mark.index"
          [hlDrag]="graspSpot"
          (keydown)="moveKey($event, mark.index)"
          (focus)="choose(mark.index)"
        >
          {{ mark.text }}
        </button>
        <span
          class="bar"
          role="slider"
          tabindex="0"
          aria-valuemin="0"
          aria-valuemax="100"
          [attr.data-bar]="mark.index"
          [attr.aria-label]="words.hazeOf(mark.name)"
          [attr.aria-valuenow]="mark.percent"
          [attr.aria-valuetext]="mark.percent + ' %'"
          [hlDrag]="graspBar"
          (keydown)="turnKey($event, mark.index)"
          (focus)="choose(mark.index)"
        >
          <span class="fill" [style.height.%]="mark.percent"></span>
        </span>
      </div>
    }
  `,
  styles: `
    :host {
      position: absolute;
      inset: 0;
      pointer-events: none;
    }
    .mark {
      position: absolute;
      left: 0;
      top: 0;
      display: flex;
      align-items: flex-start;
      opacity: 0.75;
    }
    .mark.chosen,
    .mark:hover {
      opacity: 1;
    }
    /* The number stands over its spot, as on a chart. */
    .spot {
      translate: -50% -50%;
      min-width: 34px;
      height: 22px;
      padding: 0 6px;
      border: 1px solid rgb(12 14 20 / 0.7);
      border-radius: 4px;
      background: rgb(28 30 36 / 0.78);
      color: #fff;
      font-size: 11px;
      font-weight: 600;
      white-space: nowrap;
      cursor: move;
      pointer-events: auto;
      touch-action: none;
    }
    .chosen .spot {
      background: #fff;
      color: #15161a;
    }
    .bar {
      position: absolute;
      left: 24px;
      top: -17px;
      width: 14px;
      height: 34px;
      cursor: ns-resize;
      pointer-events: auto;
      touch-action: none;
      border-radius: 3px;
      opacity: 0;
      background: linear-gradient(#fff, #fff) center / 4px 100% no-repeat;
      filter: drop-shadow(0 0 1px rgb(12 14 20 / 0.9));
    }
    .chosen .bar,
    .mark:hover .bar,
    .bar:focus-visible {
      opacity: 1;
    }
    :host(.quiet) .spot,
    :host(.quiet) .bar {
      pointer-events: none;
    }
    .fill {
      position: absolute;
      left: 3px;
      right: 3px;
      bottom: 0;
      border-radius: 2px;
      background: #6e79d8;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SoundingMarks {
  protected readonly words = stageWords;
  private readonly project = inject(OpenProject);
  private readonly selection = inject(SelectionStore);
  private readonly viewport = inject(Viewport);

  protected readonly marks = computed(() => {
    const { soundings } = this.selection.focus();
    const { width, height } = this.project.size();
    const chosen = this.selection.chosen();
    const radius = this.project.radiusPx();
    return soundings.map(({ at, haze }, index) => ({
      index,
      ...this.viewport.toStage(at[0] * width, at[1] * height),
      chosen: chosen.kind === 'soundings' && chosen.index === index,
      percent: Math.round(haze * 100),
      text: `${(haze * radius).toFixed(0)} px`,
      name: stageWords.sounding(index + 1),
    }));
  });

  protected choose(index: number): void {
    this.selection.choose({ kind: 'soundings', index });
  }

  private setHaze(index: number, haze: number, gesture: string | null): void {
    const layer = this.selection.layer();
    this.project.edit(
      stageWords.hazeOfASounding,
      (draft) => {
        // A step back may have taken it away under the hand.
        const sounding = focusOf(draft, layer).soundings[index];
        if (sounding) sounding.haze = Math.min(1, Math.max(0, haze));
      },
      gesture,
    );
  }

  private hazeOf(index: number): number {
    return this.selection.focus().soundings[index]!.haze;
  }

  protected readonly graspSpot: DragStart = (event) => {
    const index = Number((event.currentTarget as HTMLElement).dataset['sounding']);
    if (event.button !== 0) return null;
    const gesture = crypto.randomUUID();
    const from = this.viewport.pictureAt(event);
    const start = this.selection.focus().soundings[index]!;
    const { width, height } = this.project.size();
    const layer = this.selection.layer();
    const label = event.altKey ? stageWords.duplicateSounding : stageWords.placeOfASounding;
    let moved = index;
    if (event.altKey) {
      // With Alt the hand takes a copy along.
      moved = this.selection.focus().soundings.length;
      this.project.edit(label, (draft) => focusOf(draft, layer).soundings.push({ ...start }), gesture);
    }
    this.choose(moved);
    return {
      move: (next) => {
        const to = this.viewport.pictureAt(next);
        const at: Point = [start.at[0] + (to.x - from.x) / width, start.at[1] + (to.y - from.y) / height];
        this.place(moved, at, label, gesture);
      },
      cancel: () => this.project.abandon(gesture),
    };
  };

  protected readonly graspBar: DragStart = (event) => {
    const index = Number((event.currentTarget as HTMLElement).dataset['bar']);
    if (event.button !== 0) return null;
    this.choose(index);
    const start = this.hazeOf(index);
    const gesture = crypto.randomUUID();
    return {
      move: (next) => this.setHaze(index, start - (next.clientY - event.clientY) / BAR_PX, gesture),
      cancel: () => this.project.abandon(gesture),
    };
  };

  protected wheel(event: WheelEvent, index: number): void {
    event.preventDefault();
    event.stopPropagation();
    this.choose(index);
    this.setHaze(index, this.hazeOf(index) - Math.sign(event.deltaY) * 0.02, `wheel-${index}`);
  }

  protected turnKey(event: KeyboardEvent, index: number): void {
    const by = { ArrowUp: 0.01, ArrowRight: 0.01, ArrowDown: -0.01, ArrowLeft: -0.01 }[event.key];
    if (by)
      this.take(event, () => this.setHaze(index, this.hazeOf(index) + by * stepMultiplier(event), null));
    else this.removeKey(event, index);
  }

  protected moveKey(event: KeyboardEvent, index: number): void {
    const step = arrowOf(event);
    if (!step) return this.removeKey(event, index);
    const { width, height } = this.project.size();
    const { at } = this.selection.focus().soundings[index]!;
    const by = stepMultiplier(event);
    this.take(event, () =>
      this.place(
        index,
        [at[0] + (step[0] * by) / width, at[1] + (step[1] * by) / height],
        stageWords.placeOfASounding,
        null,
      ),
    );
  }

  private removeKey(event: KeyboardEvent, index: number): void {
    if (event.key !== 'Delete' && event.key !== 'Backspace') return;
    const layer = this.selection.layer();
    this.take(event, () =>
      this.project.edit(stageWords.deleteSounding, (draft) =>
        focusOf(draft, layer).soundings.splice(index, 1),
      ),
    );
  }

  private place(index: number, [x, y]: Point, label: string, gesture: string | null): void {
    const held = (v: number): number => Math.min(1, Math.max(0, v));
    const layer = this.selection.layer();
    this.project.edit(
      label,
      (draft) => {
        const sounding = focusOf(draft, layer).soundings[index];
        if (sounding) sounding.at = [held(x), held(y)];
      },
      gesture,
    );
  }

  private take(event: KeyboardEvent, run: () => void): void {
    event.preventDefault();
    event.stopPropagation();
    run();
  }
}
