import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { OpenProject } from '../../project/session/open-project';
import { SelectionStore } from '../../workspace/selection-store';
import { RecipeNumber } from '../../ui/recipe-number';
import { MatButton } from '@angular/material/button';
import { FollowControls } from '../../ui/follow-controls';
import type { RecipePath } from '@hazy-lens/core';
import { focusOf } from '../../model/elements';
import { addSounding } from '../../model/soundings';
import { focusWords } from '../../words/focus';

/** The soundings: what they are for, and the numbers of the one in hand. */
@Component({
  selector: 'hl-soundings-panel',
  imports: [FollowControls, MatButton, RecipeNumber],
  template: `
    <section class="panel-section" [aria-label]="words.soundings">
      <p class="hint">
        {{ words.clickThePictureToAdd }}
      </p>
      @if (spot(); as one) {
        <div class="row">
          <h3>{{ words.soundingNamed(one.index + 1) }}</h3>
          <button matButton="outlined" class="push" (click)="remove(one.index)">{{ words.delete }}</button>
        </div>
        <hl-recipe-number [at]="one.haze" />
        <div class="row">
          <hl-recipe-number [at]="one.across" [slider]="false" />
          <hl-recipe-number [at]="one.down" [slider]="false" />
        </div>
        <hl-follow-controls [at]="one.place" [label]="words.soundingNamedText(one.index + 1)" />
      }
      <button matButton="outlined" (click)="add()">{{ words.addSounding }}</button>
    </section>
  `,
  styles: `
    .row hl-recipe-number {
      flex: 1;
    }
    button {
      justify-self: start;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SoundingsPanel {
  protected readonly words = focusWords;
  protected readonly project = inject(OpenProject);
  private readonly selection = inject(SelectionStore);
  /** Where the numbers of the sounding in hand stand in the recipe. */
  protected readonly spot = computed(() => {
    const chosen = this.selection.chosen();
    if (chosen.kind !== 'soundings' || chosen.index === null) return null;
    const at: RecipePath = [...this.selection.focusPath(), 'soundings', chosen.index];
    if (!this.selection.calmFocus().soundings[chosen.index]) return null;
    return {
      index: chosen.index,
      place: at,
      haze: [...at, 'haze'],
      across: [...at, 'at', 0],
      down: [...at, 'at', 1],
    };
  });

  protected add(): void {
    const layer = this.selection.layer();
    const index = this.selection.focus().soundings.length;
    this.project.edit(focusWords.newSounding, (draft) =>
      addSounding(focusOf(draft, layer), [0.5, 0.5], this.project.size()),
    );
    this.selection.choose({ kind: 'soundings', index });
  }

  protected remove(index: number): void {
    const layer = this.selection.layer();
    this.project.edit(focusWords.deleteSounding, (draft) => focusOf(draft, layer).soundings.splice(index, 1));
  }
}
