import { moveItemInArray } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, DestroyRef, computed, inject, signal } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatIcon } from '@angular/material/icon';
import { MatProgressBar } from '@angular/material/progress-bar';
import { MatSlideToggle } from '@angular/material/slide-toggle';
import { MatTooltip } from '@angular/material/tooltip';
import { type Mend, type NumberRange, type RecipePath, diagonal } from '@hazy-lens/core';
import { mendName } from '../../model/mends';
import { Footage } from '../../project/footage/footage';
import { MendPreview } from '../../project/subjects/mend-preview';
import { OpenProject } from '../../project/session/open-project';
import { FollowControls } from '../../ui/follow-controls';
import { focusNeighbour } from '../../ui/focus-neighbour';
import { NumberField, plainRange } from '../../ui/number-field';
import { MendTool } from '../../workspace/mend-tool';
import { tidyWords } from '../../words/tidy';

/** What is made to disappear, or copied over, before the blur spreads it. */
@Component({
  selector: 'hl-mend-section',
  imports: [
    MatButton,
    MatButtonToggle,
    MatButtonToggleGroup,
    MatIcon,
    MatIconButton,
    MatProgressBar,
    MatSlideToggle,
    MatTooltip,
    FollowControls,
    NumberField,
  ],
  template: `
    <section class="panel-section" [aria-label]="words.hand">
      <mat-button-toggle-group
        [aria-label]="words.tool"
        [value]="tool.kind() ?? 'crop'"
        (change)="take($event.value)"
      >
        <mat-button-toggle value="crop">{{ words.crop }}</mat-button-toggle>
        <mat-button-toggle value="fill">{{ words.fill }}</mat-button-toggle>
        <mat-button-toggle value="copy">{{ words.clone }}</mat-button-toggle>
      </mat-button-toggle-group>
    </section>
    @if (tool.kind(); as kind) {
      <section class="panel-section" [aria-label]="words.touchUpBrush">
        <p class="hint">
          @if (kind === 'fill') {
            {{ words.paintOverAnythingYouWant }}
          } @else if (tool.source()) {
            {{ words.paintToCloneTheDouble }}
          } @else {
            {{ words.clickTheAreaToCloneFrom }}
          }
        </p>
        <hl-number
          [range]="radius()"
          [slider]="true"
          [value]="tool.radiusPx()"
          (changed)="setRadius($event.value)"
        />
        <hl-number
          [range]="softness"
          [slider]="true"
          [value]="tool.softness() * 100"
          (changed)="tool.set({ softness: $event.value / 100 })"
        />
        @if (kind === 'copy' && tool.source()) {
          <button matButton="outlined" (click)="tool.set({ source: null })">{{ words.changeSource }}</button>
        }
      </section>
    }
    @if (mends().length > 0) {
      <section class="panel-section" [aria-label]="words.touchUps">
        <h3 class="quiet">{{ words.touchUps }}</h3>
        @if (mendPreview.progress() !== null) {
          <div class="row work">
            <mat-progress-bar
              [mode]="mendPreview.progress() === 'some' ? 'indeterminate' : 'determinate'"
              [value]="percent()"
              [aria-label]="words.renderingTouchUps"
            />
            @if (mendPreview.canCancel()) {
              <button matButton="outlined" (click)="mendPreview.cancel()">{{ words.cancel }}</button>
            }
          </div>
        }
        @for (mend of mends(); track mend.id; let i = $index) {
          <div class="row mend">
            <mat-slide-toggle
              [checked]="mend.on"
              [aria-label]="words.on(nameOf(mends(), i))"
              (keydown.delete)="removeByKey(mend, $event)"
              (change)="switch(mend, $event.checked)"
            />
            @if (footage.isOpen()) {
              <button
                matButton
                class="name"
                [attr.aria-pressed]="i === followed()"
                [attr.aria-label]="words.select(nameOf(mends(), i))"
                (click)="chosen.set(mend.id)"
              >
                {{ nameOf(mends(), i) }}
              </button>
            } @else {
              <span>{{ nameOf(mends(), i) }}</span>
            }
            <button
              matIconButton
              class="push"
              [matTooltip]="words.moveUp"
              [attr.aria-label]="words.moveUpNamed(nameOf(mends(), i))"
              [disabled]="i === 0"
              (click)="earlier(i)"
            >
              <mat-icon svgIcon="earlier" />
            </button>
            <button
              matIconButton
              [attr.aria-label]="words.delete(nameOf(mends(), i))"
              (click)="tool.remove(mend)"
            >
              <mat-icon svgIcon="close" />
            </button>
          </div>
        }
        @if (footage.isOpen()) {
          <hl-follow-controls [at]="place()" [label]="nameOf(mends(), followed())" />
          <p class="hint">
            {{ words.eachTouchUpUses }}
          </p>
        }
      </section>
    }
  `,
  styles: `
    /* In line with the names of mends that are no buttons. */
    .name {
      min-width: 0;
      margin-left: -6px;
      padding: 0 6px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MendSection {
  protected readonly words = tidyWords;
  private readonly project = inject(OpenProject);
  protected readonly footage = inject(Footage);
  protected readonly mendPreview = inject(MendPreview);
  protected readonly tool = inject(MendTool);
  protected readonly nameOf = mendName;
  protected readonly percent = computed(() => 100 * Number(this.mendPreview.progress() ?? 0) || 0);
  protected readonly mends = computed(() => this.project.calmRecipe().tidy.mends);
  protected readonly softness = plainRange(tidyWords.softness, '%', 0, 100, 30);
  protected readonly radius = computed<NumberRange>(() => {
    const d = diagonal(this.project.size());
    return {
      ...plainRange(tidyWords.radius, 'px', 1, Math.round(d / 10), Math.round(0.012 * d)),
      spoken: tidyWords.touchUpRadius,
    };
  });

  constructor() {
    inject(DestroyRef).onDestroy(() => this.tool.set({ kind: null }));
  }

  protected take(kind: 'crop' | 'fill' | 'copy'): void {
    this.tool.set({ kind: kind === 'crop' ? null : kind, source: null });
  }

  protected setRadius(px: number): void {
    this.tool.set({ radius: px / diagonal(this.project.size()) });
  }

  /** Which of them is followed: the chosen one, else the last. */
  protected readonly chosen = signal<string | null>(null);
  protected readonly followed = computed(() => {
    const at = this.mends().findIndex(({ id }) => id === this.chosen());
    return at < 0 ? this.mends().length - 1 : at;
  });
  protected readonly place = computed<RecipePath>(() => ['tidy', 'mends', this.followed()]);

  /** A mend sees what those before it made. */
  protected earlier(i: number): void {
    this.project.edit('reorder touch-ups', ({ tidy }) => moveItemInArray(tidy.mends, i, i - 1));
  }

  protected removeByKey(mend: Mend, event: Event): void {
    event.stopPropagation();
    focusNeighbour(event.target as HTMLElement, 'section', '.mend [role=switch]');
    this.tool.remove(mend);
  }

  protected switch({ id, kind }: Mend, on: boolean): void {
    this.project.edit(`${kind} ${on ? 'on' : 'off'}`, ({ tidy }) => {
      for (const one of tidy.mends) if (one.id === id) one.on = on;
    });
  }
}
