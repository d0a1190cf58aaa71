import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import { isSameTime, nearestFrame } from '@hazy-lens/core';
import { Footage } from '../project/footage/footage';
import { type Lane, type Stop, Keyframes } from '../project/footage/keyframes';
import { OpenProject } from '../project/session/open-project';
import { Drag, type DragStart } from '../ui/drag';
import { arrowOf, stepMultiplier } from '../ui/arrow-keys';
import { formatTimecode } from './timecode';
import { LaneCurve } from './lane-curve';
import { LaneLine } from './lane-line';
import { Lanes } from './lanes';
import { ReelView } from './reel-view';
import { reelWords } from '../words/reel';

/** The keys as stops on the lane of what they change. A stop stays the same element while it goes along its lane. */
@Component({
  selector: 'hl-key-lanes',
  imports: [Drag, LaneCurve, LaneLine, MatIcon, MatTooltip],
  template: `
    @for (lane of lanes.all(); track lane.owner) {
      <div class="entry">
        <button
          class="open"
          [attr.aria-expanded]="lanes.tall() === lane"
          [attr.aria-label]="words.curveOf(lane.label)"
          [matTooltip]="lanes.tall() === lane ? words.hideTheCurve : words.showTheCurve"
          (click)="lanes.toggleTall(lane)"
        >
          <mat-icon svgIcon="chevronDown" />
        </button>
        <div class="lane" role="group" [attr.aria-label]="words.keys(lane.label)">
          <hl-lane-line [lane]="lane" />
          <span class="name">{{ lane.label }}</span>
          @for (stop of lane.keyTimes; track $index) {
            <button
              class="stop"
              [class.chosen]="lanes.isChosen(lane, stop.at)"
              [style.left.px]="view.x(stop.at)"
              [attr.aria-label]="words.keyAt(lane.label, clock(stop.at))"
              [attr.aria-pressed]="lanes.isChosen(lane, stop.at)"
              [tabIndex]="stop === tabStopOf(lane) ? 0 : -1"
              [hlDrag]="graspOf(lane, stop.at)"
              (keydown)="key(lane, stop.at, $event)"
            ></button>
          }
        </div>
        @if (lanes.tall() === lane) {
          <hl-lane-curve [lane]="lane" />
        }
      </div>
    } @empty {
      <p class="hint none">{{ words.noKeysYetAdd }}</p>
    }
  `,
  styleUrl: './key-lanes.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class KeyLanes {
  protected readonly words = reelWords;
  protected readonly lanes = inject(Lanes);
  protected readonly view = inject(ReelView);
  private readonly footage = inject(Footage);
  private readonly keyframes = inject(Keyframes);
  private readonly project = inject(OpenProject);
  protected readonly clock = formatTimecode;

  /** A hand moves the chosen keys along their lanes; with Alt it takes copies. Shift and Ctrl choose more of them. */
  protected graspOf(lane: Lane, at: number): DragStart {
    return (event) => {
      if (event.button !== 0) return null;
      const isGroup = this.lanes.isChosen(lane, at) && this.lanes.stops().length > 1;
      const adds = event.shiftKey ? 'through' : event.ctrlKey || event.metaKey ? 'too' : null;
      if (adds || !isGroup) this.lanes.choose(lane, at, adds ?? 'alone');
      const stops = this.lanes.stops();
      const gesture = crypto.randomUUID();
      const copies = event.altKey;
      let last = at;
      return {
        move: (moved) => {
          const to = this.nearestStart(this.view.timeAt(moved));
          if (isSameTime(last, to)) return;
          last = to;
          const there = this.moveBy(stops, to - at);
          // What lay in the way is there again once the hand has passed it.
          this.project.abandon(gesture);
          if (copies) this.keyframes.copy(stops, there, gesture);
          else this.keyframes.move(stops, there, gesture);
          this.lanes.mark(stops.map((stop) => ({ ...stop, at: there(stop.at) })));
        },
        end: () => {
          if (last === at && isGroup && !adds) this.lanes.choose(lane, at);
        },
        cancel: () => {
          this.project.abandon(gesture);
          this.lanes.mark(stops);
        },
      };
    };
  }

  /** Where keys come to that are moved together: on frames, as far as the first and the last of them can go. */
  private moveBy(stops: readonly Stop[], by: number): (at: number) => number {
    const { starts } = this.footage.times();
    const ats = stops.map(({ at }) => at);
    const least = starts[0]! - Math.min(...ats);
    const most = starts[starts.length - 1]! - Math.max(...ats);
    const way = Math.min(most, Math.max(least, by));
    return (at) => this.nearestStart(at + way);
  }

  private nearestStart(time: number): number {
    return this.footage.times().starts[nearestFrame(this.footage.times(), time)]!;
  }

  /** The one key of a lane that Tab comes to: the chosen one, or the first. */
  protected tabStopOf(lane: Lane): Lane['keyTimes'][number] | undefined {
    return lane.keyTimes.find(({ at }) => this.lanes.isChosen(lane, at)) ?? lane.keyTimes[0];
  }

  protected key(lane: Lane, at: number, event: KeyboardEvent): void {
    const arrow = arrowOf(event);
    const stops = this.lanes.isChosen(lane, at) ? this.lanes.stops() : [{ owner: lane.owner, at }];
    if (event.key === 'Delete' || event.key === 'Backspace') this.keyframes.remove(stops);
    else if (event.key === 'Enter' || event.key === ' ')
      this.lanes.choose(lane, at, event.shiftKey ? 'through' : event.ctrlKey ? 'too' : 'alone');
    else if (arrow?.[0]) {
      const { starts } = this.footage.times();
      const frame = nearestFrame(this.footage.times(), at) + arrow[0] * Math.max(1, stepMultiplier(event));
      const to = starts[Math.min(starts.length - 1, Math.max(0, frame))]!;
      const there = this.moveBy(stops, to - at);
      this.keyframes.move(stops, there);
      this.lanes.mark(stops.map((stop) => ({ ...stop, at: there(stop.at) })));
    } else if (event.key === 'PageUp' || event.key === 'PageDown')
      this.goTo(lane, at, event.key === 'PageUp' ? -1 : 1, event.currentTarget as HTMLElement);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  /** Goes to the key before or after one on its lane, and takes the focus along. */
  private goTo(lane: Lane, at: number, direction: 1 | -1, from: HTMLElement): void {
    const next = lane.keyTimes[lane.keyTimes.findIndex((stop) => isSameTime(stop.at, at)) + direction];
    if (!next) return;
    this.lanes.choose(lane, next.at);
    const beside = direction > 0 ? from.nextElementSibling : from.previousElementSibling;
    (beside as HTMLElement).focus();
  }
}
