import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { type Recipe, evenBrightness, trimOf } from '@hazy-lens/core';
import { Footage } from '../../project/footage/footage';
import { OpenProject } from '../../project/session/open-project';
import { ChartFrame, type ChartPlan } from '../../ui/chart-frame';
import { RecipeNumber } from '../../ui/recipe-number';
import { PaceChart } from './pace-chart';
import { counted } from '../../model/counted';
import { paceWords } from '../../words/pace';

const NEW_CURVE_POINTS = 3;

/** How fast the footage goes, how it is held and blended, and how its brightness is evened out. */
@Component({
  selector: 'hl-pace-panel',
  imports: [
    ChartFrame,
    MatButton,
    MatCheckbox,
    MatButtonToggle,
    MatButtonToggleGroup,
    PaceChart,
    RecipeNumber,
  ],
  template: `
    <h2 class="panel-title">{{ words.pace }}</h2>
    <section class="panel-section" [aria-label]="words.speed">
      <hl-pace-chart />
      <p class="quiet" role="status">{{ length() }}</p>
      <mat-button-toggle-group
        [aria-label]="words.speed"
        [value]="pace().curve ? 'curve' : 'even'"
        (change)="setCurve($event.value === 'curve')"
      >
        <mat-button-toggle value="even">{{ words.constant }}</mat-button-toggle>
        <mat-button-toggle value="curve">{{ words.curve }}</mat-button-toggle>
      </mat-button-toggle-group>
      @if (pace().curve) {
        <p class="hint">{{ words.dragTheTabsUp }}</p>
      } @else {
        <hl-recipe-number [at]="['pace', 'speed']" />
      }
      @if (footage.facts()?.sound) {
        <mat-checkbox
          [checked]="pace().stretchAudio"
          [disabled]="!canStretch()"
          (change)="setStretch($event.checked)"
          >{{ words.stretchAudio }}</mat-checkbox
        >
        <p class="hint">{{ audio() }}</p>
      }
      <mat-button-toggle-group
        [aria-label]="words.direction"
        [value]="pace().direction"
        (change)="setDirection($event.value)"
      >
        <mat-button-toggle value="forward">{{ words.forward }}</mat-button-toggle>
        <mat-button-toggle value="reverse">{{ words.reverse }}</mat-button-toggle>
        <mat-button-toggle value="bounce">{{ words.backAndForth }}</mat-button-toggle>
      </mat-button-toggle-group>
    </section>
    <section class="panel-section" [aria-label]="words.motion">
      <hl-recipe-number [at]="['pace', 'hold']" />
      <p class="quiet">{{ steps() }}</p>
      <hl-recipe-number [at]="['pace', 'blend']" />
      <div class="row">
        <hl-recipe-number [at]="['pace', 'fps']" [read]="readFps" [slider]="false" />
        @if (pace().fps !== null) {
          <button matButton="outlined" class="push" (click)="sourceRate()">{{ words.originalRate }}</button>
        }
      </div>
    </section>
    <section class="panel-section" [aria-label]="words.deflicker">
      <hl-recipe-number [at]="['pace', 'deflicker', 'amount']" />
      @if (pace().deflicker.amount > 0) {
        <hl-recipe-number [at]="['pace', 'deflicker', 'window']" />
        @if (brightness(); as plan) {
          <hl-chart-frame class="brightness" [plan]="plan" [label]="words.brightnessOfTheFramesBefore" />
          <p class="hint">{{ words.brightnessOverTimeFaintLine }}</p>
        } @else {
          <p class="quiet" role="status">{{ words.measuringTheBrightnessOfAllFrames }}</p>
        }
      }
    </section>
    @if (trimmed(); as cut) {
      <section class="panel-section" [aria-label]="words.trim">
        <div class="row">
          <span class="quiet">{{ cut }}</span>
          <button matButton="outlined" class="push" (click)="untrim()">{{ words.resetTrim }}</button>
        </div>
      </section>
    }
  `,
  styles: `
    .row hl-recipe-number {
      flex: 1;
    }
    .brightness {
      --chart-height: 64px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PacePanel {
  protected readonly words = paceWords;
  private readonly project = inject(OpenProject);
  protected readonly footage = inject(Footage);
  protected readonly pace = computed(() => this.project.calmRecipe().pace);
  /** Without a rate of its own it is the source's. */
  protected readonly readFps = ({ pace }: Recipe): number => pace.fps ?? this.footage.timeline().fps;

  protected readonly length = computed(() => {
    const { frames, fps } = this.footage.timeline();
    return paceWords.sAtFps((frames / fps).toFixed(2), counted(frames, 'frame'), Number(fps.toFixed(2)));
  });
  protected readonly canStretch = computed(() => !this.pace().curve && this.pace().direction === 'forward');
  protected readonly audio = computed(() =>
    this.canStretch() ? paceWords.keepsTheAudioAtAny : paceWords.audioCanBeKept,
  );
  protected readonly steps = computed(() => {
    const { fps } = this.footage.timeline();
    const { hold } = this.pace();
    return hold === 1 ? paceWords.everyFrameIsNew : paceWords.newFramesPerSecond((fps / hold).toFixed(1));
  });
  protected readonly trimmed = computed(() => {
    const pace = this.pace();
    if (!pace.trim) return null;
    const [from, to] = trimOf(pace, this.footage.times());
    return paceWords.fromSToS(from.toFixed(2), to.toFixed(2));
  });

  protected readonly brightness = computed<ChartPlan | null>(() => {
    const stops = this.footage.brightness();
    if (!stops) return null;
    const { amount, window } = this.pace().deflicker;
    const times = this.footage.times();
    const even = evenBrightness(stops, times, window);
    const line = (values: ArrayLike<number>) => Array.from(values, (y, i) => ({ x: times.starts[i]!, y }));
    const after = stops.map((own, i) => own + amount * (even[i]! - own));
    const style = { pointRadius: 0, borderWidth: 1.4 };
    return {
      data: (ink) => ({
        datasets: [
          { data: line(after), borderColor: ink('--ink'), ...style },
          { data: line(stops), borderColor: ink('--line-strong'), ...style },
        ],
      }),
      options: () => ({
        scales: { x: { type: 'linear', display: false, max: times.end }, y: { display: false } },
      }),
    };
  });

  protected setCurve(isCurve: boolean): void {
    const [from, to] = trimOf(this.pace(), this.footage.times());
    const at = (i: number): number => from + ((to - from) * i) / (NEW_CURVE_POINTS - 1);
    this.project.edit(isCurve ? paceWords.speedAsACurve : paceWords.constantSpeed, ({ pace }) => {
      pace.curve = isCurve
        ? Array.from({ length: NEW_CURVE_POINTS }, (_, i): [number, number] => [at(i), pace.speed])
        : null;
    });
  }

  protected setStretch(on: boolean): void {
    this.project.edit(
      paceWords.stretchAudioNamed(on ? 'on' : 'off'),
      ({ pace }) => void (pace.stretchAudio = on),
    );
  }

  protected setDirection(direction: Recipe['pace']['direction']): void {
    this.project.edit('direction', ({ pace }) => void (pace.direction = direction));
  }

  protected sourceRate(): void {
    this.project.edit(paceWords.originalRateName, ({ pace }) => void (pace.fps = null));
  }

  protected untrim(): void {
    this.project.edit(paceWords.resetTrimName, ({ pace }) => void (pace.trim = null));
  }
}
