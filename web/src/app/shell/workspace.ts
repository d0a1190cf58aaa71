import { NgComponentOutlet, NgTemplateOutlet } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterRenderEffect,
  computed,
  effect,
  inject,
  untracked,
} from '@angular/core';
import { Dialog } from '@angular/cdk/dialog';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatProgressBar } from '@angular/material/progress-bar';
import { MatTooltip } from '@angular/material/tooltip';
import type { Recipe } from '@hazy-lens/core';
import { openMany } from '../batch/batch-view';
import { ProfileRail } from '../profile/profile-rail';
import { Footage } from '../project/footage/footage';
import { MendPreview } from '../project/subjects/mend-preview';
import { Notices } from '../project/session/notices';
import { OpenProject } from '../project/session/open-project';
import { FileOpener } from '../project/session/file-opener';
import { Openings } from '../project/session/openings';
import { Thumbnails } from '../project/saving/thumbnails';
import { Reel } from '../reel/reel';
import { HalfCaption } from '../stage/half-caption';
import { ComparisonView } from '../stage/comparison-view';
import { Stage } from '../stage/stage';
import { VariantCaption } from '../stage/variant-caption';
import { Keymap } from '../workspace/keymap';
import { WindowLayout } from '../workspace/window-layout';
import { ViewStore } from '../workspace/view-store';
import { SplitComparison } from '../workspace/split-comparison';
import { VariantView } from '../workspace/variant-view';
import { isForText } from './is-for-text';
import { KeyHelp } from './key-help';
import { PanelSheet } from './panel-sheet';
import { FirstHints } from './first-hints';
import { openGuide } from './guide';
import { RawPreviewView } from './raw-preview';
import { Route } from './route';
import { STEPS } from './steps';
import { TopBar } from './top-bar';
import { shellWords } from '../words/shell';

