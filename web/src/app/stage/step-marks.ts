import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { OpenProject } from '../project/open-project';
import { ViewStore } from '../workspace/looking';
import { CropWindow } from './crop-window';
import { MendBrush } from './mend-hand';
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
      <hl-movement-mark [class.faded]="looking.sliding()" [class.off]="looking.handlesHidden()" />
    }
    @if (showsVignette()) {
      <hl-vignette-mark [class.faded]="looking.sliding()" [class.off]="looking.handlesHidden()" />
    }
    @if (showsCrop()) {
      <hl-crop-window [class.off]="looking.handlesHidden()" [class.through]="looking.panning()" />
    }
    @if (mendHand.isReady()) {
      <hl-mend-marks [class.off]="looking.handlesHidden()" />
    }
    @if (looking.step() === 'finish' && project.isOpen()) {
      <hl-quiet-mark [class.off]="looking.handlesHidden()" />
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
  protected readonly looking = inject(ViewStore);
  protected readonly mendHand = inject(MendBrush);
  private readonly isAsItCame = computed(() => this.looking.comparison() === 'before');

  protected readonly showsMovement = computed(() => {
    const { on, kind } = this.project.recipe().blur;
    const moves = kind === 'motion' || kind === 'spin' || kind === 'zoom';
    return moves && on && this.looking.step() === 'blur' && !this.isAsItCame();
  });

  protected readonly showsVignette = computed(() => {
    const { on, vignette } = this.project.recipe().finish;
    return vignette.amount !== 0 && on && this.looking.step() === 'finish' && !this.isAsItCame();
  });

  protected readonly showsCrop = computed(
    () =>
      this.looking.step() === 'tidy' &&
      this.project.isOpen() &&
      this.project.recipe().tidy.on &&
      !this.mendHand.isReady(),
  );
}
