import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { tracksOf, trackValue } from '@hazy-lens/core';
import { Following } from '../project/subjects/following';
import type { Lane } from '../project/footage/keyframes';
import { OpenProject } from '../project/session/open-project';
import { ReelView } from './reel-view';

const HEIGHT = 20;
const STEP = 4;

/**
 * The lane's own line: the value of its first number as a small curve, and how sure the following was as the thickness of
 * the rail below it, so that a thin place shows where to look.
 */
@Component({
  selector: 'hl-lane-line',
  template: `
    <svg [attr.width]="view.width()" height="20" aria-hidden="true">
      <path class="sure" [attr.d]="sureness()" />
      <path class="value" [attr.d]="curve()" />
    </svg>
  `,
  styles: `
    svg {
      display: block;
    }
    .value {
      fill: none;
      stroke: var(--ink-2);
      stroke-width: 1.2;
    }
    .sure {
      fill: var(--line-strong);
      opacity: 0.55;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LaneLine {
  readonly lane = input.required<Lane>();
  protected readonly view = inject(ReelView);
  private readonly project = inject(OpenProject);
  private readonly following = inject(Following);

  protected readonly curve = computed(() => {
    const { owner } = this.lane();
    const recipe = this.project.keyed();
    const track = tracksOf(recipe.keys).find(({ of }) => of === owner || of.startsWith(`${owner}/`));
    if (!track) return '';
    const points: [number, number][] = [];
    for (let x = 0; x <= this.view.width(); x += STEP) {
      const value = trackValue(recipe, track, this.view.time(x));
      if (value === null) return '';
      points.push([x, [value].flat()[0]!]);
    }
    const values = points.map(([, y]) => y);
    const [least, most] = [Math.min(...values), Math.max(...values)];
    const y = (value: number): number =>
      most > least ? HEIGHT - 4 - ((value - least) / (most - least)) * (HEIGHT - 8) : HEIGHT / 2;
    return points.map(([x, value], i) => `${i ? 'L' : 'M'}${x} ${y(value).toFixed(1)}`).join('');
  });

  protected readonly sureness = computed(() => {
    const sure = this.following.surenessOf(this.lane().owner);
    if (sure.length < 2) return '';
    const half = (confidence: number): number => 0.5 + 4.5 * confidence;
    const at = (time: number): string => this.view.x(time).toFixed(1);
    const above = sure.map(
      ({ time, confidence }, i) => `${i ? 'L' : 'M'}${at(time)} ${HEIGHT / 2 - half(confidence)}`,
    );
    const below = [...sure]
      .reverse()
      .map(({ time, confidence }) => `L${at(time)} ${HEIGHT / 2 + half(confidence)}`);
    return `${above.join('')}${below.join('')}Z`;
  });
}
