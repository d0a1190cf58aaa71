import { ChangeDetectionStrategy, Component, ElementRef, computed, inject, signal } from '@angular/core';
import { Drag, type DragHandler } from '../ui/drag';
import { shellWords } from '../words/shell';

/** Heights of the sheet as fractions of its room, and how they are read aloud. */
const HEIGHTS = [
  { share: 0.36, says: shellWords.aThird },
  { share: 0.66, says: shellWords.twoThirds },
  { share: 1, says: 'all' },
] as const;
/** Movement below this counts as a tap. */
const TAP_PX = 6;
/** The bar and the row of steps stay in sight. */
const REST_PX = 100;

/** On a phone the panel is a sheet that is pulled up by its handle, to a third, two thirds, or all of the window. */
@Component({
  selector: 'hl-panel-sheet',
  imports: [Drag],
  template: `
    <div
      class="handle"
      role="slider"
      tabindex="0"
      [aria-label]="words.panelHeight"
      aria-orientation="vertical"
      aria-valuemin="1"
      [attr.aria-valuemax]="heights.length"
      [attr.aria-valuenow]="at() + 1"
      [attr.aria-valuetext]="heights[at()]!.says"
      [hlDrag]="pull"
      (click)="tap()"
      (keydown.arrowUp)="step(1, $event)"
      (keydown.arrowDown)="step(-1, $event)"
    ></div>
    <div class="content"><ng-content /></div>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-rows: 28px minmax(0, 1fr);
      background: var(--paper);
      border-top: 1px solid var(--line);
    }
    .handle {
      cursor: ns-resize;
      display: grid;
      place-items: center;
      outline-offset: -2px;
    }
    .handle::before {
      content: '';
      width: 44px;
      height: 4px;
      border-radius: 2px;
      background: var(--line-strong);
    }
    .content {
      position: relative;
      overflow: hidden auto;
      scrollbar-width: thin;
      padding: 0 16px 20px;
    }
  `,
  host: { '[style.height]': 'height()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PanelSheet {
  protected readonly words = shellWords;
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  protected readonly heights = HEIGHTS;
  protected readonly at = signal(0);
  private wasPulled = false;
  private readonly pulled = signal<number | null>(null);
  protected readonly height = computed(() => {
    const pulled = this.pulled();
    return pulled !== null ? `${pulled}px` : `calc(${HEIGHTS[this.at()]!.share} * (100dvh - ${REST_PX}px))`;
  });

  /** The sheet follows the hand, and goes to the nearest height when it lifts; a tap goes to the next. */
  protected readonly pull = ({ clientY: from }: PointerEvent): DragHandler => {
    const start = this.element.clientHeight;
    const room = innerHeight - REST_PX;
    return {
      move: ({ clientY }) => this.pulled.set(Math.min(room, Math.max(28, start + from - clientY))),
      end: () => {
        const pulled = this.pulled();
        this.pulled.set(null);
        this.wasPulled = pulled !== null && Math.abs(pulled - start) >= TAP_PX;
        if (this.wasPulled) this.at.set(nearest(pulled! / room));
      },
      cancel: () => this.pulled.set(null),
    };
  };

  /** On click, not on pointerup: the new layout would send the click to another element. */
  protected tap(): void {
    if (!this.wasPulled) this.at.update((at) => (at + 1) % HEIGHTS.length);
    this.wasPulled = false;
  }

  protected step(by: number, event: Event): void {
    event.preventDefault();
    this.at.update((at) => Math.min(HEIGHTS.length - 1, Math.max(0, at + by)));
  }
}

function nearest(share: number): number {
  const gaps = HEIGHTS.map((height) => Math.abs(height.share - share));
  return gaps.indexOf(Math.min(...gaps));
}
