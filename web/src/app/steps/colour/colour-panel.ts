import { ChangeDetectionStrategy, Component, DestroyRef, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatIcon } from '@angular/material/icon';
import { MatExpansionModule } from '@angular/material/expansion';
import { MatSlideToggle } from '@angular/material/slide-toggle';
import { MatTooltip } from '@angular/material/tooltip';
import { MIX_HUES, TONE_BINS, type ToneHistogram } from '@hazy-lens/core';
import { OpenProject } from '../../project/session/open-project';
import { ChartFrame, type ChartPlan } from '../../ui/chart-frame';
import { RecipeNumber } from '../../ui/recipe-number';
import { remember, remembered } from '../../storage/remembered';
import { WhitePicker } from '../../workspace/white-picker';
import { ViewStore } from '../../workspace/view-store';
import { BalancePlate } from './balance-plate';
import { LookStrip } from './look-strip';
import { OwnLooksRow } from './own-looks-row';
import { TonesOfPicture } from './tones';
import { colourWords } from '../../words/colour';

const VIEW_KEY = 'hazy-lens-histogram';
const LABELS = Array.from({ length: TONE_BINS }, (_, i) => i);
/** Bins higher than this share of the highest but one end at the top: one flat sky must not press all else down. */
const HEADROOM = 1.1;

