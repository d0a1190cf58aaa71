import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { MatTooltip } from '@angular/material/tooltip';
import { Autosave } from '../project/saving/autosave';
import { OpenProject } from '../project/session/open-project';
import { openShelf } from '../shelf/shelf';
import { Keymap } from '../workspace/keymap';
import { type Comparison, ViewStore } from '../workspace/view-store';
import { WindowLayout } from '../workspace/window-layout';
import { openGuide } from './guide';
import { HistoryMenu } from './history-menu';
import { VariantsMenu } from './variants-menu';
import { Themes } from '../workspace/themes';

const WHY_UNSAVED = {
  'not kept': 'This browser has no room for the project. Export it, or save its recipe, before you leave.',
  'other tab': 'The project is open in another tab, so changes here aren’t saved.',
  failed:
    'The latest changes couldn’t be saved. Hazy Lens keeps trying; if you close this window first, they are lost.',
} as const;

@Component({
  selector: 'hl-top-bar',
  imports: [
    MatButton,
    MatButtonToggle,
    HistoryMenu,
    MatButtonToggleGroup,
    MatIcon,
    MatIconButton,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    MatTooltip,
    VariantsMenu,
  ],
  template: `
    <header [class.narrow]="isNarrow()">
      <h1 class="brand">Hazy Lens</h1>
      @if (isNarrow()) {
        <button matIconButton aria-label="Menu" [matMenuTriggerFor]="menu">
          <mat-icon svgIcon="menu" />
        </button>
      } @else {
        <button
          matButton
          iconPositionEnd
          aria-haspopup="dialog"
          matTooltip="Projects and demos"
          (click)="openShelf()"
        >
          <span class="name">{{ project.state().name || 'Shelf' }}</span>
          <mat-icon iconPositionEnd svgIcon="chevronDown" />
        </button>
      }
      @if (project.isOpen() && autosave.problem()) {
        <span class="unsaved" [matTooltip]="whyUnsaved()">Not saved</span>
      }
      <hl-variants-menu #variants [isSubmenu]="isNarrow()" />
      <span class="gap"></span>
      <button
        matIconButton
        [disabled]="!project.undoLabel()"
        [attr.aria-label]="undoText()"
        [matTooltip]="undoText()"
        (click)="project.undo()"
      >
        <mat-icon svgIcon="undo" />
      </button>
      @if (!isNarrow()) {
        <button
          matIconButton
          [disabled]="!project.redoLabel()"
          [attr.aria-label]="redoText()"
          [matTooltip]="redoText()"
          (click)="project.redo()"
        >
          <mat-icon svgIcon="redo" />
        </button>
      }
      <hl-history-menu #history [isSubmenu]="isNarrow()" />
      <span class="gap"></span>
      <mat-button-toggle-group
        aria-label="Compare"
        [value]="viewStore.comparison()"
        (change)="viewStore.comparison.set($event.value)"
      >
        @for (one of comparisons; track one.value) {
          <mat-button-toggle [value]="one.value" [matTooltip]="one.tip">{{ one.label }}</mat-button-toggle>
        }
      </mat-button-toggle-group>
      @if (!isNarrow()) {
        <button
          matIconButton
          aria-label="Hide panels"
          matTooltip="Hide panels (P)"
          (click)="viewStore.pictureAlone.set(true)"
        >
          <mat-icon svgIcon="alone" />
        </button>
        <button
          matIconButton
          [attr.aria-label]="'Theme: ' + themes.theme()"
          [matTooltip]="'Theme: ' + themes.theme()"
          (click)="nextTheme()"
        >
          <mat-icon [svgIcon]="themeIcon()" />
        </button>
        <button matIconButton aria-label="Guide" matTooltip="Guide" (click)="openGuide()">
          <mat-icon svgIcon="help" />
        </button>
        <button
          matIconButton
          aria-label="Keyboard shortcuts"
          matTooltip="Keyboard shortcuts (?)"
          (click)="keymap.helpWanted.set(true)"
        >
          <mat-icon svgIcon="keyboard" />
        </button>
      }
      <button matButton="filled" class="export" (click)="viewStore.step.set('output')">Export</button>
    </header>
    <mat-menu #menu="matMenu">
      <button mat-menu-item (click)="openShelf()">Projects: {{ project.state().name || 'none open' }}</button>
      <button mat-menu-item [disabled]="!project.isOpen()" [matMenuTriggerFor]="variants.menu()">
        Variants
      </button>
      <button mat-menu-item [disabled]="!project.redoLabel()" (click)="project.redo()">
        {{ redoText() }}
      </button>
      <button mat-menu-item [disabled]="!history.isThere()" [matMenuTriggerFor]="history.menu()">
        History
      </button>
      <button mat-menu-item (click)="viewStore.pictureAlone.set(true)">Hide panels</button>
      <button mat-menu-item (click)="nextTheme()">Theme: {{ themes.theme() }}</button>
      <button mat-menu-item (click)="openGuide()">Guide</button>
      <button mat-menu-item (click)="keymap.helpWanted.set(true)">Keyboard shortcuts</button>
    </mat-menu>
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
      white-space: nowrap;
    }
    .name {
      display: inline-block;
      vertical-align: bottom;
      max-width: 220px;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .unsaved {
      font-size: 12px;
      font-weight: 600;
      color: var(--warn);
      white-space: nowrap;
    }
    .gap {
      flex: 1;
    }
    mat-button-toggle-group {
      margin-right: 8px;
    }
    .export {
      margin-left: 8px;
    }
    .narrow {
      height: 47px;
      padding: 0 8px;
    }
    .narrow .brand {
      position: absolute;
      clip-path: inset(50%);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TopBar {
  protected readonly project = inject(OpenProject);
  protected readonly autosave = inject(Autosave);
  protected readonly viewStore = inject(ViewStore);
  protected readonly themes = inject(Themes);
  protected readonly keymap = inject(Keymap);
  private readonly dialog = inject(MatDialog);
  protected readonly isNarrow = inject(WindowLayout).isNarrow;
  protected readonly comparisons: readonly { value: Comparison; label: string; tip: string }[] = [
    { value: 'before', label: 'Before', tip: 'The original picture (hold B)' },
    { value: 'after', label: 'After', tip: 'The finished picture' },
    { value: 'wipe', label: 'Wipe', tip: 'Before and after with a draggable divider (W)' },
  ];
  protected readonly undoText = computed(() =>
    this.project.undoLabel() ? `Undo: ${this.project.undoLabel()}` : 'Nothing to undo',
  );
  protected readonly redoText = computed(() =>
    this.project.redoLabel() ? `Redo: ${this.project.redoLabel()}` : 'Nothing to redo',
  );
  protected readonly whyUnsaved = computed(() => {
    const problem = this.autosave.problem();
    return problem && WHY_UNSAVED[problem];
  });
  protected readonly themeIcon = computed(
    () => (({ system: 'monitor', day: 'sun', night: 'moon' }) as const)[this.themes.theme()],
  );

  protected nextTheme(): void {
    this.themes.theme.update((theme) => (({ system: 'day', day: 'night', night: 'system' }) as const)[theme]);
  }

  protected openGuide(): void {
    openGuide(this.dialog);
  }

  protected openShelf(): void {
    openShelf(this.dialog);
  }
}
