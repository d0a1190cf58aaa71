import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { type BlurKind, type Recipe, aperturePoints } from '@hazy-lens/core';

const RADIUS = 8;

/** What a kind of blur makes of a point of light, small, with its settings of the moment. */
@Component({
  selector: 'hl-kind-picture',
  template: `
    <svg viewBox="-12 -9 24 18" width="32" height="24" aria-hidden="true">
      @switch (kind()) {
        @case ('gaussian') {
          <circle class="soft outer" r="8" />
          <circle class="soft" r="5.5" />
          <circle class="soft" r="3" />
        }
        @case ('lens') {
          <path [attr.d]="disc()" />
        }
        @case ('motion') {
          <path
            class="streak"
            d="M-9 -4H5M-5 0H9M-9 4H3"
            [attr.transform]="'rotate(' + blur().motion.angle + ')'"
          />
        }
        @case ('spin') {
          <path
            class="streak"
            d="M-8 0A8 8 0 0 1 0 -8M8 0A8 8 0 0 1 0 8M-4 2A4.5 4.5 0 0 1 0 -4.5M4 -2A4.5 4.5 0 0 1 0 4.5"
          />
        }
        @case ('zoom') {
          <path class="streak" d="M0 -4V-8M0 4V8M-4 0H-8M4 0H8M-3 -3L-6 -6M3 -3L6 -6M-3 3L-6 6M3 3L6 6" />
        }
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
    .streak {
      fill: none;
      stroke: currentColor;
      stroke-width: 1.75;
    }
    .soft {
      fill: currentColor;
      opacity: 0.34;
    }
    .outer {
      opacity: 0.18;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BlurKindIcon {
  readonly kind = input.required<BlurKind>();
  readonly blur = input.required<Recipe['blur']>();
  protected readonly disc = computed(() => {
    const { lens } = this.blur();
    const fit = RADIUS / Math.max(1, ...aperturePoints(lens, 48).map(([x, y]) => Math.hypot(x, y)));
    const points = aperturePoints(lens, 96).map(
      ([x, y]) => `${(x * fit).toFixed(2)} ${(y * fit).toFixed(2)}`,
    );
    return `M${points.join('L')}Z`;
  });
}
