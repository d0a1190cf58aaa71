import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { Document } from '../../state/document';
import { type BrushSettings, Workspace } from '../../state/workspace';
import { type NumberChange, NumberField } from '../../ui/number-field';

/** How the brush paints from now on. */
@Component({
  selector: 'hl-brush-panel',
  imports: [NumberField],
  template: `
    <section class="panel-section" aria-label="Brush">
      <div class="choices" role="group" aria-label="What the brush does">
        @for (one of modes; track one.mode) {
          <button
            [attr.aria-pressed]="workspace.brush().mode === one.mode"
            [title]="one.tip"
            (click)="set({ mode: one.mode })"
          >
            {{ one.label }}
          </button>
        }
      </div>
      <hl-number
        label="Radius"
        name="Radius of the brush"
        unit="px"
        [slider]="true"
        [min]="1"
        [max]="px(1)"
        [sliderMax]="px(0.12)"
        [initial]="px(0.03)"
        [value]="px(workspace.brush().radius)"
        (changed)="setRadius($event)"
      />
      <hl-number
        label="Softness"
        unit="%"
        [slider]="true"
        [initial]="60"
        [value]="workspace.brush().softness * 100"
        (changed)="set({ softness: $event.value / 100 })"
      />
      <hl-number
        label="Strength"
        unit="%"
        [slider]="true"
        [initial]="100"
        [value]="workspace.brush().strength * 100"
        (changed)="set({ strength: $event.value / 100 })"
      />
      <div class="row">
        <span class="quiet">Pen pressure</span>
        <div class="choices push" role="group" aria-label="Pen pressure">
          @for (one of pressures; track one.value) {
            <button
              [attr.aria-pressed]="workspace.brush().pressure === one.value"
              (click)="set({ pressure: one.value })"
            >
              {{ one.label }}
            </button>
          }
        </div>
      </div>
      <p class="hint">Shift draws a straight line on from the last stroke. [ and ] change the radius.</p>
    </section>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BrushPanel {
  private readonly document = inject(Document);
  protected readonly workspace = inject(Workspace);
  protected readonly modes: readonly { mode: BrushSettings['mode']; label: string; tip: string }[] = [
    { mode: 'clear', label: 'Clear', tip: 'Paints back to clear' },
    { mode: 'haze', label: 'Haze', tip: 'Paints haze over what stays sharp' },
    { mode: 'erase', label: 'Erase', tip: 'Back to what the bands say' },
  ];
  protected readonly pressures: readonly { value: BrushSettings['pressure']; label: string }[] = [
    { value: 'none', label: 'Off' },
    { value: 'size', label: 'Size' },
    { value: 'strength', label: 'Strength' },
  ];

  protected px(length: number): number {
    return length * this.document.diagonal();
  }

  protected set(change: Partial<BrushSettings>): void {
    this.workspace.brush.update((now) => ({ ...now, ...change }));
  }

  protected setRadius({ value }: NumberChange): void {
    this.set({ radius: value / this.document.diagonal() });
  }
}
