import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { isSameTime, nearestFrame } from '@hazy-lens/core';
import { Footage } from '../project/footage';
import { type Lane, Keys } from '../project/keys';
import { OpenProject } from '../project/open-project';
import { Drag, type Grasp } from '../ui/drag';
import { arrowOf, factor } from '../ui/keys';
import { clock } from './clock';
import { LaneLine } from './lane-line';
import { Lanes } from './lanes';
import { ReelView } from './reel-view';

/** The keys as stops on the lane of what they change. A stop stays the same element while it goes along its lane. */
@Component({
  selector: 'hl-key-lanes',
  imports: [Drag, LaneLine],
  template: `
    @for (lane of lanes.all(); track lane.owner) {
      <div class="lane" role="group" [attr.aria-label]="'Keys of ' + lane.label">
        <hl-lane-line [lane]="lane" />
        <span class="name">{{ lane.label }}</span>
        @for (stop of lane.stops; track $index) {
          <button
            class="stop"
            [class.chosen]="lanes.isChosen(lane, stop.at)"
            [style.left.px]="view.x(stop.at)"
            [attr.aria-label]="'Key of ' + lane.label + ' at ' + clock(stop.at)"
            [attr.aria-pressed]="lanes.isChosen(lane, stop.at)"
            [tabIndex]="stop === tabStopOf(lane) ? 0 : -1"
            [hlDrag]="graspOf(lane, stop.at)"
            (keydown)="key(lane, stop.at, $event)"
          ></button>
        }
      </div>
    } @empty {
      <p class="hint none">
        Nothing has keys yet. Press the small tab beside a number to give it one here, or let a band follow.
      </p>
    }
  `,
  styleUrl: './key-lanes.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class KeyLanes {
  protected readonly lanes = inject(Lanes);
  protected readonly view = inject(ReelView);
  private readonly footage = inject(Footage);
  private readonly keys = inject(Keys);
  private readonly project = inject(OpenProject);
  protected readonly clock = clock;

  /** A hand moves a key along its lane; with Alt it takes a copy. */
  protected graspOf(lane: Lane, at: number): Grasp {
    return (event) => {
      if (event.button !== 0) return null;
      this.lanes.choose(lane, at);
      const gesture = crypto.randomUUID();
      let now = at;
      let copies = event.altKey;
      return {
        move: (moved) => {
          const to = this.frameStart(nearestFrame(this.footage.times(), this.view.timeAt(moved)));
          if (isSameTime(now, to)) return;
          if (copies) this.keys.copy(lane, now, to, gesture);
          else this.keys.move(lane, now, to, gesture);
          copies = false;
          this.lanes.mark(lane, (now = to));
        },
        cancel: () => this.project.abandon(gesture),
      };
    };
  }

  /** The one key of a lane that Tab comes to: the chosen one, or the first. */
  protected tabStopOf(lane: Lane): Lane['stops'][number] | undefined {
    return lane.stops.find(({ at }) => this.lanes.isChosen(lane, at)) ?? lane.stops[0];
  }

  protected key(lane: Lane, at: number, event: KeyboardEvent): void {
    const arrow = arrowOf(event);
    if (event.key === 'Delete' || event.key === 'Backspace') this.keys.remove(lane, at);
    else if (event.key === 'Enter' || event.key === ' ') this.lanes.choose(lane, at);
    else if (arrow?.[0]) {
      const frame = nearestFrame(this.footage.times(), at) + arrow[0] * Math.max(1, factor(event));
      const to = this.frameStart(frame);
      this.keys.move(lane, at, to);
      this.lanes.mark(lane, to);
    } else if (event.key === 'PageUp' || event.key === 'PageDown')
      this.goTo(lane, at, event.key === 'PageUp' ? -1 : 1, event.currentTarget as HTMLElement);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  /** Goes to the key before or after one on its lane, and takes the focus along. */
  private goTo(lane: Lane, at: number, direction: 1 | -1, from: HTMLElement): void {
    const next = lane.stops[lane.stops.findIndex((stop) => isSameTime(stop.at, at)) + direction];
    if (!next) return;
    this.lanes.choose(lane, next.at);
    const beside = direction > 0 ? from.nextElementSibling : from.previousElementSibling;
    (beside as HTMLElement).focus();
  }

  private frameStart(frame: number): number {
    const { starts } = this.footage.times();
    return starts[Math.min(starts.length - 1, Math.max(0, frame))]!;
  }
}
