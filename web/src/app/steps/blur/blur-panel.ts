import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonToggle } from '@angular/material/button-toggle';
import { Looking } from '../../workspace/looking';
import { RecipeNumber } from '../../ui/recipe-number';

@Component({
  selector: 'hl-blur-panel',
  imports: [RecipeNumber, MatButtonToggle],
  template: `
    <h2 class="panel-title">Blur</h2>
    <section class="panel-section">
      <hl-recipe-number [at]="['blur', 'radius']" />
      <p class="hint">
        Where haze is 100 %, a point spreads over a disc of this radius in the full-size picture. Gaussian, in
        linear light.
      </p>
    </section>
    <section class="panel-section">
      <mat-button-toggle
        [checked]="looking.exaggerated()"
        (change)="looking.exaggerated.set($event.source.checked)"
      >
        Exaggerate
      </mat-button-toggle>
      <p class="hint">
        Shows the blur four times stronger while you place the bands. Changes nothing. Or hold X.
      </p>
    </section>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BlurPanel {
  protected readonly looking = inject(Looking);
}
