import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { MatSnackBarAction, MatSnackBarActions, MatSnackBarLabel } from '@angular/material/snack-bar';
import { Notices } from '../project/session/notices';
import { shellWords } from '../words/shell';

/** All that stands to be said, in one snack bar: a new message takes none away that still offers something. */
@Component({
  selector: 'hl-notice-stack',
  imports: [MatButton, MatIcon, MatIconButton, MatSnackBarAction, MatSnackBarActions, MatSnackBarLabel],
  template: `
    @for (notice of notices.all(); track notice) {
      <div
        class="notice"
        [class.error]="notice.kind === 'error'"
        [attr.role]="notice.kind === 'error' ? 'alert' : 'status'"
      >
        <span matSnackBarLabel>{{ notice.text }}</span>
        <span matSnackBarActions>
          @if (notice.action; as action) {
            <button matButton="outlined" matSnackBarAction (click)="action.run()">{{ action.label }}</button>
          }
          <button matIconButton [aria-label]="words.dismissLabel" (click)="notices.dismiss(notice)">
            <mat-icon svgIcon="close" />
          </button>
        </span>
      </div>
    }
  `,
  styles: `
    :host {
      display: grid;
    }
    .notice {
      display: flex;
      align-items: center;
      gap: 10px;
      padding-left: 2px;
    }
    .notice + .notice {
      border-top: 1px solid var(--line);
    }
    .notice.error {
      box-shadow: inset 3px 0 var(--warn);
    }
    span[matSnackBarLabel] {
      flex: 1;
      padding: 10px 8px 10px 14px;
    }
    span[matSnackBarActions] {
      display: flex;
      gap: 4px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NoticeStack {
  protected readonly words = shellWords;
  protected readonly notices = inject(Notices);
}
