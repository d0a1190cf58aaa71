import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { type Matte, footOf, toOriginFrame } from '@hazy-lens/core';
import { matteName } from '../model/mattes';
import { ProjectAssets } from '../project/session/project-assets';
import { OpenProject } from '../project/session/open-project';
import type { DragStart } from '../ui/drag';
import { SelectionStore } from '../workspace/selection-store';
import { Viewport } from '../workspace/viewport';
import { footPath } from './foot-path';
import type { Spot } from './handles/handles';
import { PointGrip } from './point-grip';
import { handOf } from './stage-drag';
import { stageWords } from '../words/stage';

/** The foot of the subject in hand, where it stands. */
@Component({
  selector: 'hl-foot-mark',
  imports: [PointGrip],
  template: `
    @if (foot(); as one) {
      <svg aria-hidden="true">
        <path class="casing" [attr.d]="one.path" />
        <path [attr.d]="one.path" />
      </svg>
      <hl-point-grip
        [label]="words.footOf(one.name)"
        [value]="one.down"
        [range]="[0, 100]"
        [says]="'foot, ' + one.down.toFixed(0) + ' % down'"
        [at]="one"
        [grasp]="grasp"
        (stepped)="step($event)"
      />
    }
  `,
  styles: `
    :host {
      position: absolute;
      inset: 0;
      pointer-events: none;
    }
    svg {
      position: absolute;
      width: 100%;
      height: 100%;
    }
    path {
      fill: none;
      stroke: #fff;
      stroke-width: 1.5;
    }
    .casing {
      stroke: rgb(12 14 20 / 0.7);
      stroke-width: 4;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FootMark {
  protected readonly words = stageWords;
  private readonly project = inject(OpenProject);
  private readonly selection = inject(SelectionStore);
  private readonly projectAssets = inject(ProjectAssets);
  private readonly viewport = inject(Viewport);

  private readonly standing = computed(() => {
    const chosen = this.selection.chosen();
    const { mattes } = this.project.seenRecipe().focus;
    const index = mattes.findIndex((one) => chosen.kind === 'matte' && one.id === chosen.id);
    const matte = mattes[index];
    const kept = this.projectAssets.ofFocus().keep.find((one) => one.matte === matte?.id);
    if (!matte?.on || matte.as !== 'standing' || !kept) return null;
    return { matte, index, raster: kept.raster };
  });

  protected readonly foot = computed(() => {
    const one = this.standing();
    if (!one) return null;
    const size = this.project.size();
    const [fx, fy] = footOf(one.matte, one.raster, size);
    const { x, y } = this.viewport.toStage(fx * size.width, fy * size.height);
    const name = matteName(this.project.seenRecipe().focus.mattes, one.index);
    return { x, y, name, down: 100 * fy, path: footPath({ x, y }) };
  });

  protected readonly grasp: DragStart = (event) => {
    const one = this.standing();
    if (event.button !== 0 || !one) return null;
    const gesture = crypto.randomUUID();
    return handOf(
      {
        move: (to) => this.put(one.matte, to, gesture),
        cancel: () => this.project.abandon(gesture),
      },
      this.viewport,
    );
  };

  protected step({ x, y }: Spot): void {
    const one = this.standing();
    if (!one) return;
    const { width, height } = this.project.size();
    const [fx, fy] = footOf(one.matte, one.raster, this.project.size());
    this.put(one.matte, { x: fx * width + x, y: fy * height + y }, null);
  }

  /** @param to in pixels of the frame in view. */
  private put({ id, carry }: Matte, to: Spot, gesture: string | null): void {
    const size = this.project.size();
    const [x, y] = toOriginFrame(carry, size)([to.x / size.width, to.y / size.height]);
    const held = (v: number): number => Math.min(1, Math.max(0, v));
    this.project.edit(
      stageWords.footOfSubject,
      ({ focus }) =>
        focus.mattes.filter((one) => one.id === id).forEach((one) => (one.foot = [held(x), held(y)])),
      gesture,
    );
  }
}
