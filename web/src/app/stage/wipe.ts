import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Drag, type DragStart } from '../ui/drag';
import { ViewStore } from '../workspace/view-store';
import { Viewport } from '../workspace/viewport';
import { stageWords } from '../words/stage';

const held = (at: number): number => Math.min(1, Math.max(0, at));

/** The edge between before and after: it is dragged over the picture, or moved by arrow keys. */
@Component({
  selector: 'hl-wipe',
  imports: [Drag],
  template: `
    <div
      class="edge"
      role="slider"
      tabindex="0"
      [aria-label]="words.wipeBetweenBeforeAndAfter"
      aria-valuemin="0"
      aria-valuemax="100"
      [attr.aria-valuenow]="percent()"
      [style.left.%]="viewStore.wipeAt() * 100"
      [hlDrag]="grasp"
      (keydown)="key($event)"
    >
      <span class="tab"
        ><span>{{ words.before }}</span
        ><span>{{ words.after }}</span></span
      >
    </div>
  `,
  styles: `
    .edge {
      position: absolute;
      top: 0;
      bottom: 0;
      width: 24px;
      margin-left: -12px;
      cursor: ew-resize;
      z-index: 3;
    }
    .edge::before {
      content: '';
      position: absolute;
      left: 11px;
      top: 0;
      bottom: 0;
      width: 2px;
      background: #fff;
      box-shadow: 0 0 0 1px rgb(0 0 0 / 0.55);
    }
    .tab {
      position: absolute;
      top: 14px;
      left: 12px;
      translate: -50% 0;
      display: flex;
      border-radius: 4px;
      background: #232426;
      color: #f2f2f2;
      font-size: 11.5px;
      overflow: hidden;
    }
    .tab span {
      padding: 3px 8px;
    }
    .tab span + span {
      border-left: 2px solid #fff;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Wipe {
  protected readonly words = stageWords;
  protected readonly viewStore = inject(ViewStore);
  private readonly viewport = inject(Viewport);
  protected readonly percent = computed(() => Math.round(this.viewStore.wipeAt() * 100));

  protected readonly grasp: DragStart = (event) => {
    if (event.button !== 0) return null;
    const start = this.viewStore.wipeAt();
    return {
      move: (to) =>
        this.viewStore.set({ wipeAt: held(this.viewport.fromPointer(to).x / this.viewport.stage().width) }),
      cancel: () => this.viewStore.set({ wipeAt: start }),
    };
  };

  protected key(event: KeyboardEvent): void {
    const direction = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!direction) return;
    event.preventDefault();
    this.viewStore.set({ wipeAt: held(this.viewStore.wipeAt() + direction * (event.shiftKey ? 0.1 : 0.01)) });
  }
}