/** One project in the window: bar, route, stage, profile, panel, reel. It goes when the project closes. */
@Component({
  selector: 'hl-workspace',
  imports: [
    NgComponentOutlet,
    NgTemplateOutlet,
    TopBar,
    Route,
    Stage,
    ComparisonView,
    VariantCaption,
    HalfCaption,
    FirstHints,
    PanelSheet,
    ProfileRail,
    RawPreviewView,
    Reel,
    MatIcon,
    MatButton,
    MatIconButton,
    MatProgressBar,
    MatTooltip,
  ],
  template: `
    <nav class="skip" [aria-label]="words.skip">
      <button matButton="filled" (click)="focusIn('.picture')">{{ words.skipToThePicture }}</button>
      <button matButton="filled" (click)="focusIn('aside :is(button, input):not([disabled])')">
        {{ words.skipToThePanel }}
      </button>
    </nav>
    @if (!viewStore.pictureAlone()) {
      <hl-top-bar />
      <hl-route />
    }
    <main
      [aria-label]="words.stage"
      [class.halves]="split.isOn()"
      [class.stacked]="split.isStacked()"
      [class.second-in-hand]="split.inHand() === 'second'"
    >
      <hl-stage [style.inset]="cellOf(variants.current())" />
      @if (split.isOn()) {
        <hl-side-view class="half" [recipe]="otherHalf()" (taken)="split.swap()" />
        <hl-half-caption class="first" half="first" />
        <hl-half-caption class="second" half="second" />
      }
      @for (variant of besides(); track variant.id) {
        @if (variant.id !== variants.current()) {
          <hl-side-view
            [recipe]="variant.recipe"
            [says]="variant.name"
            [style.inset]="cellOf(variant.id)"
            (taken)="variants.choose(variant.id)"
          />
        }
        <hl-variant-caption [variant]="variant" [style.inset]="captionOf(variant.id)" />
      }
      @if (besides().length === 3) {
        <div class="fourth">
          <button matButton="tonal" (click)="variants.make()">{{ words.newVariant }}</button>
        </div>
      }
      @if (viewStore.pictureAlone()) {
        <button
          matIconButton
          class="back"
          [aria-label]="words.showPanels"
          [matTooltip]="words.showPanelsP"
          (click)="viewStore.set({ pictureAlone: false })"
        >
          <mat-icon svgIcon="close" />
        </button>
      }
      @if (!viewStore.pictureAlone() && besides().length === 0) {
        <hl-first-hints />
      }
      @if (openings.opening(); as opening) {
        <div class="veil" role="status">
          @if (opening.preview; as preview) {
            <hl-raw-preview [preview]="preview" />
          }
          <div class="opening" [class.below]="opening.preview">
            {{ opening.preview ? words.developing : words.opening }} “{{ opening.name }}” …
            <mat-progress-bar
              [mode]="opening.done === null ? 'indeterminate' : 'determinate'"
              [value]="100 * (opening.done ?? 0)"
              [aria-label]="words.opening"
            />
            <button matButton="outlined" (click)="openings.cancel()">{{ words.cancel }}</button>
          </div>
        </div>
      }
    </main>
    @if (showsRail()) {
      <hl-profile-rail />
    }
    @if (!viewStore.pictureAlone()) {
      <aside [attr.aria-label]="words.panel(viewStore.step())">
        <ng-template #content>
          <button matButton class="how" (click)="explain()">{{ words.howThisWorks }}</button>
          <ng-container *ngComponentOutlet="panel()" />
        </ng-template>
        @if (layout() === 'phone') {
          <hl-panel-sheet><ng-container *ngTemplateOutlet="content" /></hl-panel-sheet>
        } @else {
          <ng-container *ngTemplateOutlet="content" />
        }
      </aside>
    }
    @if (footage.isOpen()) {
      <hl-reel />
    }
  `,
  styleUrl: './workspace.scss',
  host: {
    '[class]': 'layout()',
    '[class.alone]': 'viewStore.pictureAlone()',
    '[class.with-rail]': 'showsRail()',
    '(document:copy)': 'copy($event)',
  },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Workspace {
  protected readonly words = shellWords;
  protected readonly openings = inject(Openings);
  private readonly files = inject(FileOpener);
  protected readonly viewStore = inject(ViewStore);
  protected readonly footage = inject(Footage);
  protected readonly split = inject(SplitComparison);
  protected readonly variants = inject(VariantView);
  private readonly project = inject(OpenProject);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly dialog = inject(MatDialog);
  private readonly dialogs = inject(Dialog);
  private readonly window = inject(WindowLayout);
  protected readonly layout = this.window.layout;
  /** The profile is there where the field is shaped or judged, and elsewhere the stage has its room. */
  protected readonly showsRail = computed(() => {
    const step = this.viewStore.step();
    const isWanted = step === 'focus' || step === 'blur';
    return isWanted && this.window.hasRoomForRail() && !this.viewStore.pictureAlone();
  });
  private readonly notices = inject(Notices);
  /** The panel of the step in hand; what is for footage alone gives way to the output of a still. */
  protected readonly panel = computed(() => {
    const { panel, isForFootage } = STEPS.find(({ id }) => id === this.viewStore.step())!;
    return isForFootage && !this.footage.isOpen() ? STEPS.find(({ id }) => id === 'output')!.panel : panel;
  });
  /** The present recipe under the other blur that is tried. */
  protected readonly otherHalf = computed<Recipe>(() => {
    const recipe = this.project.recipe();
    return { ...recipe, blur: this.split.other() ?? recipe.blur, keys: [] };
  });
  /** Versions that stand beside each other; two blurs at once go before. */
  protected readonly besides = computed(() => (this.split.isOn() ? [] : this.variants.shown()));

  /** Where a version stands on the stage, as its distances from the four sides; '' where one stands alone. */
  private spanOf(id: string | null): { x: [number, number]; y: [number, number] } | null {
    const shown = this.besides();
    const i = shown.findIndex((one) => one.id === id);
    if (i < 0) return null;
    const isStacked = this.split.isStacked();
    const [columns, rows] = shown.length > 2 ? [2, 2] : isStacked ? [1, 2] : [2, 1];
    const [column, row] = [i % columns!, Math.floor(i / columns!)];
    const part = (n: number, of: number): [number, number] => [(100 * n) / of, (100 * (of - n - 1)) / of];
    return { x: part(column, columns!), y: part(row, rows!) };
  }

  protected cellOf(id: string | null): string {
    const span = this.spanOf(id);
    return span ? `calc(${span.y[0]}% + 1px) ${span.x[1]}% ${span.y[1]}% calc(${span.x[0]}% + 1px)` : '';
  }

  protected captionOf(id: string): string {
    const span = this.spanOf(id);
    return span ? `${span.y[0]}% auto auto calc(${span.x[0]}% + 8px)` : '';
  }

  constructor() {
    // Without their animation: what they are made of ends with the project.
    inject(DestroyRef).onDestroy(() => this.dialogs.closeAll());
    inject(Thumbnails);
    inject(MendPreview);
    const { dialog } = this;
    const { helpWanted } = inject(Keymap);
    // Each step's panel begins at its top.
    afterRenderEffect(() => {
      this.viewStore.step();
      for (const scrolled of this.element.querySelectorAll('aside, aside .content')) scrolled.scrollTop = 0;
    });
    effect(() => {
      if (!this.files.batchWanted()) return;
      this.files.batchWanted.set(false);
      untracked(() => openMany(dialog));
    });
    effect(() => {
      if (!helpWanted()) return;
      const help = dialog.open(KeyHelp, {
        width: '860px',
        maxWidth: '94vw',
        ariaLabel: shellWords.keyboardShortcuts,
      });
      help.afterClosed().subscribe(() => helpWanted.set(false));
    });
  }

  /** The page of the guide on the step that is open. */
  protected explain(): void {
    openGuide(this.dialog, STEPS.find(({ id }) => id === this.viewStore.step())!.label);
  }

  protected focusIn(selector: string): void {
    this.element.querySelector<HTMLElement>(selector)?.focus();
  }

  /** Where no text is chosen, the recipe is what is copied. */
  protected copy(event: ClipboardEvent): void {
    if (isForText(event) || !getSelection()?.isCollapsed || !this.project.isOpen()) return;
    event.clipboardData?.setData('text/plain', JSON.stringify(this.project.keyed(), null, 2));
    event.preventDefault();
    this.notices.info(shellWords.recipeCopiedPasteIntoAnother, 'recipe copied');
  }
}
