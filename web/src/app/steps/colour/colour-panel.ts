import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { TONE_BINS, type ToneHistogram } from '@hazy-lens/core';
import { ChartFrame, type ChartPlan } from '../../ui/chart-frame';
import { RecipeNumber } from '../../ui/recipe-number';
import { TonesOfPicture } from './tones';

const LABELS = Array.from({ length: TONE_BINS }, (_, i) => i);
/** Bins higher than this share of the highest but one end at the top: one flat sky must not press all else down. */
const HEADROOM = 1.1;

@Component({
  selector: 'hl-colour-panel',
  imports: [ChartFrame, RecipeNumber],
  providers: [TonesOfPicture],
  template: `
    <h2 class="panel-title">Colour</h2>
    <section class="panel-section" aria-label="Tones">
      <div class="skyline">
        @if (plan(); as skyline) {
          <hl-chart-frame [plan]="skyline" [label]="says()" />
        }
      </div>
      <p class="legend"><span class="now">now</span><span class="came">as it came</span></p>
      <p class="hint">{{ says() }}</p>
    </section>
    <section class="panel-section">
      <hl-recipe-number [at]="['colour', 'saturation']" />
      <p class="hint">
        Models are painted in bright colours: 20 to 40 % makes a miniature. Hue and lightness stay as they
        are; −100 % is black and white.
      </p>
    </section>
  `,
  styles: `
    .skyline {
      height: 84px;
      --chart-height: 84px;
    }
    .legend {
      display: flex;
      justify-content: space-between;
      font-size: 11px;
      color: var(--ink-2);
    }
    .legend span::before {
      content: '';
      display: inline-block;
      width: 12px;
      margin-right: 6px;
      vertical-align: middle;
    }
    .now::before {
      height: 8px;
      background: var(--line-strong);
    }
    .came::before {
      border-top: 1px solid var(--ink-2);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ColourPanel {
  private readonly tones = inject(TonesOfPicture).tones;

  protected readonly plan = computed<ChartPlan | null>(() => {
    const tones = this.tones();
    if (!tones) return null;
    const { before, after } = tones;
    const top = HEADROOM * Math.max(secondHighest(before), secondHighest(after));
    return {
      data: (ink) => ({
        labels: LABELS,
        datasets: [
          {
            data: [...before.shares],
            borderColor: ink('--ink-2'),
            borderWidth: 1,
            pointRadius: 0,
            fill: false,
          },
          {
            data: [...after.shares],
            borderWidth: 0,
            backgroundColor: ink('--line-strong'),
            pointRadius: 0,
            fill: 'origin',
          },
        ],
      }),
      options: () => ({
        layout: { padding: 0 },
        scales: { x: { display: false }, y: { display: false, min: 0, max: top } },
      }),
    };
  });

  /** The skyline in words. */
  protected readonly says = computed(() => {
    const tones = this.tones();
    if (!tones) return 'Reading the tones …';
    const clipped = ({ black, white }: ToneHistogram): string =>
      `${percent(black)} of it has a channel at black, ${percent(white)} at white`;
    return `From black on the left to white on the right. Now ${clipped(tones.after)}.`;
  });
}

function secondHighest({ shares }: ToneHistogram): number {
  return [...shares].sort((a, b) => b - a)[1] ?? 1;
}

function percent(share: number): string {
  return `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;
}
