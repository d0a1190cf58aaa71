import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import {
  MAT_DIALOG_DATA,
  MatDialogActions,
  MatDialogClose,
  MatDialogContent,
  MatDialogTitle,
} from '@angular/material/dialog';
import { MatRadioButton, MatRadioGroup } from '@angular/material/radio';
import type { OpenAs } from '../model/opening';
import type { SeveralFiles } from '../project/session/file-opener';
import { shellWords } from '../words/shell';

const WAYS: readonly { as: OpenAs; label: string; says: string }[] = [
  { as: 'projects', label: shellWords.separateProjects, says: shellWords.eachPictureWithARecipe },
  { as: 'clip', label: shellWords.oneClip, says: shellWords.eachPictureAFrame },
  { as: 'batch', label: shellWords.batch, says: shellWords.theCurrentRecipeForAll },
];

/** Asks what several pictures should become; what their names, sizes and dates suggest is chosen. */
@Component({
  selector: 'hl-open-several',
  imports: [
    MatButton,
    MatDialogActions,
    MatDialogClose,
    MatDialogContent,
    MatDialogTitle,
    MatRadioButton,
    MatRadioGroup,
  ],
  template: `
    <h2 mat-dialog-title>{{ words.openPicturesAs(several.names.length) }}</h2>
    <mat-dialog-content>
      <mat-radio-group [aria-label]="words.openAs" [value]="chosen()" (change)="chosen.set($event.value)">
        @for (way of ways; track way.as) {
          <mat-radio-button [value]="way.as" [disabled]="way.as === 'clip' && !several.advice.canBeClip">
            {{ way.label }}<span class="hint">{{ way.says }}</span>
          </mat-radio-button>
        }
      </mat-radio-group>
      <p class="hint">{{ several.advice.because }}</p>
      <ul [aria-label]="words.files" tabindex="0">
        @for (name of several.names; track $index) {
          <li>{{ name }}</li>
        }
      </ul>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button matButton mat-dialog-close>{{ words.cancel }}</button>
      <button matButton="filled" cdkFocusInitial [mat-dialog-close]="chosen()">{{ words.open }}</button>
    </mat-dialog-actions>
  `,
  styles: `
    mat-radio-group {
      display: grid;
      gap: 6px;
    }
    .hint {
      display: block;
    }
    p {
      margin: 12px 0 6px;
    }
    ul {
      margin: 0;
      padding: 8px 12px;
      max-height: 132px;
      overflow: auto;
      list-style: none;
      font-size: 12px;
      color: var(--ink-2);
      background: var(--field);
      border-radius: 5px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OpenSeveral {
  protected readonly words = shellWords;
  protected readonly several = inject<SeveralFiles>(MAT_DIALOG_DATA);
  protected readonly ways = WAYS;
  protected readonly chosen = signal<OpenAs>(this.several.advice.as);
}
