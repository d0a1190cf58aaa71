import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { trimOf } from '@hazy-lens/core';
import { Footage } from '../../project/footage/footage';
import { OpenProject } from '../../project/session/open-project';
import { ChartFrame, type ChartPlan } from '../../ui/chart-frame';
import { Drag, type DragStart } from '../../ui/drag';
import { arrowOf, stepMultiplier } from '../../ui/arrow-keys';
import { paceWords } from '../../words/pace';

const MAX_POINTS = 240;
const SLOWEST = 0.05;
const FASTEST = 32;

/** Source time upwards, output time to the right: a straight slope is even speed, steps are holds. Its points are speeds. */
@Component({
  selector: 'hl-pace-chart',
  imports: [ChartFrame, Drag],
  template: `
    <hl-chart-frame [plan]="plan()" [label]="label()" />
    <div class="points">
      @for (point of curve(); track $index) {
        <button
          type="button"
          role="slider"
          [style.left.%]="point.x * 100"
          [style.bottom.%]="point.y * 100"
          [attr.aria-label]="words.speedAtS(point.time.toFixed(2))"
          aria-valuemin="0.05"
          aria-valuemax="32"
          [attr.aria-valuenow]="point.speed"
          [attr.aria-valuetext]="words.times(point.speed.toFixed(2))"
          [hlDrag]="dragOf($index)"
          (keydown)="key($index, $event)"
        >
          <span>{{ point.speed.toFixed(1) }}×</span>
        </button>
      }
    </div>
  `,
  styles: `
    :host {
      display: block;
      position: relative;
      --chart-height: 132px;
    }
    .points {
      position: absolute;
      inset: 4px;
      pointer-events: none;
    }
    button {
      position: absolute;
      width: 9px;
      height: 16px;
      margin: 0 0 -8px -4.5px;
      padding: 0;
      border: 1px solid var(--paper);
      border-radius: 2px;
      background: var(--ink);
      pointer-events: auto;
      cursor: ns-resize;
    }
    span {
      position: absolute;
      left: 12px;
      top: 0;
      font-size: 11px;
      color: var(--ink-2);
      pointer-events: none;
    }
    button:last-of-type span {
      left: auto;
      right: 12px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PaceChart {
  protected readonly words = paceWords;
  private readonly project = inject(OpenProject);
  private readonly footage = inject(Footage);
  private readonly pace = computed(() => this.project.calmRecipe().pace);
  private readonly bounds = computed(() => {
    const { frames, fps } = this.footage.timeline();
    const [from, to] = trimOf(this.pace(), this.footage.times());
    return { length: frames / fps, from, to };
  });

  protected readonly label = computed(() => {
    const { length, from, to } = this.bounds();
    return paceWords.secondsOfTheSource((to - from).toFixed(2), length.toFixed(2));
  });

  protected readonly plan = computed<ChartPlan>(() => {
    const timeline = this.footage.timeline();
    const { length, from, to } = this.bounds();
    const step = Math.max(1, Math.floor(timeline.frames / MAX_POINTS));
    const data: { x: number; y: number }[] = [];
    for (let i = 0; i < timeline.frames; i += step) data.push({ x: i / timeline.fps, y: timeline.timeOf(i) });
    data.push({ x: length, y: data.at(-1)!.y });
    return {
      data: (ink) => ({
        datasets: [
          {
            data,
            stepped: this.pace().hold > 1,
            borderColor: ink('--ink'),
            borderWidth: 1.5,
            pointRadius: 0,
            fill: 'start',
            backgroundColor: ink('--field'),
          },
        ],
      }),
      options: (ink) => ({
        layout: { padding: 4 },
        scales: {
          x: { type: 'linear', min: 0, max: length, display: false },
          y: { type: 'linear', min: from, max: to, display: false, grid: { color: ink('--line') } },
        },
      }),
    };
  });

  /** The points of the curve of speed, where the line passes them; as shares of the chart. */
  protected readonly curve = computed(() => {
    const { curve } = this.pace();
    if (!curve) return [];
    const timeline = this.footage.timeline();
    const { length, from, to } = this.bounds();
    return curve.map(([time, speed]) => ({
      time,
      speed,
      x: Math.min(1, timeline.pictureAt(time) / timeline.fps / Math.max(1e-6, length)),
      y: Math.min(1, Math.max(0, (time - from) / Math.max(1e-6, to - from))),
    }));
  });

  /** A hand that goes up makes it faster there: twice as fast in 40 pixels. */
  protected dragOf(index: number): DragStart {
    return (event) => {
      const gesture = crypto.randomUUID();
      const start = this.pace().curve![index]![1];
      return {
        move: ({ clientY }) => this.set(index, start * 2 ** ((event.clientY - clientY) / 40), gesture),
        cancel: () => this.project.abandon(gesture),
      };
    };
  }

  protected key(index: number, event: KeyboardEvent): void {
    const arrow = arrowOf(event);
    if (!arrow) return;
    event.preventDefault();
    const by = (arrow[0] || -arrow[1]) * stepMultiplier(event) * 0.1;
    this.set(index, this.pace().curve![index]![1] + by, null);
  }

  private set(index: number, speed: number, gesture: string | null): void {
    const held = Math.min(FASTEST, Math.max(SLOWEST, speed));
    this.project.edit(paceWords.speedCurve, ({ pace }) => void (pace.curve![index]![1] = held), gesture);
  }
}
