import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatIconButton } from '@angular/material/button';
import { MatDialogClose, MatDialogContent, MatDialogTitle } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatSlideToggle } from '@angular/material/slide-toggle';
import { KEY_GROUPS, Keymap } from '../workspace/keymap';
import { shellWords } from '../words/shell';

/** The keymap, for reading. */
@Component({
  selector: 'hl-key-help',
  imports: [MatDialogClose, MatDialogContent, MatDialogTitle, MatIcon, MatIconButton, MatSlideToggle],
  template: `
    <div class="dialog-head">
      <h2 mat-dialog-title>{{ words.keyboardShortcuts }}</h2>
      <span class="quiet">{{ words.holdBXMC }}</span>
      <button matIconButton class="push" [aria-label]="words.close" mat-dialog-close>
        <mat-icon svgIcon="close" />
      </button>
    </div>
    <mat-dialog-content>
      <mat-slide-toggle [checked]="keymap.lettersOn()" (change)="keymap.switchLetters($event.checked)">
        {{ words.singleKeyShortcuts }}
      </mat-slide-toggle>
      <div class="groups">
        @for (group of groups; track group.name) {
          <section [attr.aria-labelledby]="'keys-' + group.name">
            <h3 [id]="'keys-' + group.name">{{ group.name }}</h3>
            <dl>
              @for (one of group.bindings; track one.shown) {
                <div>
                  <dt>
                    <kbd>{{ one.shown }}</kbd>
                  </dt>
                  <dd>{{ one.does }}</dd>
                </div>
              }
            </dl>
          </section>
        }
      </div>
    </mat-dialog-content>
  `,
  styles: `
    .groups {
      columns: 2;
      column-gap: 32px;
      margin: 14px 0 4px;
    }
    section {
      break-inside: avoid;
      margin-bottom: 14px;
    }
    h3 {
      font-size: 13px;
      font-weight: 600;
      margin: 0 0 2px;
    }
    dl {
      margin: 0;
    }
    dl div {
      display: grid;
      grid-template-columns: 104px 1fr;
      gap: 12px;
      align-items: baseline;
      padding: 4px 0;
      break-inside: avoid;
    }
    dd {
      margin: 0;
      color: var(--ink-2);
    }
    kbd {
      display: inline-block;
      font: inherit;
      font-weight: 600;
      background: var(--field);
      border-radius: 4px;
      padding: 2px 8px;
    }
    @media (max-width: 700px) {
      .groups {
        columns: 1;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class KeyHelp {
  protected readonly words = shellWords;
  protected readonly keymap = inject(Keymap);
  protected readonly groups = KEY_GROUPS.map((name) => ({
    name,
    bindings: this.keymap.bindings.filter(({ group }) => group === name),
  }));
}
