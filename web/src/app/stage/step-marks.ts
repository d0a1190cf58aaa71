import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { OpenProject } from '../project/session/open-project';
import { ViewStore } from '../workspace/view-store';
import { CropWindow } from './crop-window';
import { MendBrush } from './mend-brush';
import { MendMarks } from './mend-marks';
import { MovementMark } from './movement-mark';
import { QuietMark } from './quiet-mark';
import { VignetteMark } from './vignette-mark';

/** What the steps besides focus lay on the picture, to be taken by the hand. */
@Component({
  selector: 'hl-step-marks',
  imports: [CropWindow, MendMarks, MovementMark, QuietMark, VignetteMark],
  template: `
    @if (showsMovement()) {
      <hl-movement-mark [class.faded]="viewStore.sliding()" [class.off]="viewStore.handlesHidden()" />
    }
    @if (showsVignette()) {
      <hl-vignette-mark [class.faded]="viewStore.sliding()" [class.off]="viewStore.handlesHidden()" />
    }
    @if (showsCrop()) {
      <hl-crop-window [class.off]="viewStore.handlesHidden()" [class.through]="viewStore.panning()" />
    }
    @if (mendBrush.isReady()) {
      <hl-mend-marks [class.off]="viewStore.handlesHidden()" />
    }
    @if (viewStore.step() === 'finish' && project.isOpen()) {
      <hl-quiet-mark [class.off]="viewStore.handlesHidden()" />
    }
  `,
  styles: `
    :host {
      display: contents;
    }
    /* The picture itself is moved. */
    .through {
      pointer-events: none;
      z-index: -1;
    }
  `,
  styleUrl: './laid.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StepMarks {
  protected readonly project = inject(OpenProject);
  protected readonly viewStore = inject(ViewStore);
  protected readonly mendBrush = inject(MendBrush);
  private readonly isAsItCame = computed(() => this.viewStore.comparison() === 'before');

  protected readonly showsMovement = computed(() => {
    const { on, kind } = this.project.recipe().blur;
    const moves = kind === 'motion' || kind === 'spin' || kind === 'zoom';
    return moves && on && this.viewStore.step() === 'blur' && !this.isAsItCame();
  });

  protected readonly showsVignette = computed(() => {
    const { on, vignette } = this.project.recipe().finish;
    return vignette.amount !== 0 && on && this.viewStore.step() === 'finish' && !this.isAsItCame();
  });

  protected readonly showsCrop = computed(
    () =>
      this.viewStore.step() === 'tidy' &&
      this.project.isOpen() &&
      this.project.recipe().tidy.on &&
      !this.mendBrush.isReady(),
  );
}
