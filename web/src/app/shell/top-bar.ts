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
import { shellWords } from '../words/shell';

const WHY_UNSAVED = {
  'not kept': shellWords.thisBrowserHasNoRoom,
  'other tab': shellWords.theProjectIsOpen,
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
      <h1 class="brand">{{ words.hazyLens }}</h1>
      @if (isNarrow()) {
        <button matIconButton [aria-label]="words.menu" [matMenuTriggerFor]="menu">
          <mat-icon svgIcon="menu" />
        </button>
      } @else {
        <button
          matButton
          iconPositionEnd
          aria-haspopup="dialog"
          [matTooltip]="words.projectsAndDemos"
          (click)="openShelf()"
        >
          <span class="name">{{ project.state().name || words.shelf }}</span>
          <mat-icon iconPositionEnd svgIcon="chevronDown" />
        </button>
      }
      @if (project.isOpen() && autosave.problem()) {
        <span class="unsaved" [matTooltip]="whyUnsaved()">{{ words.notSaved }}</span>
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
        [aria-label]="words.compare"
        [value]="viewStore.comparison()"
        (change)="viewStore.set({ comparison: $event.value })"
      >
        @for (one of comparisons; track one.value) {
          <mat-button-toggle [value]="one.value" [matTooltip]="one.tip">{{ one.label }}</mat-button-toggle>
        }
      </mat-button-toggle-group>
      @if (!isNarrow()) {
        <button
          matIconButton
          [aria-label]="words.hidePanels"
          [matTooltip]="words.hidePanelsP"
          (click)="viewStore.set({ pictureAlone: true })"
        >
          <mat-icon svgIcon="alone" />
        </button>
        <button
          matIconButton
          [attr.aria-label]="words.theme(themes.theme())"
          [matTooltip]="words.theme(themes.theme())"
          (click)="nextTheme()"
        >
          <mat-icon [svgIcon]="themeIcon()" />
        </button>
        <button matIconButton [aria-label]="words.guide" [matTooltip]="words.guide" (click)="openGuide()">
          <mat-icon svgIcon="help" />
        </button>
        <button
          matIconButton
          [aria-label]="words.keyboardShortcuts"
          [matTooltip]="words.keyboardShortcutsHint"
          (click)="keymap.helpWanted.set(true)"
        >
          <mat-icon svgIcon="keyboard" />
        </button>
      }
      <button matButton="filled" class="export" (click)="viewStore.set({ step: 'output' })">
        {{ words.export }}
      </button>
    </header>
    <mat-menu #menu="matMenu">
      <button mat-menu-item (click)="openShelf()">
        {{ words.projects(project.state().name || words.noneOpen) }}
      </button>
      <button mat-menu-item [disabled]="!project.isOpen()" [matMenuTriggerFor]="variants.menu()">
        {{ words.variants }}
      </button>
      <button mat-menu-item [disabled]="!project.redoLabel()" (click)="project.redo()">
        {{ redoText() }}
      </button>
      <button mat-menu-item [disabled]="!history.isThere()" [matMenuTriggerFor]="history.menu()">
        {{ words.history }}
      </button>
      <button mat-menu-item (click)="viewStore.set({ pictureAlone: true })">{{ words.hidePanels }}</button>
      <button mat-menu-item (click)="nextTheme()">{{ words.theme(themes.theme()) }}</button>
      <button mat-menu-item (click)="openGuide()">{{ words.guide }}</button>
      <button mat-menu-item (click)="keymap.helpWanted.set(true)">{{ words.keyboardShortcuts }}</button>
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
  protected readonly words = shellWords;
  protected readonly project = inject(OpenProject);
  protected readonly autosave = inject(Autosave);
  protected readonly viewStore = inject(ViewStore);
  protected readonly themes = inject(Themes);
  protected readonly keymap = inject(Keymap);
  private readonly dialog = inject(MatDialog);
  protected readonly isNarrow = inject(WindowLayout).isNarrow;
  protected readonly comparisons: readonly { value: Comparison; label: string; tip: string }[] = [
    { value: 'before', label: shellWords.before, tip: shellWords.theOriginalPictureHoldB },
    { value: 'after', label: shellWords.after, tip: shellWords.theFinishedPicture },
    { value: 'wipe', label: shellWords.wipe, tip: shellWords.beforeAndAfter },
  ];
  protected readonly undoText = computed(() => {
    const label = this.project.undoLabel();
    return label ? shellWords.undo(label) : shellWords.nothingToUndo;
  });
  protected readonly redoText = computed(() => {
    const label = this.project.redoLabel();
    return label ? shellWords.redo(label) : shellWords.nothingToRedo;
  });
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
