import { ChangeDetectionStrategy, Component, effect, inject, signal, untracked } from '@angular/core';
import { MatIconButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatSnackBar, type MatSnackBarRef } from '@angular/material/snack-bar';
import { MatTooltip } from '@angular/material/tooltip';
import { ProfileRail } from '../profile/profile-rail';
import { Footage } from '../project/footage';
import { Notices } from '../project/notices';
import { Many } from '../jobs/many';
import { ManyView } from '../many/many-view';
import { Mending } from '../project/mending';
import { OpenProject } from '../project/open-project';
import { RecipeImport } from '../project/recipe-import';
import { Session } from '../project/session';
import { Thumbnails } from '../project/thumbnails';
import { Reel } from '../reel/reel';
import { HalfCaption } from '../stage/half-caption';
import { OtherHalf } from '../stage/other-half';
import { Stage } from '../stage/stage';
import { BlurPanel } from '../steps/blur/blur-panel';
import { ColourPanel } from '../steps/colour/colour-panel';
import { FocusPanel } from '../steps/focus/focus-panel';
import { OutputPanel } from '../steps/output/output-panel';
import { FinishPanel } from '../steps/finish/finish-panel';
import { TidyPanel } from '../steps/tidy/tidy-panel';
import { PacePanel } from '../steps/pace/pace-panel';
import { SourcePanel } from '../steps/source/source-panel';
import { Keymap } from '../workspace/keymap';
import { Looking } from '../workspace/looking';
import { TwoAtOnce } from '../workspace/two-at-once';
import { filesIn } from './dropped-files';
import { KeyHelp } from './key-help';
import { NewVersion } from './new-version';
import { NoticeStack } from './notice-stack';
import { QueueStrip } from './queue-strip';
import { Route } from './route';
import { TopBar } from './top-bar';