@Component({
  selector: 'hl-colour-panel',
  imports: [
    BalancePlate,
    ChartFrame,
    LookStrip,
    MatButton,
    MatButtonToggle,
    MatButtonToggleGroup,
    MatIcon,
    MatExpansionModule,
    MatSlideToggle,
    MatTooltip,
    OwnLooksRow,
    RecipeNumber,
  ],
  providers: [TonesOfPicture],
  template: `
    <h2 class="panel-title">{{ words.colour }}</h2>
    <section class="panel-section" [aria-label]="words.tones">
      <div class="skyline">
        @if (plan(); as skyline) {
          <hl-chart-frame [plan]="skyline" [label]="says()" />
        }
      </div>
      @if (view() === 'tones') {
        <p class="legend">
          <span class="now">{{ words.now }}</span><span class="came">{{ words.original }}</span>
        </p>
      } @else {
        <p class="legend">
          <span class="red">{{ words.red }}</span><span class="green">{{ words.green }}</span
          ><span class="blue">{{ words.blue }}</span>
        </p>
      }
      <div class="row">
        <mat-button-toggle-group
          [aria-label]="words.histogram"
          [value]="view()"
          (change)="setView($event.value)"
        >
          <mat-button-toggle value="tones">{{ words.tones }}</mat-button-toggle>
          <mat-button-toggle value="rgb">{{ words.rgb }}</mat-button-toggle>
        </mat-button-toggle-group>
        <button
          matButton="outlined"
          class="push"
          [matTooltip]="words.holdCRisingStripesMark"
          [attr.aria-pressed]="viewStore.clipped()"
          (pointerdown)="viewStore.set({ clipped: true })"
          (pointerup)="viewStore.set({ clipped: false })"
          (pointerleave)="viewStore.set({ clipped: false })"
          (keydown.enter)="viewStore.set({ clipped: !viewStore.clipped() })"
        >
          {{ words.showClipping }}
        </button>
      </div>
      <p class="hint">{{ says() }}</p>
    </section>
    <section class="panel-section" [aria-label]="words.looks">
      <hl-look-strip />
      @if (colour().look) {
        <hl-recipe-number [at]="['colour', 'look', 'amount']" />
      }
      <hl-own-looks-row />
    </section>
    <section class="panel-section" [aria-label]="words.lightAndColour">
      <hl-recipe-number [at]="['colour', 'exposure']" />
      <hl-recipe-number [at]="['colour', 'contrast']" />
      <hl-recipe-number [at]="['colour', 'clarity']" />
      <hl-recipe-number [at]="['colour', 'saturation']" />
      <hl-recipe-number [at]="['colour', 'vibrance']" />
      <hl-recipe-number [at]="['colour', 'warmth']" />
      <hl-recipe-number [at]="['colour', 'tint']" />
      <button
        matButton="outlined"
        [matTooltip]="words.setsWarmthAndTintClick"
        [attr.aria-pressed]="picker.isReady()"
        (click)="picker.isReady.set(!picker.isReady())"
      >
        <mat-icon svgIcon="pipette" />{{ picker.isReady() ? words.clickAGreySpot : words.pickWhiteBalance }}
      </button>
      <p class="hint">
        {{ words.modelPaintIsBright20 }}
      </p>
    </section>
    <mat-expansion-panel>
      <mat-expansion-panel-header>
        <mat-panel-title>{{ words.colourBalance }}</mat-panel-title>
      </mat-expansion-panel-header>
      <div class="plates">
        <hl-balance-plate tone="shadows" [label]="words.shadows" />
        <hl-balance-plate tone="middle" [label]="words.midtones" />
        <hl-balance-plate tone="lights" [label]="words.highlights" />
      </div>
      <p class="hint">
        {{ words.tintsShadowsMidtonesAndHighlights }}
      </p>
    </mat-expansion-panel>
    <mat-expansion-panel>
      <mat-expansion-panel-header>
        <mat-panel-title>{{ words.blackAndWhite }}</mat-panel-title>
      </mat-expansion-panel-header>
      <mat-slide-toggle [checked]="colour().mono.on" (change)="setMono($event.checked)">{{
        words.blackAndWhite
      }}</mat-slide-toggle>
      @if (colour().mono.on) {
        <p class="hint">
          {{ words.setsTheBrightnessOfEach }}
        </p>
        @for (hue of hues; track hue) {
          <hl-recipe-number [at]="['colour', 'mono', 'mix', hue]" />
        }
      }
    </mat-expansion-panel>
  `,
  styles: `
    .plates {
      display: grid;
      grid-template-columns: repeat(3, minmax(0, 1fr));
      gap: 8px;
      margin-bottom: 8px;
    }
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
    .row .push {
      flex: 0 1 auto;
    }
    :host {
      --red: light-dark(#a8433f, #e58a83);
      --green: light-dark(#3d7a45, #86c78d);
      --blue: light-dark(#3f62ad, #8eaaf0);
    }
    .red::before {
      border-top: 2px solid var(--red);
    }
    .green::before {
      border-top: 2px solid var(--green);
    }
    .blue::before {
      border-top: 2px solid var(--blue);
    }
    button[aria-pressed='true'] {
      background: var(--field);
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
  protected readonly words = colourWords;
  private readonly tones = inject(TonesOfPicture).tones;
  private readonly project = inject(OpenProject);
  protected readonly viewStore = inject(ViewStore);
  protected readonly hues = MIX_HUES;
  protected readonly colour = computed(() => this.project.calmRecipe().colour);

  protected readonly picker = inject(WhitePicker);
  protected readonly view = signal<'tones' | 'rgb'>(remembered(VIEW_KEY) === 'rgb' ? 'rgb' : 'tones');

  constructor() {
    inject(DestroyRef).onDestroy(() => this.picker.isReady.set(false));
  }

  protected setView(view: 'tones' | 'rgb'): void {
    this.view.set(view);
    remember(VIEW_KEY, view);
  }

  protected readonly plan = computed<ChartPlan | null>(() => {
    const tones = this.tones();
    if (!tones) return null;
    const { before, after } = tones;
    if (this.view() === 'rgb') return channelPlan(after);
    const top = HEADROOM * Math.max(secondHighest(before.shares), secondHighest(after.shares));
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

  protected setMono(on: boolean): void {
    this.project.edit(
      on ? colourWords.blackAndWhiteName : colourWords.blackAndWhiteOff,
      ({ colour }) => void (colour.mono.on = on),
    );
  }

  /** The skyline in words. */
  protected readonly says = computed(() => {
    const tones = this.tones();
    if (!tones) return colourWords.readingTheTones;
    const clipped = ({ black, white }: ToneHistogram): string =>
      colourWords.ofPixelsClipToBlack(percent(black), percent(white));
    return colourWords.blackAtLeftWhiteAtRight(clipped(tones.after));
  });
}

/** Red, green and blue, each as a line. */
function channelPlan({ channels }: ToneHistogram): ChartPlan {
  const top = HEADROOM * Math.max(...channels.map(secondHighest));
  return {
    data: (ink) => ({
      labels: LABELS,
      datasets: ['--red', '--green', '--blue'].map((name, i) => ({
        data: [...channels[i]!],
        borderColor: ink(name),
        borderWidth: 1.25,
        pointRadius: 0,
        fill: false,
      })),
    }),
    options: () => ({
      layout: { padding: 0 },
      scales: { x: { display: false }, y: { display: false, min: 0, max: top } },
    }),
  };
}

function secondHighest(shares: Float32Array): number {
  return [...shares].sort((a, b) => b - a)[1] ?? 1;
}

function percent(share: number): string {
  return `${(share * 100).toFixed(share < 0.1 ? 1 : 0)}%`;
}
