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
import { focusWords } from '../../words/focus';

export type AspectAnswer = 'fit' | 'stretch';

/** Asks once what to do with a grey picture that has not the shape of the picture. */
@Component({
  selector: 'hl-aspect-question',
  imports: [MatButton, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle],
  template: `
    <h2 mat-dialog-title>{{ words.proportionsDiffer }}</h2>
    <mat-dialog-content>
      <p>
        {{
          words.isPxButThePicture(
            data.fileName,
            data.grey.width,
            data.grey.height,
            data.picture.width,
            data.picture.height
          )
        }}
      </p>
    </mat-dialog-content>
    <mat-dialog-actions>
      <button matButton mat-dialog-close>{{ words.cancel }}</button>
      <button matButton="outlined" mat-dialog-close="stretch">{{ words.stretch }}</button>
      <button matButton="filled" mat-dialog-close="fit">{{ words.cropToFit }}</button>
    </mat-dialog-actions>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AspectQuestion {
  protected readonly words = focusWords;
  protected readonly data = inject<{ fileName: string; grey: Size; picture: Size }>(MAT_DIALOG_DATA);
}
