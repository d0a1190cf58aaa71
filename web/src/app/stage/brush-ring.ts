import { ChangeDetectionStrategy, Component, input } from '@angular/core';

/** The brush under the hand as a ring on the stage, with one inside that says how soft it is. */
@Component({
  selector: 'hl-brush-ring',
  template: `
    @if (softness() !== null) {
      <span class="core" [style.inset.%]="softness()! * 50"></span>
    }
  `,
  styles: `
    :host,
    .core {
      position: absolute;
      box-sizing: border-box;
      border: 1px solid #fff;
      border-radius: 50%;
    }
    :host {
      left: 0;
      top: 0;
      box-shadow:
        0 0 0 1px rgb(12 14 20 / 0.6),
        inset 0 0 0 1px rgb(12 14 20 / 0.6);
    }
    :host(.double) {
      border-style: double;
      border-width: 3px;
    }
    .core {
      border-color: rgb(255 255 255 / 0.55);
    }
  `,
  host: {
    '[style.width.px]': '2 * radius()',
    '[style.height.px]': '2 * radius()',
    '[style.transform]': "'translate(' + (at().x - radius()) + 'px, ' + (at().y - radius()) + 'px)'",
  },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BrushRing {
  /** Its middle on the stage. */
  readonly at = input.required<{ x: number; y: number }>();
  /** In pixels of the stage. */
  readonly radius = input.required<number>();
  /** 0..1; null for a brush that has none. */
  readonly softness = input<number | null>(null);
}
