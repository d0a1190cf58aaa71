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
    <h2 class="panel-title">Pace</h2>
    <section class="panel-section" aria-label="Speed">
      <hl-pace-chart />
      <p class="quiet" role="status">{{ length() }}</p>
      <mat-button-toggle-group
        aria-label="Speed"
        [value]="pace().curve ? 'curve' : 'even'"
        (change)="setCurve($event.value === 'curve')"
      >
        <mat-button-toggle value="even">Constant</mat-button-toggle>
        <mat-button-toggle value="curve">Curve</mat-button-toggle>
      </mat-button-toggle-group>
      @if (pace().curve) {
        <p class="hint">Drag the tabs up to speed up, down to slow down, or use the arrow keys.</p>
      } @else {
        <hl-recipe-number [at]="['pace', 'speed']" />
      }
      @if (footage.facts()?.sound) {
        <mat-checkbox
          [checked]="pace().stretchAudio"
          [disabled]="!canStretch()"
          (change)="setStretch($event.checked)"
          >Stretch audio</mat-checkbox
        >
        <p class="hint">{{ audio() }}</p>
      }
      <mat-button-toggle-group
        aria-label="Direction"
        [value]="pace().direction"
        (change)="setDirection($event.value)"
      >
        <mat-button-toggle value="forward">Forward</mat-button-toggle>
        <mat-button-toggle value="reverse">Reverse</mat-button-toggle>
        <mat-button-toggle value="bounce">Back and forth</mat-button-toggle>
      </mat-button-toggle-group>
    </section>
    <section class="panel-section" aria-label="Motion">
      <hl-recipe-number [at]="['pace', 'hold']" />
      <p class="quiet">{{ steps() }}</p>
      <hl-recipe-number [at]="['pace', 'blend']" />
      <div class="row">
        <hl-recipe-number [at]="['pace', 'fps']" [read]="readFps" [slider]="false" />
        @if (pace().fps !== null) {
          <button matButton="outlined" class="push" (click)="sourceRate()">Original rate</button>
        }
      </div>
    </section>
    <section class="panel-section" aria-label="Deflicker">
      <hl-recipe-number [at]="['pace', 'deflicker', 'amount']" />
      @if (pace().deflicker.amount > 0) {
        <hl-recipe-number [at]="['pace', 'deflicker', 'window']" />
        @if (brightness(); as plan) {
          <hl-chart-frame
            class="brightness"
            [plan]="plan"
            label="Brightness of the frames, before and after"
          />
          <p class="hint">Brightness over time: faint line before, strong line after.</p>
        } @else {
          <p class="quiet" role="status">Measuring the brightness of all frames …</p>
        }
      }
    </section>
    @if (trimmed(); as cut) {
      <section class="panel-section" aria-label="Trim">
        <div class="row">
          <span class="quiet">{{ cut }}</span>
          <button matButton="outlined" class="push" (click)="untrim()">Reset trim</button>
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
  private readonly project = inject(OpenProject);
  protected readonly footage = inject(Footage);
  protected readonly pace = computed(() => this.project.calmRecipe().pace);
  /** Without a rate of its own it is the source's. */
  protected readonly readFps = ({ pace }: Recipe): number => pace.fps ?? this.footage.timeline().fps;

  protected readonly length = computed(() => {
    const { frames, fps } = this.footage.timeline();
    return `${(frames / fps).toFixed(2)} s, ${counted(frames, 'frame')} at ${Number(fps.toFixed(2))} fps`;
  });
  protected readonly canStretch = computed(() => !this.pace().curve && this.pace().direction === 'forward');
  protected readonly audio = computed(() =>
    this.canStretch()
      ? 'Keeps the audio at any speed, at its own pitch. Without it, audio is included at 1× only.'
      : 'Audio can be kept only at a constant speed, forward.',
  );
  protected readonly steps = computed(() => {
    const { fps } = this.footage.timeline();
    const { hold } = this.pace();
    return hold === 1 ? 'Every frame is new.' : `${(fps / hold).toFixed(1)} new frames per second.`;
  });
  protected readonly trimmed = computed(() => {
    const pace = this.pace();
    if (!pace.trim) return null;
    const [from, to] = trimOf(pace, this.footage.times());
    return `From ${from.toFixed(2)} s to ${to.toFixed(2)} s`;
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
    this.project.edit(isCurve ? 'speed as a curve' : 'constant speed', ({ pace }) => {
      pace.curve = isCurve
        ? Array.from({ length: NEW_CURVE_POINTS }, (_, i): [number, number] => [at(i), pace.speed])
        : null;
    });
  }

  protected setStretch(on: boolean): void {
    this.project.edit(`stretch audio ${on ? 'on' : 'off'}`, ({ pace }) => void (pace.stretchAudio = on));
  }

  protected setDirection(direction: Recipe['pace']['direction']): void {
    this.project.edit('direction', ({ pace }) => void (pace.direction = direction));
  }

  protected sourceRate(): void {
    this.project.edit('original rate', ({ pace }) => void (pace.fps = null));
  }

  protected untrim(): void {
    this.project.edit('reset trim', ({ pace }) => void (pace.trim = null));
  }
}
