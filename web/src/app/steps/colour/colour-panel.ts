import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Document } from '../../state/document';
import { Workspace } from '../../state/workspace';
import { type NumberChange, NumberField } from '../../ui/number-field';

@Component({
  selector: 'hl-colour-panel',
  imports: [NumberField],
  template: `
    <h2 class="panel-title">Colour</h2>
    <section class="panel-section">
      <hl-number
        label="Saturation"
        unit="%"
        [slider]="true"
        [min]="-100"
        [max]="100"
        [step]="1"
        [value]="saturation()"
        (changed)="setSaturation($event)"
        (moving)="workspace.sliding.set($event)"
      />
      <p class="hint">
        Models are painted in bright colours: 20 to 40 % makes a miniature. Hue and lightness stay as they
        are; −100 % is black and white.
      </p>
    </section>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ColourPanel {
  private readonly document = inject(Document);
  protected readonly workspace = inject(Workspace);
  protected readonly saturation = computed(() => this.document.recipe().colour.saturation * 100);

  protected setSaturation({ value, gesture }: NumberChange): void {
    this.document.edit('saturation', (draft) => (draft.colour.saturation = value / 100), gesture);
  }
}
