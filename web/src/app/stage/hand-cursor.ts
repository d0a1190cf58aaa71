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
import { OpenProject } from '../project/open-project';
import { InHand } from '../workspace/in-hand';
import { ToolSettings } from '../workspace/tool-settings';
import { StageTools } from './stage-tools';
import { StageView } from '../workspace/stage-view';

/** The brush under the hand, with its size and softness; and the scribbles of the matte in hand. */
@Component({
  selector: 'hl-hand-cursor',
  template: `
    @if (scribbles().length > 0) {
      <canvas #scribbles aria-hidden="true"></canvas>
    }
    @if (ring(); as at) {
      <span
        class="ring"
        [style.width.px]="2 * at.radius"
        [style.height.px]="2 * at.radius"
        [style.transform]="'translate(' + (at.x - at.radius) + 'px, ' + (at.y - at.radius) + 'px)'"
      >
        <span class="core" [style.inset.%]="at.soft * 50"></span>
      </span>
    } @else if (mark(); as at) {
      <span class="mark" [style.transform]="'translate(' + at.x + 'px, ' + at.y + 'px)'"></span>
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
  private readonly project = inject(OpenProject);
  private readonly inHand = inject(InHand);
  private readonly settings = inject(ToolSettings);
  private readonly stageView = inject(StageView);
  private readonly tools = inject(StageTools);
  private readonly canvas = viewChild<ElementRef<HTMLCanvasElement>>('scribbles');

  protected readonly ring = computed(() => {
    const at = this.stageView.pointer();
    const { kind } = this.inHand.chosen();
    if (!at || this.inHand.placing() || (kind !== 'brush' && kind !== 'matte')) return null;
    const { radius, softness } =
      kind === 'brush' ? this.settings.brush() : { ...this.settings.scribble(), softness: 0 };
    const stage = this.stageView.toStage(at.x, at.y);
    return {
      ...stage,
      radius: Math.max(2, radius * this.project.diagonal() * this.stageView.view().zoom),
      soft: softness,
    };
  });

  protected readonly mark = computed(() => {
    const at = this.stageView.pointer();
    return at && this.stageView.isByKeys() ? this.stageView.toStage(at.x, at.y) : null;
  });

  protected readonly scribbles = computed<readonly Scribble[]>(() => {
    const chosen = this.inHand.chosen();
    if (chosen.kind !== 'matte') return [];
    const matte = this.project.recipe().focus.mattes.find((one) => one.id === chosen.id);
    const live = this.tools.liveScribble();
    return [...(matte?.scribbles ?? []), ...(live ? [live] : [])];
  });

  constructor() {
    effect(() => {
      const canvas = this.canvas()?.nativeElement;
      const list = this.scribbles();
      if (!canvas) return;
      const { width, height } = this.stageView.stage();
      const size = this.project.size();
      const perLength = diagonal(size) * this.stageView.view().zoom;
      canvas.width = width;
      canvas.height = height;
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
