import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { Recipe } from '@hazy-lens/core';
import type { BlurKindEntry } from './kinds';

/** What a kind of blur makes of a point of light, small, with its settings of the moment. */
@Component({
  selector: 'hl-blur-kind-icon',
  template: `
    <svg viewBox="-12 -9 24 18" width="32" height="24" aria-hidden="true">
      @for (mark of marks(); track $index) {
        <path [attr.d]="mark.d" [class.line]="mark.fill === null" [attr.fill-opacity]="mark.fill" />
      }
    </svg>
  `,
  styles: `
    svg {
      display: block;
    }
    path {
      fill: currentColor;
    }
    .line {
      fill: none;
      stroke: currentColor;
      stroke-width: 1.75;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BlurKindIcon {
  readonly kind = input.required<BlurKindEntry>();
  readonly blur = input.required<Recipe['blur']>();
  protected readonly marks = computed(() => this.kind().marks(this.blur()));
}
