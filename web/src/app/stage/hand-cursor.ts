import {
  ChangeDetectionStrategy,
  Component,
  type ElementRef,
  computed,
  effect,
  inject,
  viewChild,
} from '@angular/core';
import { type Scribble, diagonal } from '@hazy-lens/core';
import { Document } from '../state/document';
import { Workspace } from '../state/workspace';
import { StageTools } from './stage-tools';
import { StageView } from './stage-view';

/** The brush under the hand, with its size and softness; and the scribbles of the matte in hand. */
@Component({
  selector: 'hl-hand-cursor',
  template: `
    <canvas #scribbles aria-hidden="true"></canvas>
    @if (ring(); as at) {
      <span
        class="ring"
        [style.width.px]="2 * at.radius"
        [style.height.px]="2 * at.radius"
        [style.transform]="'translate(' + (at.x - at.radius) + 'px, ' + (at.y - at.radius) + 'px)'"
      >
        <span class="core" [style.inset.%]="at.soft * 50"></span>
      </span>
    }
  `,
  styles: `
    :host {
      position: absolute;
      inset: 0;
      overflow: hidden;
      pointer-events: none;
    }
    canvas {
      position: absolute;
      inset: 0;
    }
    .ring,
    .core {
      position: absolute;
      left: 0;
      top: 0;
      box-sizing: border-box;
      border: 1px solid #fff;
      border-radius: 50%;
      box-shadow:
        0 0 0 1px rgb(12 14 20 / 0.6),
        inset 0 0 0 1px rgb(12 14 20 / 0.6);
    }
    .core {
      left: auto;
      top: auto;
      border-color: rgb(255 255 255 / 0.55);
      box-shadow: none;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class HandCursor {
  private readonly document = inject(Document);
  private readonly workspace = inject(Workspace);
  private readonly stageView = inject(StageView);
  private readonly tools = inject(StageTools);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('scribbles');

  protected readonly ring = computed(() => {
    const at = this.stageView.pointer();
    const { kind } = this.workspace.chosen();
    if (!at || this.workspace.placing() || (kind !== 'brush' && kind !== 'matte')) return null;
    const { radius, softness } =
      kind === 'brush' ? this.workspace.brush() : { ...this.workspace.scribble(), softness: 0 };
    const stage = this.stageView.toStage(at.x, at.y);
    return {
      ...stage,
      radius: Math.max(2, radius * this.document.diagonal() * this.stageView.view().zoom),
      soft: softness,
    };
  });

  private readonly scribbles = computed<readonly Scribble[]>(() => {
    const chosen = this.workspace.chosen();
    if (chosen.kind !== 'matte') return [];
    const matte = this.document.recipe().focus.mattes.find((one) => one.id === chosen.id);
    const live = this.tools.liveScribble();
    return [...(matte?.scribbles ?? []), ...(live ? [live] : [])];
  });

  constructor() {
    effect(() => {
      const canvas = this.canvas().nativeElement;
      const list = this.scribbles();
      const { width, height } = this.stageView.stage();
      const size = this.document.size();
      const perLength = diagonal(size) * this.stageView.view().zoom;
      canvas.width = list.length > 0 ? width : 1;
      canvas.height = list.length > 0 ? height : 1;
      const context = canvas.getContext('2d')!;
      context.lineCap = context.lineJoin = 'round';
      for (const { points, radius, inside } of list) {
        context.beginPath();
        points.forEach(([x, y], i) => {
          const at = this.stageView.toStage(x * size.width, y * size.height);
          if (i === 0) context.moveTo(at.x, at.y);
          context.lineTo(at.x, at.y);
        });
        const thick = Math.max(3, 1.2 * radius * perLength);
        // Inside is white, outside is ink; both with a casing of the other.
        for (const [wide, colour] of [
          [thick + 1.5, inside ? 'rgb(12 14 20 / 0.6)' : 'rgb(255 255 255 / 0.7)'],
          [thick, inside ? 'rgb(255 255 255 / 0.9)' : 'rgb(20 22 28 / 0.9)'],
        ] as const) {
          context.lineWidth = wide;
          context.strokeStyle = colour;
          context.stroke();
        }
      }
    });
  }
}
