import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { blurOf, deviations, noiseSpread, resolveTidiedRecipe } from '@hazy-lens/core';
import { OpenProject } from '../../project/session/open-project';
import { ChartFrame, type ChartPlan } from '../../ui/chart-frame';
import { RecipeNumber } from '../../ui/recipe-number';
import { NoiseOfPicture } from './noise';
import { QuietSection } from './quiet-section';
import { finishWords } from '../../words/finish';

const LEVELS = 255;

@Component({
  selector: 'hl-finish-panel',
  imports: [ChartFrame, MatButton, QuietSection, RecipeNumber],
  providers: [NoiseOfPicture],
  template: `
    <h2 class="panel-title">{{ words.finish }}</h2>
    <hl-quiet-section />
    <section class="panel-section" [aria-label]="words.vignette">
      <h3>{{ words.vignette }}</h3>
      <hl-recipe-number [at]="['finish', 'vignette', 'amount']" />
      @if (hasVignette()) {
        <hl-recipe-number [at]="['finish', 'vignette', 'middle']" />
        <hl-recipe-number [at]="['finish', 'vignette', 'feather']" />
        <hl-recipe-number [at]="['finish', 'vignette', 'roundness']" />
        <p class="hint">
          {{ words.dragTheCentre }}
        </p>
      }
    </section>
    <section class="panel-section" [aria-label]="words.grain">
      <h3>{{ words.grain }}</h3>
      @if (plan(); as curves) {
        <hl-chart-frame class="curves" [plan]="curves" [label]="says()" />
        <p class="legend">
          <span class="came">{{ words.original }}</span><span class="left">{{ words.leftAfterBlur }}</span
          ><span class="now">{{ words.restored }}</span>
        </p>
      }
      <p class="hint">{{ says() }}</p>
      <hl-recipe-number [at]="['finish', 'grain', 'match']" />
      <hl-recipe-number [at]="['finish', 'grain', 'amount']" />
      <hl-recipe-number [at]="['finish', 'grain', 'size']" />
      <hl-recipe-number [at]="['finish', 'grain', 'roughness']" />
      <button matButton="outlined" (click)="another()">{{ words.newGrainPattern }}</button>
      <p class="hint">
        {{ words.blurSmoothsGrainAwaySo }}
      </p>
    </section>
  `,
  styles: `
    h3 {
      font-size: 13px;
      font-weight: 600;
      margin-bottom: 6px;
    }
    .curves {
      display: block;
      --chart-height: 96px;
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
    .left::before {
      border-top: 1px dashed var(--ink-2);
    }
    button {
      margin: 4px 0 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FinishPanel {
  protected readonly words = finishWords;
  private readonly project = inject(OpenProject);
  private readonly noise = inject(NoiseOfPicture).noise;

  protected readonly hasVignette = computed(() => this.project.calmRecipe().finish.vignette.amount !== 0);

  /** The share of the source's noise that is left where haze is 100 %. */
  private readonly left = computed(() => {
    const [recipe, sheet] = [this.project.calmRecipe(), this.project.sheet()];
    const { blur } = resolveTidiedRecipe(recipe, sheet.picture);
    const { area, radius } = blurOf(blur).averagingFootprint(blur, sheet);
    const noise = this.noise();
    const spread = noise ? noiseSpread(noise) : 1;
    const pixels = area === 2 ? Math.PI * radius * radius : 2 * radius;
    return Math.sqrt(spread / Math.max(spread, pixels));
  });

  protected readonly plan = computed<ChartPlan | null>(() => {
    const noise = this.noise();
    if (!noise) return null;
    const left = this.left();
    const { match } = this.project.calmRecipe().finish.grain;
    const line = (share: number): number[] => deviations(noise).map((value) => value * LEVELS * share);
    const top = Math.max(1, ...line(1)) * 1.15;
    return {
      data: (ink) => ({
        labels: noise.bins.map((_, i) => i),
        datasets: [
          { data: line(1), borderColor: ink('--ink-2'), borderWidth: 1, pointRadius: 0, fill: false },
          {
            data: line(left),
            borderColor: ink('--ink-2'),
            borderWidth: 1,
            borderDash: [4, 3],
            pointRadius: 0,
            fill: false,
          },
          {
            data: line(match * Math.sqrt(1 - left * left)),
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

  /** The curves in words. */
  protected readonly says = computed(() => {
    const noise = this.noise();
    if (!noise) return finishWords.measuringTheNoise;
    const levels = deviations(noise);
    const mean = (levels.reduce((a, b) => a + b, 0) / levels.length) * LEVELS;
    return `Noise from black (left) to white (right). The original averages ${mean.toFixed(1)} of 255 levels; ${(this.left() * 100).toFixed(0)}% remains at full haze.`;
  });

  protected another(): void {
    this.project.edit(finishWords.grainPattern, ({ finish }) => {
      finish.grain.seed = crypto.getRandomValues(new Uint32Array(1))[0]! >>> 1;
    });
  }
}
