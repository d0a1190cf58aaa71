import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { MatTooltip } from '@angular/material/tooltip';
import { Shelf } from '../shelf/shelf';
import { Document } from '../state/document';
import { type Comparison, Workspace } from '../state/workspace';
import { Icon } from '../ui/icon';
import { Shortcuts } from './shortcuts';

@Component({
  selector: 'hl-top-bar',
  imports: [Icon, MatTooltip],
  template: `
    <header>
      <h1 class="brand">Hazy Lens</h1>
      <button
        class="button"
        aria-haspopup="dialog"
        matTooltip="All projects and the demo pictures"
        (click)="openShelf()"
      >
        <span class="name">{{ document.state().name || 'Shelf' }}</span><hl-icon name="chevronDown" />
      </button>
      <span class="gap"></span>
      <button
        class="button icon"
        [disabled]="!document.undoLabel()"
        [attr.aria-label]="undoText()"
        [matTooltip]="undoText()"
        (click)="document.undo()"
      >
        <hl-icon name="undo" />
      </button>
      <button
        class="button icon"
        [disabled]="!document.redoLabel()"
        [attr.aria-label]="redoText()"
        [matTooltip]="redoText()"
        (click)="document.redo()"
      >
        <hl-icon name="redo" />
      </button>
      <span class="gap"></span>
      <div class="choices" role="group" aria-label="Compare">
        @for (one of comparisons; track one.value) {
          <button
            [attr.aria-pressed]="workspace.comparison() === one.value"
            [matTooltip]="one.tip"
            (click)="workspace.comparison.set(one.value)"
          >
            {{ one.label }}
          </button>
        }
      </div>
      <button
        class="button icon"
        [attr.aria-label]="'Theme: ' + workspace.theme()"
        [matTooltip]="'Theme: ' + workspace.theme()"
        (click)="nextTheme()"
      >
        <hl-icon [name]="themeIcon()" />
      </button>
      <button
        class="button icon"
        aria-label="Keyboard"
        matTooltip="Keyboard (?)"
        (click)="shortcuts.showHelp()"
      >
        <hl-icon name="keyboard" />
      </button>
      <button class="button strong" (click)="workspace.step.set('output')">Export</button>
    </header>
  `,
  styles: `
    header {
      display: flex;
      align-items: center;
      gap: 4px;
      height: 43px;
      padding: 0 12px 0 16px;
      background: var(--paper);
      border-bottom: 1px solid var(--line);
    }
    .brand {
      font-size: 15px;
      font-weight: 700;
      letter-spacing: -0.01em;
      margin-right: 14px;
    }
    .name {
      max-width: 260px;
      overflow: hidden;
      text-overflow: ellipsis;
    }
    .gap {
      flex: 1;
    }
    .strong {
      margin-left: 8px;
      padding: 0 16px;
    }
    .choices {
      margin-right: 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TopBar {
  protected readonly document = inject(Document);
  protected readonly workspace = inject(Workspace);
  protected readonly shortcuts = inject(Shortcuts);
  private readonly dialog = inject(MatDialog);
  protected readonly comparisons: readonly { value: Comparison; label: string; tip: string }[] = [
    { value: 'before', label: 'Before', tip: 'The picture as it came (hold B)' },
    { value: 'after', label: 'After', tip: 'The finished picture' },
    { value: 'wipe', label: 'Wipe', tip: 'Both, with an edge to drag (W)' },
  ];
  protected readonly undoText = computed(() =>
    this.document.undoLabel() ? `Step back: ${this.document.undoLabel()}` : 'Nothing to take back',
  );
  protected readonly redoText = computed(() =>
    this.document.redoLabel() ? `Step forward: ${this.document.redoLabel()}` : 'Nothing to do again',
  );
  protected readonly themeIcon = computed(
    () => (({ system: 'monitor', day: 'sun', night: 'moon' }) as const)[this.workspace.theme()],
  );

  protected nextTheme(): void {
    this.workspace.theme.update(
      (theme) => (({ system: 'day', day: 'night', night: 'system' }) as const)[theme],
    );
  }

  protected openShelf(): void {
    this.dialog.open(Shelf, { width: '1000px', maxWidth: '94vw', ariaLabel: 'Shelf' });
  }
}
