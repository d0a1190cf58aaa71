import {
  ChangeDetectionStrategy,
  Component,
  ViewContainerRef,
  Directive,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { MatSnackBar, type MatSnackBarRef } from '@angular/material/snack-bar';
import { threadsShareMemory } from '@hazy-lens/core';
import { LayerImages } from '../engine/layer-images';
import { ClipExports } from '../jobs/clip-exports';
import { BatchRenderer } from '../jobs/batch-renderer';
import { BatchView } from '../batch/batch-view';
import type { OpenAs } from '../model/opening';
import { Notices } from '../project/session/notices';
import { Elements } from '../project/subjects/elements';
import { OpenProject } from '../project/session/open-project';
import { RecipeImport } from '../project/recipes/recipe-import';
import { ProjectScope } from '../project/session/scope';
import { FileOpener, type SeveralFiles } from '../project/session/file-opener';
import { ProjectOpener } from '../project/session/project-opener';
import { SelectionStore } from '../workspace/selection-store';
import { ViewStore } from '../workspace/view-store';
import { filesIn } from '../engine/dropped-files';
import { isForText } from './is-for-text';
import { dropHint } from './drop-hint';
import { OpenSeveral } from './open-several';
import { UpdateNotifier } from './update-notifier';
import { NoticeStack } from './notice-stack';
import { QueueStrip } from './queue-strip';
import { Workspace } from './workspace';
import { shellWords } from '../words/shell';

const ONE_THREAD = shellWords.thisWindowCantUseAll;

/** Where the open project is shown. */
@Directive({ selector: '[hlOpenProject]' })
export class OpenProjectOutlet {
  constructor() {
    inject(ProjectScope).showIn(inject(ViewContainerRef), Workspace);
  }
}

/** The window: the open project, and what outlives it. Files may be dropped anywhere on it, dialogs included. */
@Component({
  selector: 'hl-root',
  imports: [OpenProjectOutlet, QueueStrip],
  template: `
    <ng-container hlOpenProject />
    <hl-queue-strip />
    @if (dropping(); as hint) {
      <div class="veil">{{ hint }}</div>
    }
  `,
  styleUrl: './shell.scss',
  host: {
    '(document:dragover)': 'dragOver($event)',
    '(document:dragleave)': 'dragLeave($event)',
    '(document:drop)': 'drop($event)',
    '(window:paste)': 'paste($event)',
  },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Shell {
  private readonly opener = inject(ProjectOpener);
  private readonly files = inject(FileOpener);
  private readonly dialog = inject(MatDialog);
  private readonly scope = inject(ProjectScope);
  private readonly notices = inject(Notices);
  private readonly images = inject(LayerImages);
  private readonly viewStore = inject(ViewStore);
  /** What a drop will do, while something is held over the window. */
  protected readonly dropping = signal<string | null>(null);

  constructor() {
    inject(UpdateNotifier).watch();
    this.showNotices();
    if (!threadsShareMemory()) this.notices.info(ONE_THREAD);
    this.askHowToOpen();
    void this.opener.start();
    void inject(BatchRenderer).resume();
    void inject(ClipExports).refresh();
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

  /** What several pictures should become is asked once. */
  private askHowToOpen(): void {
    effect(() => {
      const several = this.files.asking();
      if (!several) return;
      untracked(() =>
        this.dialog
          .open<OpenSeveral, SeveralFiles, OpenAs>(OpenSeveral, { data: several, width: '420px' })
          .afterClosed()
          .subscribe((as) => several.answer(as ?? null)),
      );
    });
  }

  protected dragOver(event: DragEvent): void {
    if (!event.dataTransfer?.types.includes('Files')) return;
    event.preventDefault();
    this.dropping.set(
      dropHint(event.dataTransfer, { takesElements: this.takesElements(), isBatch: this.isBatchOpen() }),
    );
  }

  protected dragLeave(event: DragEvent): void {
    if (!event.relatedTarget) this.dropping.set(null);
  }

  protected drop(event: DragEvent): void {
    const files = event.dataTransfer && filesIn(event.dataTransfer);
    if (!files) return;
    event.preventDefault();
    this.dropping.set(null);
    // They join the others there.
    if (this.isBatchOpen()) return;
    const isOnStage = event.target instanceof Element && event.target.closest('hl-stage') !== null;
    this.dialog.closeAll();
    void files.then((list) => this.bringIn(list, isOnStage));
  }

  private isBatchOpen(): boolean {
    return this.dialog.openDialogs.some(({ componentInstance }) => componentInstance instanceof BatchView);
  }

  /** In the step of the focus a cut-out that is brought in lies over the picture that is open. */
  private takesElements(): boolean {
    return this.viewStore.step() === 'focus' && this.scope.get(OpenProject).isOpen();
  }

  /** @param mayAdd a cut-out may join the open picture; else everything is opened. */
  private async bringIn(files: readonly File[], mayAdd: boolean): Promise<void> {
    const [file] = files;
    if (file && files.length === 1 && mayAdd && this.takesElements() && (await this.images.isCutOut(file)))
      await this.addElement(file);
    else await this.files.open(files);
  }

  /** Adds a picture over the open one; that it was not opened by itself is said, and can be had. */
  private async addElement(file: File): Promise<void> {
    const [elements, inHand] = [this.scope.get(Elements), this.scope.get(SelectionStore)];
    const id = await elements.add(file, file.name);
    if (id === null) return;
    inHand.choose({ kind: 'element', id });
    this.notices.show({
      kind: 'info',
      topic: 'element',
      text: shellWords.wasAddedAsAnElement(file.name),
      action: {
        label: shellWords.openAsAProject,
        run: () => {
          this.notices.clear('element');
          void this.files.open([file]);
        },
      },
    });
  }

  protected paste(event: ClipboardEvent): void {
    const files = [...(event.clipboardData?.files ?? [])];
    if (files.length > 0) void this.bringIn(files, true);
    else if (
      !isForText(event) &&
      this.scope.get(RecipeImport).paste(event.clipboardData?.getData('text/plain') ?? '')
    )
      event.preventDefault();
  }
}
