import {
  ChangeDetectionStrategy,
  Component,
  type ElementRef,
  computed,
  effect,
  inject,
  viewChild,
} from '@angular/core';
import { type Mend, diagonal } from '@hazy-lens/core';
import { OpenProject } from '../project/open-project';
import { MendTool } from '../workspace/mend-tool';
import { StageView } from '../workspace/stage-view';

/** The mends as thin closed lines on the picture, the brush under the hand, and where a copy comes from. */
@Component({
  selector: 'hl-mend-marks',
  template: `
    <canvas #marks aria-hidden="true"></canvas>
    @for (ring of rings(); track $index) {
      <span
        class="ring"
        [class.from]="ring.isSource"
        [style.width.px]="2 * ring.radius"
        [style.height.px]="2 * ring.radius"
        [style.transform]="'translate(' + (ring.x - ring.radius) + 'px, ' + (ring.y - ring.radius) + 'px)'"
      ></span>
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
    .ring {
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
    .from {
      border-style: double;
      border-width: 3px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MendMarks {
  private readonly project = inject(OpenProject);
  private readonly stageView = inject(StageView);
  private readonly tool = inject(MendTool);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('marks');

  protected readonly rings = computed(() => {
    const { width, height } = this.project.size();
    const radius = Math.max(3, this.tool.radiusPx() * this.stageView.view().zoom);
    const at = this.stageView.pointer();
    const source = this.tool.source();
    const rings = at ? [{ ...this.stageView.toStage(at.x, at.y), radius, isSource: false }] : [];
    if (this.tool.kind() !== 'copy' || !source) return rings;
    const [x, y] =
      'at' in source
        ? [source.at[0] * width, source.at[1] * height]
        : [(at?.x ?? NaN) + source.way[0] * width, (at?.y ?? NaN) + source.way[1] * height];
    if (Number.isFinite(x)) rings.push({ ...this.stageView.toStage(x, y), radius, isSource: true });
    return rings;
  });

  constructor() {
    effect(() => {
      const canvas = this.canvas().nativeElement;
      const { width, height } = this.stageView.stage();
      const ratio = this.stageView.pixelRatio();
      [canvas.width, canvas.height] = [Math.round(width * ratio), Math.round(height * ratio)];
      Object.assign(canvas.style, { width: `${width}px`, height: `${height}px` });
      const context = canvas.getContext('2d')!;
      context.scale(ratio, ratio);
      context.lineCap = context.lineJoin = 'round';
      const live = this.tool.live();
      for (const mend of [...this.tool.mends(), ...(live ? [live] : [])])
        if (mend.on) this.outline(context, mend);
    });
  }

  /** A thin line with a dark casing around what a mend covers: what is inside is taken out again. */
  private outline(context: CanvasRenderingContext2D, { points, radius }: Mend): void {
    const size = this.project.size();
    const px = radius * diagonal(size) * this.stageView.view().zoom;
    const line = new Path2D();
    points.forEach(([x, y], i) => {
      const at = this.stageView.toStage(x * size.width, y * size.height);
      if (i === 0) line.moveTo(at.x, at.y);
      line.lineTo(at.x, at.y);
    });
    for (const [grow, colour] of [[2.5, 'rgb(12 14 20 / 0.55)'], [1.25, '#fff'], [0, null]] as const) {
      context.globalCompositeOperation = colour ? 'source-over' : 'destination-out';
      context.strokeStyle = colour ?? '#000';
      context.lineWidth = 2 * (px + grow);
      context.stroke(line);
    } // prettier-ignore
    context.globalCompositeOperation = 'source-over';
  }
}
