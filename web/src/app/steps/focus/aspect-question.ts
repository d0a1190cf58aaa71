import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogClose, MatDialogContent } from '@angular/material/dialog';
import type { Size } from '@hazy-lens/core';

export type AspectAnswer = 'fit' | 'stretch';

/** Asks once what to do with a grey picture that has not the shape of the picture. */
@Component({
  selector: 'hl-aspect-question',
  imports: [MatDialogContent, MatDialogClose],
  template: `
    <mat-dialog-content>
      <h2 class="panel-title">Another shape</h2>
      <p>
        “{{ data.fileName }}” is {{ data.grey.width }} × {{ data.grey.height }} pixels; the picture is
        {{ data.picture.width }} × {{ data.picture.height }}. Their shapes differ.
      </p>
      <div class="row">
        <button class="button strong" mat-dialog-close="fit">Fit: cut off what stands over</button>
        <button class="button outlined" mat-dialog-close="stretch">Stretch</button>
        <button class="button push" mat-dialog-close>Cancel</button>
      </div>
    </mat-dialog-content>
  `,
  styles: `
    p {
      margin: 10px 0 16px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AspectQuestion {
  protected readonly data = inject<{ fileName: string; grey: Size; picture: Size }>(MAT_DIALOG_DATA);
}
