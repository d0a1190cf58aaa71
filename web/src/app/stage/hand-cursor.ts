import {
  ChangeDetectionStrategy,
  Component,
  type ElementRef,
  computed,
  effect,
  inject,
  viewChild,
} from '@angular/core';
import type { Scribble } from '@hazy-lens/core';
import { carriedScribbles } from '../model/carry';
import { OpenProject } from '../project/session/open-project';
import { SelectionStore } from '../workspace/selection-store';
import { ToolStore } from '../workspace/tool-store';
import { Viewport } from '../workspace/viewport';
import { BrushRing } from './brush-ring';
import { StageTools } from './stage-tools';
import { stagePath } from './stroke-points';

/** The brush under the hand, with its size and softness; and the scribbles of the matte in hand. */
@Component({
  selector: 'hl-hand-cursor',
  imports: [BrushRing],
  template: `
    @if (scribbles().length > 0) {
      <canvas #scribbles aria-hidden="true"></canvas>
    }
    @if (ring(); as at) {
      <hl-brush-ring [at]="at" [radius]="at.radius" [softness]="at.softness" />
    } @else if (mark(); as at) {
      <span class="mark" [style.transform]="'translate(' + at.x + 'px, ' + at.y + 'px)'"></span>
    }
  `,
  styles: `
    /* The keyboard's hand where the tool has no ring. */
    .mark {
      position: absolute;
      left: -9px;
      top: -9px;
      width: 18px;
      height: 18px;
      background:
        linear-gradient(#fff, #fff) center / 2px 100% no-repeat,
        linear-gradient(#fff, #fff) center / 100% 2px no-repeat;
      filter: drop-shadow(0 0 1px rgb(12 14 20 / 0.9)) drop-shadow(0 0 1px rgb(12 14 20 / 0.9));
    }
  `,
  styleUrl: './mark.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class HandCursor {
  private readonly project = inject(OpenProject);
  private readonly selection = inject(SelectionStore);
  private readonly settings = inject(ToolStore);
  private readonly viewport = inject(Viewport);
  private readonly tools = inject(StageTools);
  private readonly canvas = viewChild<ElementRef<HTMLCanvasElement>>('scribbles');

  protected readonly ring = computed(() => {
    const at = this.viewport.pointer();
    const { kind } = this.selection.chosen();
    if (!at || this.selection.placing() || (kind !== 'brush' && kind !== 'matte')) return null;
    const { radius, softness } =
      kind === 'brush' ? this.settings.brush() : { ...this.settings.scribble(), softness: 0 };
    const stage = this.viewport.toStage(at.x, at.y);
    return {
      ...stage,
      radius: Math.max(2, radius * this.project.diagonal() * this.viewport.view().zoom),
      softness,
    };
  });

  protected readonly mark = computed(() => {
    const at = this.viewport.pointer();
    return at && this.viewport.isByKeys() ? this.viewport.toStage(at.x, at.y) : null;
  });

  protected readonly scribbles = computed<readonly Scribble[]>(() => {
    const chosen = this.selection.chosen();
    if (chosen.kind !== 'matte') return [];
    const matte = this.project.recipe().focus.mattes.find((one) => one.id === chosen.id);
    const live = this.tools.liveScribble();
    const drawn = matte ? carriedScribbles(matte.scribbles, matte.carry, this.project.size()) : [];
    return [...drawn, ...(live ? [live] : [])];
  });

  constructor() {
    effect(() => {
      const canvas = this.canvas()?.nativeElement;
      const list = this.scribbles();
      if (!canvas) return;
      const { width, height } = this.viewport.stage();
      const size = this.project.size();
      const perLength = this.project.diagonal() * this.viewport.view().zoom;
      canvas.width = width;
      canvas.height = height;
      const context = canvas.getContext('2d')!;
      context.lineCap = context.lineJoin = 'round';
      for (const { points, radius, inside } of list) {
        const line = stagePath(points, size, this.viewport);
        const thick = Math.max(3, 1.2 * radius * perLength);
        // Inside is white, outside is ink; both with a casing of the other.
        for (const [wide, colour] of [
          [thick + 1.5, inside ? 'rgb(12 14 20 / 0.6)' : 'rgb(255 255 255 / 0.7)'],
          [thick, inside ? 'rgb(255 255 255 / 0.9)' : 'rgb(20 22 28 / 0.9)'],
        ] as const) {
          context.lineWidth = wide;
          context.strokeStyle = colour;
          context.stroke(line);
        }
      }
    });
  }
}
