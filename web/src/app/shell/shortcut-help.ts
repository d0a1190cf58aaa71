import { ChangeDetectionStrategy, Component } from '@angular/core';
import { MatDialogClose, MatDialogContent } from '@angular/material/dialog';
import { Icon } from '../ui/icon';

@Component({
  selector: 'hl-shortcut-help',
  imports: [MatDialogContent, MatDialogClose, Icon],
  template: `
    <mat-dialog-content>
      <div class="row">
        <h2 class="panel-title">Keyboard</h2>
        <button class="button icon push" aria-label="Close" mat-dialog-close><hl-icon name="close" /></button>
      </div>
      <p class="hint">Hold a looking key to look, tap it to keep looking.</p>
      <dl>
        @for (row of rows; track row.keys) {
          <dt>
            <kbd>{{ row.keys }}</kbd>
          </dt>
          <dd>{{ row.does }}</dd>
        }
      </dl>
    </mat-dialog-content>
  `,
  styles: `
    dl {
      display: grid;
      grid-template-columns: max-content 1fr;
      gap: 8px 16px;
      margin: 14px 0 4px;
      align-items: baseline;
    }
    dd {
      margin: 0;
      color: var(--ink-2);
    }
    kbd {
      font: inherit;
      font-weight: 600;
      background: var(--field);
      border-radius: 4px;
      padding: 2px 8px;
      white-space: nowrap;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ShortcutHelp {
  protected readonly rows = [
    { keys: 'B', does: 'Before: the picture as it came' },
    { keys: 'X', does: 'Exaggerate: the blur four times stronger, to see where it begins' },
    { keys: 'M', does: 'Haze map: the focus field alone' },
    { keys: 'H', does: 'Hide the handles' },
    { keys: 'W', does: 'Wipe between before and after' },
    { keys: 'F', does: 'Fit the picture to the stage' },
    { keys: '1', does: 'Show the picture at 100 %' },
    { keys: '+  −', does: 'Zoom in, zoom out; the wheel zooms to the pointer' },
    { keys: 'Space + drag', does: 'Move the picture; the middle button does too' },
    { keys: 'Arrow keys', does: 'On a number or a grip: one step. Shift: ten. Alt: a tenth' },
    { keys: 'Shift + drag', does: 'Turning, or the end of a gradient: steps of 15°. Brush: a straight line' },
    { keys: 'Alt + drag', does: 'On a sounding: take a copy along' },
    { keys: '[  ]', does: 'Smaller, larger brush' },
    { keys: 'Delete', does: 'On a sounding or a knot: take it away' },
    { keys: 'Enter', does: 'On the picture: put the hand down where the arrow keys moved it' },
    { keys: 'Ctrl Z', does: 'Step back. Ctrl Shift Z or Ctrl Y: step forward' },
    { keys: '?', does: 'This list' },
  ];
}
