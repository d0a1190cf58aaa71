import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { type Key, isSameTime, nearestFrame } from '@hazy-lens/core';
import { Footage } from '../project/footage/footage';
import { type Lane, Keyframes } from '../project/footage/keyframes';
import { OpenProject } from '../project/session/open-project';
import { Drag, type DragStart } from '../ui/drag';
import { arrowOf, stepMultiplier } from '../ui/arrow-keys';
import { formatTimecode } from './timecode';
import { type CurveSpan, type LaneNumber, curveValues, laneNumbers, shownIn, spanOf, withNumber } from './lane-numbers'; // prettier-ignore
import { Lanes } from './lanes';
import { ReelView } from './reel-view';
import { reelWords } from '../words/reel';

const HEIGHT = 84;
const STEP = 3;
/** A hand that goes less far to a side leaves the key at its time. */
const MIN_TIME_PX = 5;

/** A number of a lane over time, as tall as it can be edited: its keys go up and down, and along. */
@Component({
  selector: 'hl-lane-curve',
  imports: [Drag, MatButtonToggle, MatButtonToggleGroup],
  template: `
    @if (numbers().length > 1) {
      <mat-button-toggle-group
        [aria-label]="words.number"
        hideSingleSelectionIndicator
        [value]="index()"
        (change)="index.set($event.value)"
      >
        @for (number of numbers(); track $index) {
          <mat-button-toggle [value]="$index">{{ number.label }}</mat-button-toggle>
        }
      </mat-button-toggle-group>
    }
    @if (number(); as number) {
      <div class="field">
        <span class="end top" aria-hidden="true">{{ shown(span().most) }}</span>
        <span class="end" aria-hidden="true">{{ shown(span().least) }}</span>
        <svg [attr.width]="view.width()" [attr.height]="height" (dblclick)="add($event)">
          <title>{{ words.doubleClickToAddAKey }}</title>
          <path [attr.d]="path()" />
        </svg>
        @for (key of number.track.keys; track $index) {
          <button
            class="knot"
            role="slider"
            [class.chosen]="isChosen(key)"
            [style.left.px]="view.x(key.at)"
            [style.top.px]="y(valueOf(key))"
            [attr.aria-label]="words.at(number.label, clock(key.at))"
            [attr.aria-valuemin]="number.range.min"
            [attr.aria-valuemax]="number.range.max"
            [attr.aria-valuenow]="valueOf(key)"
            [attr.aria-valuetext]="shown(valueOf(key))"
            [tabIndex]="key === tabStop() ? 0 : -1"
            [hlDrag]="graspOf(key)"
            (keydown)="press(key, $event)"
          >
            @if (isChosen(key)) {
              <span class="value" [class.below]="y(valueOf(key)) < labelHeight">{{
                shown(valueOf(key))
              }}</span>
            }
          </button>
        }
      </div>
    }
  `,
  styleUrl: './lane-curve.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LaneCurve {
  protected readonly words = reelWords;
  readonly lane = input.required<Lane>();
  protected readonly view = inject(ReelView);
  private readonly project = inject(OpenProject);
  private readonly footage = inject(Footage);
  private readonly keyframes = inject(Keyframes);
  private readonly lanes = inject(Lanes);
  protected readonly height = HEIGHT;
  protected readonly labelHeight = 22;
  protected readonly clock = formatTimecode;

  protected readonly numbers = computed(() =>
    laneNumbers(this.project.keyed(), this.lane(), this.project.size()),
  );
  /** Which of them is drawn. */
  protected readonly index = signal(0);
  protected readonly number = computed<LaneNumber | null>(
    () => this.numbers()[Math.min(this.index(), this.numbers().length - 1)] ?? null,
  );
  private readonly values = computed(() => {
    const number = this.number();
    const xs = Array.from({ length: Math.ceil(this.view.width() / STEP) + 1 }, (_, i) => i * STEP);
    return number ? curveValues(this.project.keyed(), number, xs.map((x) => this.view.time(x))) : []; // prettier-ignore
  });
  /** While a hand moves a key the curve's height goes on standing for the same. */
  private readonly held = signal<CurveSpan | null>(null);
  protected readonly span = computed(() => {
    const number = this.number()!;
    const all = [...this.values(), ...number.track.keys.map((key) => this.valueOf(key))];
    return this.held() ?? spanOf(all, number);
  });
  protected readonly path = computed(
    () =>
    this.values().map((value, i) => `${i ? 'L' : 'M'}${i * STEP} ${this.y(value).toFixed(1)}`).join(''), // prettier-ignore
  );
  /** The one knot that Tab comes to. */
  protected readonly tabStop = computed(() => {
    const { keys } = this.number()!.track;
    return keys.find((key) => this.isChosen(key)) ?? keys[0];
  });

  protected shown(value: number): string {
    const { decimals, unit } = this.number()!.range;
    return `${(Number(value.toFixed(decimals)) + 0).toFixed(decimals)} ${unit}`.trim();
  }

  /** The number of a key, on the turn that the curve is on there. */
  protected valueOf(key: Key): number {
    const number = this.number()!;
    const value = shownIn(key, number);
    if (!number.isAngle) return value;
    const there = this.values()[Math.round(this.view.x(key.at) / STEP)] ?? value;
    return value - 360 * Math.round((value - there) / 360);
  }

  protected y(value: number): number {
    const { least, most } = this.span();
    return ((most - value) / (most - least)) * HEIGHT;
  }

  protected isChosen({ at }: Key): boolean {
    return this.lanes.isChosen(this.lane(), at);
  }

  protected graspOf(key: Key): DragStart {
    return (event) => {
      if (event.button !== 0) return null;
      const number = this.number()!;
      const gesture = crypto.randomUUID();
      const span = this.span();
      const start = this.valueOf(key);
      this.lanes.choose(this.lane(), key.at);
      this.held.set(span);
      const letGo = (): void => this.held.set(null);
      return {
        move: (now) => {
          const up = ((event.clientY - now.clientY) / HEIGHT) * (span.most - span.least);
          const isAlong = Math.abs(now.clientX - event.clientX) >= MIN_TIME_PX;
          // What lay in the way is there again once the hand has passed it.
          this.project.abandon(gesture);
          this.put(
            number,
            key,
            isAlong ? this.frameAt(now) : key.at,
            start + up * stepMultiplier(now),
            gesture,
          );
        },
        end: letGo,
        cancel: () => {
          letGo();
          this.project.abandon(gesture);
          this.lanes.choose(this.lane(), key.at);
        },
      };
    };
  }

  protected press(key: Key, event: KeyboardEvent): void {
    const number = this.number()!;
    const arrow = arrowOf(event);
    if (event.key === 'Delete' || event.key === 'Backspace')
      this.keyframes.remove([{ owner: number.track.of, at: key.at }]);
    else if (event.key === 'Enter' || event.key === ' ') this.lanes.choose(this.lane(), key.at);
    else if (arrow?.[1]) {
      const by = -arrow[1] * number.range.step * stepMultiplier(event);
      this.put(number, key, key.at, this.valueOf(key) + by, null);
    } else if (arrow?.[0]) {
      const { starts } = this.footage.times();
      const frame =
        nearestFrame(this.footage.times(), key.at) + arrow[0] * Math.max(1, stepMultiplier(event));
      const to = starts[Math.min(starts.length - 1, Math.max(0, frame))]!;
      this.put(number, key, to, this.valueOf(key), null);
    } else if (event.key === 'PageUp' || event.key === 'PageDown') {
      const way = event.key === 'PageUp' ? 'previousElementSibling' : 'nextElementSibling';
      const beside = (event.currentTarget as HTMLElement)[way];
      if (beside?.matches('.knot')) (beside as HTMLElement).focus();
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }

  /** Sets a key where the hand is, on the curve as it runs there. */
  protected add(event: MouseEvent): void {
    const number = this.number()!;
    const at = this.frameAt(event);
    if (number.track.keys.some((key) => isSameTime(key.at, at))) return;
    this.keyframes.add(number.track, at);
    this.lanes.choose(this.lane(), at);
  }

  private put(number: LaneNumber, key: Key, to: number, shown: number, gesture: string | null): void {
    const turned = number.isAngle ? shown - 360 * Math.round(shown / 360) : shown;
    this.keyframes.put(key, to, withNumber(key.value, number, turned), gesture);
    this.lanes.mark([{ owner: this.lane().owner, at: to }]);
    void this.footage.seekTime(to);
  }

  private frameAt(event: MouseEvent): number {
    const times = this.footage.times();
    return times.starts[nearestFrame(times, this.view.timeAt(event))]!;
  }
}
