import {
  ChangeDetectionStrategy,
  Component,
  type ElementRef,
  computed,
  effect,
  inject,
  viewChild,
} from '@angular/core';
import type { Mend, Point } from '@hazy-lens/core';
import { carriedMend, mendName, movedMend } from '../model/mends';
import { OpenProject } from '../project/session/open-project';
import type { DragHandler } from '../ui/drag';
import { MendTool } from '../workspace/mend-tool';
import { Viewport } from '../workspace/viewport';
import { BrushRing } from './brush-ring';
import type { Spot } from './handles/handles';
import { PointGrip } from './point-grip';
import { stagePath } from './stroke-points';
import { stageWords } from '../words/stage';

/** The mends as thin closed lines on the picture, each with a tab to move it by, the brush under the hand, and where a copy comes from. */
@Component({
  selector: 'hl-mend-marks',
  imports: [BrushRing, PointGrip],
  template: `
    <canvas #marks aria-hidden="true"></canvas>
    @for (ring of rings(); track $index) {
      <hl-brush-ring [class.double]="ring.isSource" [at]="ring" [radius]="radius()" />
    }
    @for (grip of grips(); track grip.mend.id) {
      <hl-point-grip
        [label]="words.arrowKeysMoveDeleteRemoves(grip.name)"
        [value]="grip.mend.points[0]![0] * 100"
        [says]="grip.says"
        [at]="grip.at"
        [grasp]="grip.grasp"
        (stepped)="step(grip.mend, $event)"
        (keydown.delete)="tool.remove(grip.mend)"
      />
    }
  `,
  styleUrl: './mark.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MendMarks {
  protected readonly words = stageWords;
  private readonly project = inject(OpenProject);
  private readonly viewport = inject(Viewport);
  protected readonly tool = inject(MendTool);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('marks');

  protected readonly radius = computed(() => Math.max(3, this.tool.radiusPx() * this.viewport.view().zoom));
  protected readonly rings = computed(() => {
    const { width, height } = this.project.size();
    const at = this.viewport.pointer();
    const source = this.tool.source();
    const rings = at ? [{ ...this.viewport.toStage(at.x, at.y), isSource: false }] : [];
    if (this.tool.kind() !== 'copy' || !source) return rings;
    const [x, y] =
      'at' in source
        ? [source.at[0] * width, source.at[1] * height]
        : [(at?.x ?? NaN) + source.way[0] * width, (at?.y ?? NaN) + source.way[1] * height];
    if (Number.isFinite(x)) rings.push({ ...this.viewport.toStage(x, y), isSource: true });
    return rings;
  });

  /** All mends as they are under the hand. */
  private readonly seen = computed(() => {
    const moved = this.tool.moved();
    const size = this.project.size();
    return this.tool.mends().map((mend) => carriedMend(moved?.id === mend.id ? moved : mend, size));
  });

  /** A tab beside each, at its upper right: on it, it would hide what was mended. */
  protected readonly grips = computed(() => {
    const { width, height } = this.project.size();
    const mends = this.seen();
    return mends.flatMap((mend, i) => {
      if (!mend.on) return [];
      const far = mend.radius * this.project.diagonal() * this.viewport.view().zoom * Math.SQRT1_2;
      const places = mend.points.map(([x, y]) => this.viewport.toStage(x * width, y * height));
      const { x, y } = places.reduce((a, b) => (b.x - b.y > a.x - a.y ? b : a));
      const [u, v] = mend.points[0]!;
      return {
        mend,
        name: mendName(mends, i),
        says: `${(u * width).toFixed(0)}, ${(v * height).toFixed(0)} px`,
        at: { x: x + far, y: y - far },
        grasp: (event: PointerEvent) => this.grasp(this.tool.mends()[i]!, event),
      };
    });
  });

  private grasp(mend: Mend, event: PointerEvent): DragHandler | null {
    if (event.button !== 0) return null;
    const { width, height } = this.project.size();
    const start = this.viewport.pictureAt(event);
    // A mend is made anew where it is put down: on the way there only its outline moves.
    return {
      move: (next) => {
        const { x, y } = this.viewport.pictureAt(next);
        const way: Point = [(x - start.x) / width, (y - start.y) / height];
        this.tool.set({ moved: movedMend(mend, way, this.project.size()) });
      },
      end: () => {
        const moved = this.tool.moved();
        if (moved) this.put(moved);
        this.tool.set({ moved: null });
      },
      cancel: () => this.tool.set({ moved: null }),
    };
  }

  protected step({ id }: Mend, { x, y }: Spot): void {
    const { width, height } = this.project.size();
    const mend = this.tool.mends().find((one) => one.id === id);
    if (mend) this.put(movedMend(mend, [x / width, y / height], { width, height }));
  }

  private put(moved: Mend): void {
    this.project.edit(stageWords.move(moved.kind), ({ tidy }) => {
      for (const one of tidy.mends) if (one.id === moved.id) one.points = moved.points;
    });
  }

  constructor() {
    effect(() => {
      const canvas = this.canvas().nativeElement;
      const { width, height } = this.viewport.stage();
      const ratio = this.viewport.pixelRatio();
      [canvas.width, canvas.height] = [Math.round(width * ratio), Math.round(height * ratio)];
      const context = canvas.getContext('2d')!;
      context.scale(ratio, ratio);
      context.lineCap = context.lineJoin = 'round';
      const live = this.tool.live();
      for (const mend of [...this.seen(), ...(live ? [live] : [])]) if (mend.on) this.outline(context, mend);
    });
  }

  /** A thin line with a dark casing around what a mend covers: what is inside is taken out again. */
  private outline(context: CanvasRenderingContext2D, { points, radius }: Mend): void {
    const px = radius * this.project.diagonal() * this.viewport.view().zoom;
    const line = stagePath(points, this.project.size(), this.viewport);
    for (const [grow, colour] of [[2.5, 'rgb(12 14 20 / 0.55)'], [1.25, '#fff'], [0, null]] as const) {
      context.globalCompositeOperation = colour ? 'source-over' : 'destination-out';
      context.strokeStyle = colour ?? '#000';
      context.lineWidth = 2 * (px + grow);
      context.stroke(line);
    } // prettier-ignore
    context.globalCompositeOperation = 'source-over';
  }
}
