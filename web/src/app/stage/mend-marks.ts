import {
  ChangeDetectionStrategy,
  Component,
  type ElementRef,
  computed,
  effect,
  inject,
  viewChild,
} from '@angular/core';
import type { Mend } from '@hazy-lens/core';
import { OpenProject } from '../project/open-project';
import { MendTool } from '../workspace/mend-tool';
import { StageView } from '../workspace/stage-view';
import { BrushRing } from './brush-ring';
import { stagePath } from './stroke-points';

/** The mends as thin closed lines on the picture, the brush under the hand, and where a copy comes from. */
@Component({
  selector: 'hl-mend-marks',
  imports: [BrushRing],
  template: `
    <canvas #marks aria-hidden="true"></canvas>
    @for (ring of rings(); track $index) {
      <hl-brush-ring [class.double]="ring.isSource" [at]="ring" [radius]="radius()" />
    }
  `,
  styles: `
    :host {
      pointer-events: none;
    }
  `,
  styleUrl: './mark.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MendMarks {
  private readonly project = inject(OpenProject);
  private readonly stageView = inject(StageView);
  private readonly tool = inject(MendTool);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('marks');

  protected readonly radius = computed(() => Math.max(3, this.tool.radiusPx() * this.stageView.view().zoom));
  protected readonly rings = computed(() => {
    const { width, height } = this.project.size();
    const at = this.stageView.pointer();
    const source = this.tool.source();
    const rings = at ? [{ ...this.stageView.toStage(at.x, at.y), isSource: false }] : [];
    if (this.tool.kind() !== 'copy' || !source) return rings;
    const [x, y] =
      'at' in source
        ? [source.at[0] * width, source.at[1] * height]
        : [(at?.x ?? NaN) + source.way[0] * width, (at?.y ?? NaN) + source.way[1] * height];
    if (Number.isFinite(x)) rings.push({ ...this.stageView.toStage(x, y), isSource: true });
    return rings;
  });

  constructor() {
    effect(() => {
      const canvas = this.canvas().nativeElement;
      const { width, height } = this.stageView.stage();
      const ratio = this.stageView.pixelRatio();
      [canvas.width, canvas.height] = [Math.round(width * ratio), Math.round(height * ratio)];
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
    const px = radius * this.project.diagonal() * this.stageView.view().zoom;
    const line = stagePath(points, this.project.size(), this.stageView);
    for (const [grow, colour] of [[2.5, 'rgb(12 14 20 / 0.55)'], [1.25, '#fff'], [0, null]] as const) {
      context.globalCompositeOperation = colour ? 'source-over' : 'destination-out';
      context.strokeStyle = colour ?? '#000';
      context.lineWidth = 2 * (px + grow);
      context.stroke(line);
    } // prettier-ignore
    context.globalCompositeOperation = 'source-over';
  }
}
