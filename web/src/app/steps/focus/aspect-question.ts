import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import {
  MAT_DIALOG_DATA,
  MatDialogActions,
  MatDialogClose,
  MatDialogContent,
  MatDialogTitle,
} from '@angular/material/dialog';
import type { Size } from '@hazy-lens/core';

export type AspectAnswer = 'fit' | 'stretch';

/** Asks once what to do with a grey picture that has not the shape of the picture. */
@Component({
  selector: 'hl-aspect-question',
  imports: [MatButton, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle],
  template: `
    <h2 mat-dialog-title>Proportions differ</h2>
    <mat-dialog-content>
      <p>
        “{{ data.fileName }}” is {{ data.grey.width }} × {{ data.grey.height }} px, but the picture is
        {{ data.picture.width }} × {{ data.picture.height }} px.
      </p>
    </mat-dialog-content>
    <mat-dialog-actions>
      <button matButton mat-dialog-close>Cancel</button>
      <button matButton="outlined" mat-dialog-close="stretch">Stretch</button>
      <button matButton="filled" mat-dialog-close="fit">Crop to fit</button>
    </mat-dialog-actions>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AspectQuestion {
  protected readonly data = inject<{ fileName: string; grey: Size; picture: Size }>(MAT_DIALOG_DATA);
}
