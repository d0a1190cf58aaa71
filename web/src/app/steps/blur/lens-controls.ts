import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatFormField } from '@angular/material/input';
import { MatOption, MatSelect } from '@angular/material/select';
import { OpenProject } from '../../project/session/open-project';
import { RecipeNumber } from '../../ui/recipe-number';
import { ViewStore } from '../../workspace/view-store';
import { ApertureBench } from './aperture-bench';
import { blurWords } from '../../words/blur';

const BLADES = [0, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12] as const;

/** The optical bench: the aperture, and what it does to lights. */
@Component({
  selector: 'hl-lens-controls',
  imports: [ApertureBench, MatFormField, MatOption, MatSelect, RecipeNumber],
  template: `
    <section class="panel-section" [aria-label]="words.apertureLabel">
      <hl-aperture-bench />
      <div class="blades">
        <span id="blades-label">{{ words.bladesText }}</span>
        <mat-form-field subscriptSizing="dynamic">
          <mat-select
            aria-labelledby="blades-label"
            [value]="lens().blades"
            (selectionChange)="setBlades($event.value)"
          >
            @for (count of blades; track count) {
              <mat-option [value]="count">{{ count === 0 ? 'round' : count }}</mat-option>
            }
          </mat-select>
        </mat-form-field>
      </div>
      @if (lens().blades > 0) {
        <hl-recipe-number [at]="['blur', 'lens', 'roundness']" />
      }
      <hl-recipe-number [at]="['blur', 'lens', 'rotation']" [slider]="false" />
      <hl-recipe-number [at]="['blur', 'lens', 'squeeze']" [slider]="false" />
      <hl-recipe-number [at]="['blur', 'lens', 'rim']" />
      <hl-recipe-number [at]="['blur', 'lens', 'fringe']" />
      <hl-recipe-number [at]="['blur', 'lens', 'cat']" />
    </section>
    <section class="panel-section" [aria-label]="words.highlights">
      <h3>{{ words.highlights }}</h3>
      <hl-recipe-number
        [at]="['blur', 'lens', 'highlights', 'stops']"
        (moved)="viewStore.set({ lightsMoving: $event })"
      />
      @if (lens().highlights.stops > 0) {
        <hl-recipe-number
          [at]="['blur', 'lens', 'highlights', 'threshold']"
          (moved)="viewStore.set({ lightsMoving: $event })"
        />
        <hl-recipe-number
          [at]="['blur', 'lens', 'highlights', 'tint']"
          (moved)="viewStore.set({ lightsMoving: $event })"
        />
      }
      <p class="hint">{{ words.restoresBrightnessToClippedLamps }}</p>
    </section>
  `,
  styles: `
    .blades {
      display: flex;
      align-items: center;
      justify-content: space-between;
    }
    mat-form-field {
      width: 104px;
    }
    h3 {
      font-size: 13px;
      font-weight: 600;
      margin-bottom: 4px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LensControls {
  protected readonly words = blurWords;
  private readonly project = inject(OpenProject);
  protected readonly viewStore = inject(ViewStore);
  protected readonly blades = BLADES;
  protected readonly lens = computed(() => this.project.calmRecipe().blur.lens);

  protected setBlades(count: number): void {
    this.project.edit(blurWords.apertureBlades, ({ blur }) => void (blur.lens.blades = count));
  }
}
