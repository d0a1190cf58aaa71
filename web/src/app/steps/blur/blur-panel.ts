import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Document } from '../../state/document';
import { Workspace } from '../../state/workspace';
import { type NumberChange, NumberField } from '../../ui/number-field';

@Component({
  selector: 'hl-blur-panel',
  imports: [NumberField],
  template: `
    <h2 class="panel-title">Blur</h2>
    <section class="panel-section">
      <hl-number
        label="Radius"
        name="Blur radius"
        unit="px"
        [slider]="true"
        [decimals]="1"
        [step]="1"
        [value]="radius()"
        [max]="most()"
        [sliderMax]="sliderMost()"
        [initial]="usual()"
        (changed)="setRadius($event)"
        (moving)="workspace.sliding.set($event)"
      />
      <p class="hint">
        Where haze is 100 %, a point spreads over a disc of this radius in the full-size picture. Gaussian, in
        linear light.
      </p>
    </section>
    <section class="panel-section">
      <button
        class="button outlined"
        [attr.aria-pressed]="workspace.exaggerated()"
        (click)="workspace.exaggerated.set(!workspace.exaggerated())"
      >
        {{ workspace.exaggerated() ? 'Stop exaggerating' : 'Exaggerate' }}
      </button>
      <p class="hint">
        Shows the blur four times stronger while you place the bands. Changes nothing. Or hold X.
      </p>
    </section>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BlurPanel {
  private readonly document = inject(Document);
  protected readonly workspace = inject(Workspace);
  protected readonly radius = computed(() => this.document.recipe().blur.radius * this.document.diagonal());
  protected readonly most = computed(() => 0.1 * this.document.diagonal());
  protected readonly sliderMost = computed(() => 0.03 * this.document.diagonal());
  protected readonly usual = computed(() => 0.01 * this.document.diagonal());

  protected setRadius({ value, gesture }: NumberChange): void {
    const radius = Math.min(0.1, value / this.document.diagonal());
    this.document.edit('blur radius', (draft) => (draft.blur.radius = radius), gesture);
  }
}