/** The window: bar, route, stage, profile, panel. Files may be dropped anywhere on it, dialogs included. */
@Component({
  selector: 'hl-root',
  imports: [
    TopBar,
    Route,
    Stage,
    OtherHalf,
    HalfCaption,
    ProfileRail,
    Reel,
    SourcePanel,
    FocusPanel,
    BlurPanel,
    ColourPanel,
    OutputPanel,
    FinishPanel,
    TidyPanel,
    PacePanel,
    QueueStrip,
    MatIcon,
    MatIconButton,
    MatTooltip,
  ],
  template: `
    @if (!looking.pictureAlone()) {
      <hl-top-bar />
      <hl-route />
    }
    <main
      aria-label="Stage"
      [class.halves]="two.isOn()"
      [class.stacked]="two.isStacked()"
      [class.second-in-hand]="two.inHand() === 'second'"
    >
      <hl-stage />
      @if (two.isOn()) {
        <hl-other-half />
        <hl-half-caption class="first" half="first" />
        <hl-half-caption class="second" half="second" />
      }
      @if (looking.pictureAlone()) {
        <button
          matIconButton
          class="back"
          aria-label="Everything back"
          matTooltip="Everything back (P)"
          (click)="looking.pictureAlone.set(false)"
        >
          <mat-icon svgIcon="close" />
        </button>
      }
      @if (session.opening(); as name) {
        <div class="veil" role="status">Opening “{{ name }}” …</div>
      }
    </main>
    @if (!looking.pictureAlone()) {
      <hl-profile-rail />
      <aside [attr.aria-label]="looking.step() + ' panel'">
        @switch (looking.step()) {
          @case ('source') {
            <hl-source-panel />
          }
          @case ('tidy') {
            <hl-tidy-panel />
          }
          @case ('focus') {
            <hl-focus-panel />
          }
          @case ('blur') {
            <hl-blur-panel />
          }
          @case ('colour') {
            <hl-colour-panel />
          }
          @case ('finish') {
            <hl-finish-panel />
          }
          @case ('pace') {
            @if (footage.isOpen()) {
              <hl-pace-panel />
            } @else {
              <hl-output-panel />
            }
          }
          @case ('output') {
            <hl-output-panel />
          }
        }
      </aside>
    }
    @if (footage.isOpen()) {
      <hl-reel />
    }
    <hl-queue-strip />
    @if (dropping()) {
      <div class="veil drop">Let go to open it as a new project</div>
    }
  `,
  styleUrl: './shell.scss',
  host: {
    '[class.alone]': 'looking.pictureAlone()',
    '(document:dragover)': 'dragOver($event)',
    '(document:dragleave)': 'dragLeave($event)',
    '(document:drop)': 'drop($event)',
    '(window:paste)': 'paste($event)',
    '(document:copy)': 'copy($event)',
  },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Shell {
  protected readonly session = inject(Session);
  protected readonly looking = inject(Looking);
  protected readonly footage = inject(Footage);
  protected readonly two = inject(TwoAtOnce);
  private readonly dialog = inject(MatDialog);
  private readonly project = inject(OpenProject);
  private readonly recipes = inject(RecipeImport);
  private readonly notices = inject(Notices);
  protected readonly dropping = signal(false);

  constructor() {
    inject(Thumbnails);
    inject(Mending);
    inject(NewVersion).watch();
    this.showNotices();
    const { helpWanted } = inject(Keymap);
    effect(() => {
      if (!helpWanted()) return;
      const help = this.dialog.open(KeyHelp, { width: '860px', maxWidth: '94vw', ariaLabel: 'Keyboard' });
      help.afterClosed().subscribe(() => helpWanted.set(false));
    });
    void this.session.start();
    void inject(Many).resume();
  }

  /** One snack bar stands while there is something to say. */
  private showNotices(): void {
    const { notices } = this;
    const bar = inject(MatSnackBar);
    let shown: MatSnackBarRef<NoticeStack> | null = null;
    effect(() => {
      const isWanted = notices.all().length > 0;
      untracked(() => {
        if (!isWanted) shown?.dismiss();
        else shown ??= bar.openFromComponent(NoticeStack, { verticalPosition: 'top', politeness: 'off' });
      });
      if (!isWanted) shown = null;
    });
  }

  protected dragOver(event: DragEvent): void {
    if (!event.dataTransfer?.types.includes('Files')) return;
    event.preventDefault();
    this.dropping.set(true);
  }

  protected dragLeave(event: DragEvent): void {
    if (!event.relatedTarget) this.dropping.set(false);
  }

  protected drop(event: DragEvent): void {
    const files = event.dataTransfer && filesIn(event.dataTransfer);
    if (!files) return;
    event.preventDefault();
    this.dropping.set(false);
    // They join the others there.
    if (this.dialog.openDialogs.some(({ componentInstance }) => componentInstance instanceof ManyView))
      return;
    this.dialog.closeAll();
    void files.then((list) => this.session.openDropped(list));
  }

  protected paste(event: ClipboardEvent): void {
    const files = [...(event.clipboardData?.files ?? [])];
    if (files.length > 0) void this.session.openDropped(files);
    else if (!isForText(event) && this.recipes.paste(event.clipboardData?.getData('text/plain') ?? ''))
      event.preventDefault();
  }

  /** Where no text is chosen, the recipe is what is copied. */
  protected copy(event: ClipboardEvent): void {
    if (isForText(event) || !getSelection()?.isCollapsed || !this.project.isOpen()) return;
    event.clipboardData?.setData('text/plain', JSON.stringify(this.project.keyed(), null, 2));
    event.preventDefault();
    this.notices.info(
      'The recipe is copied. Paste it into another project, or into a file.',
      'recipe copied',
    );
  }
}

/** True where the clipboard is a text box's. */
function isForText({ target }: Event): boolean {
  return target instanceof HTMLInputElement || target instanceof HTMLTextAreaElement;
}
