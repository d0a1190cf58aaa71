import {
  ChangeDetectionStrategy,
  Component,
  type ElementRef,
  effect,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import type { Chart, ChartData, ChartOptions } from 'chart.js';
import { Themes } from '../workspace/themes';

/** A colour of the theme, by the name of its custom property. */
export type ThemeColour = (name: string) => string;

/** What a chart shows: drawn anew when it, or the theme, changes. */
export interface ChartPlan {
  data: (ink: ThemeColour) => ChartData<'line'>;
  options?: (ink: ThemeColour) => ChartOptions<'line'>;
}

/** A chart in the inks of the theme. What it says stands beside it as text too, in `label`. */
@Component({
  selector: 'hl-chart-frame',
  template: `<canvas #canvas role="img" [attr.aria-label]="label()"></canvas>`,
  styles: `
    :host {
      display: block;
      position: relative;
      height: var(--chart-height, 96px);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChartFrame {
  readonly plan = input.required<ChartPlan>();
  readonly label = input.required<string>();
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly themes = inject(Themes);

  constructor() {
    const drawn = signal<Chart<'line'> | null>(null);
    effect((onCleanup) => {
      const canvas = this.canvas().nativeElement;
      const made = import('./line-chart').then(({ lineChart }) => lineChart(canvas));
      void made.then((chart) => drawn.set(chart));
      onCleanup(() => void made.then((chart) => chart.destroy()));
    });
    effect(() => {
      const chart = drawn();
      const isDark = this.themes.isDark();
      const { data, options } = this.plan();
      const style = getComputedStyle(this.canvas().nativeElement);
      const ink: ThemeColour = (name) => resolved(style.getPropertyValue(name), isDark);
      if (!chart) return;
      chart.data = data(ink);
      chart.options = {
        animation: false,
        maintainAspectRatio: false,
        events: [],
        plugins: { legend: { display: false } },
        ...options?.(ink),
      };
      chart.update('none');
    });
  }
}

/** A custom property that is `light-dark(…)` comes as it is written: a canvas wants one of the two. */
function resolved(value: string, isDark: boolean): string {
  const pair = value.match(/^\s*light-dark\(\s*([^,]+),\s*([^)]+)\)/);
  return pair ? pair[isDark ? 2 : 1]!.trim() : value.trim();
}
