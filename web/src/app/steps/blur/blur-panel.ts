import { NgComponentOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatTooltip } from '@angular/material/tooltip';
import type { BlurKind } from '@hazy-lens/core';
import { OpenProject } from '../../project/session/open-project';
import { RecipeNumber } from '../../ui/recipe-number';
import { ViewStore } from '../../workspace/view-store';
import { SplitComparison } from '../../workspace/split-comparison';
import { BrightSpot } from './bright-spot';
import { BlurKindIcon } from './blur-kind-icon';
import { BLUR_KINDS } from './kinds';
import { blurWords } from '../../words/blur';

@Component({
  selector: 'hl-blur-panel',
  imports: [
    BrightSpot,
    BlurKindIcon,
    NgComponentOutlet,
    MatButtonToggle,
    MatButtonToggleGroup,
    MatTooltip,
    RecipeNumber,
  ],
  template: `
    <h2 class="panel-title">{{ words.blur }}</h2>
    <section class="panel-section">
      <mat-button-toggle-group
        [aria-label]="words.blurType"
        [value]="blur().kind"
        (change)="choose($event.value)"
      >
        @for (one of kinds; track one.kind) {
          <mat-button-toggle [value]="one.kind" [aria-label]="one.label" [matTooltip]="one.description">
            <span class="kind"><hl-blur-kind-icon [kind]="one" [blur]="blur()" />{{ one.label }}</span>
          </mat-button-toggle>
        }
      </mat-button-toggle-group>
      <hl-recipe-number [at]="['blur', 'radius']" />
      <div class="row">
        <mat-button-toggle
          [checked]="viewStore.exaggerated()"
          [matTooltip]="words.showsTheBlurFourTimes"
          (change)="viewStore.set({ exaggerated: $event.source.checked })"
        >
          {{ words.exaggerate }}
        </mat-button-toggle>
        <mat-button-toggle
          [checked]="split.isOn()"
          [matTooltip]="words.splitsTheStageToCompare"
          (change)="split.isOn() ? split.keep(split.inHand()) : split.start()"
        >
          {{ words.compareBlurs }}
        </mat-button-toggle>
      </div>
      <hl-bright-spot />
      <p class="hint">{{ words.theBrightestHazySpot }}</p>
    </section>
    @if (component(); as own) {
      <ng-container *ngComponentOutlet="own" />
    }
    @if (numbers(); as own) {
      <section class="panel-section" [attr.aria-label]="own.title">
        @for (at of own.numbers; track at.join()) {
          <hl-recipe-number [at]="at" [slider]="own.hasSliders" />
        }
        <p class="hint">{{ own.hint }}</p>
      </section>
    }
  `,
  styles: `
    .kind {
      display: flex;
      flex-direction: column;
      align-items: center;
      gap: 2px;
      padding: 4px 0 2px;
      font-size: 11px;
      line-height: 14px;
    }
    mat-button-toggle-group {
      display: flex;
      box-sizing: border-box;
      width: 100%;
      margin-bottom: 8px;
    }
    mat-button-toggle-group mat-button-toggle {
      flex: 1;
      --toggle-padding: 0;
    }
    hl-bright-spot {
      display: block;
      margin: 8px 0 6px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BlurPanel {
  protected readonly words = blurWords;
  private readonly project = inject(OpenProject);
  protected readonly viewStore = inject(ViewStore);
  protected readonly split = inject(SplitComparison);
  protected readonly kinds = BLUR_KINDS;
  private readonly settings = computed(
    () => BLUR_KINDS.find(({ kind }) => kind === this.blur().kind)?.settings,
  );
  protected readonly component = computed(() => {
    const settings = this.settings();
    return typeof settings === 'function' ? settings : null;
  });
  protected readonly numbers = computed(() => {
    const settings = this.settings();
    return typeof settings === 'object' ? settings : null;
  });
  protected readonly blur = computed(() => this.project.calmRecipe().blur);

  protected choose(kind: BlurKind): void {
    this.project.edit(blurWords.blurNamed(kind), ({ blur }) => void (blur.kind = kind));
  }
}
