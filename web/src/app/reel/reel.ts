import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  type ElementRef,
  afterNextRender,
  computed,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { MatIconButton } from '@angular/material/button';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import { type Ease, isSameTime, nearestFrame, trimOf } from '@hazy-lens/core';
import { Footage } from '../project/footage';
import { Following } from '../project/following';
import { type Lane, Keys } from '../project/keys';
import { OpenProject } from '../project/open-project';
import { Drag, type Grasp } from '../ui/drag';
import { arrowOf, factor } from '../ui/keys';
import { InHand } from '../workspace/in-hand';
import { Player } from '../workspace/player';
import { FilmStrip } from './film-strip';
import { clock } from './clock';
import { LaneLine } from './lane-line';
import { ReelView } from './reel-view';

/** A key of a lane that is chosen. */
interface ChosenStop {
  owner: string;
  at: number;
}

/** The clip as a track: small pictures, the playhead, in and out as buffers at its ends, a lane for what has keys. */
@Component({
  selector: 'hl-reel',
  imports: [
    Drag,
    FilmStrip,
    LaneLine,
    MatButtonToggle,
    MatButtonToggleGroup,
    MatIcon,
    MatIconButton,
    MatTooltip,
  ],
  templateUrl: './reel.html',
  styleUrl: './reel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Reel {
  protected readonly footage = inject(Footage);
  protected readonly player = inject(Player);
  protected readonly view = inject(ReelView);
  protected readonly keys = inject(Keys);
  protected readonly following = inject(Following);
  private readonly project = inject(OpenProject);
  private readonly inHand = inject(InHand);
  private readonly track = viewChild.required<ElementRef<HTMLElement>>('track');
  private readonly chosen = signal<ChosenStop | null>(null);
  protected readonly clock = clock;
  protected readonly eases: readonly Ease[] = ['smooth', 'linear', 'hold'];

  protected readonly trim = computed(() => trimOf(this.project.keyed().pace, this.footage.times()));
  /** The band in hand first, then whatever else has keys. */
  protected readonly lanes = computed<Lane[]>(() => {
    const band = this.inHand.calmBand();
    const own = band && `focus/bands/${band.id}`;
    return [...this.keys.lanes()].sort((a, b) => Number(b.owner === own) - Number(a.owner === own));
  });
  protected readonly chosenStop = computed(() => {
    const chosen = this.chosen();
    const lane = this.lanes().find(({ owner }) => owner === chosen?.owner);
    const stop = lane?.stops.find(({ at }) => isSameTime(at, chosen!.at));
    return lane && stop ? { lane, stop } : null;
  });
  protected readonly reading = computed(
    () =>
      `${clock(this.footage.at())} · frame ${this.footage.frame() + 1} of ${this.footage.times().starts.length}`,
  );
  protected readonly length = computed(() => {
    const { frames, fps } = this.footage.timeline();
    return `becomes ${clock(frames / fps)}, ${frames} pictures at ${Number(fps.toFixed(2))}`;
  });

  constructor() {
    const destroyed = inject(DestroyRef);
    afterNextRender(() => {
      const observer = new ResizeObserver(([entry]) =>
        this.view.width.set(Math.max(1, entry!.contentRect.width)),
      );
      observer.observe(this.track().nativeElement);
      destroyed.onDestroy(() => observer.disconnect());
    });
  }

  private timeAt({ clientX }: { clientX: number }): number {
    return this.view.time(clientX - this.track().nativeElement.getBoundingClientRect().left);
  }

  /** A hand on the track takes the playhead along. */
  protected readonly scrub: Grasp = (event) => {
    if (event.button !== 0) return null;
    this.player.pause();
    const before = this.footage.at();
    void this.footage.seekTime(this.timeAt(event));
    return {
      move: (now) => void this.footage.seekTime(this.timeAt(now)),
      cancel: () => void this.footage.seekTime(before),
    };
  };

  protected step(frames: number): void {
    this.player.pause();
    void this.footage.seek(this.footage.frame() + frames);
    this.view.reveal(this.footage.at());
  }

  protected trackKey(event: KeyboardEvent): void {
    const arrow = arrowOf(event);
    if (arrow?.[0]) this.step(arrow[0] * Math.max(1, factor(event)));
    else if (event.key === 'Home') this.step(-Infinity);
    else if (event.key === 'End') this.step(this.footage.times().starts.length - 1 - this.footage.frame());
    else if (event.key === '+' || event.key === '=') this.view.zoom(0.7, this.view.x(this.footage.at()));
    else if (event.key === '-') this.view.zoom(1 / 0.7, this.view.x(this.footage.at()));
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  protected wheel(event: WheelEvent): void {
    event.preventDefault();
    const x = event.clientX - this.track().nativeElement.getBoundingClientRect().left;
    if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY))
      this.view.pan(event.deltaX || event.deltaY);
    else this.view.zoom(Math.exp(event.deltaY * 0.0016), x);
  }

  /** The buffers at both ends are pushed to where the footage begins and ends. */
  protected readonly buffers = [
    {
      end: 0,
      name: 'in',
      label: 'In',
      tip: 'Where the footage begins: push it',
      push: () => this.pushing(0),
    },
    {
      end: 1,
      name: 'out',
      label: 'Out',
      tip: 'Where the footage ends: push it',
      push: () => this.pushing(1),
    },
  ] as const;

  private pushing(end: 0 | 1) {
    const gesture = crypto.randomUUID();
    return {
      move: (event: PointerEvent) => this.setTrim(end, this.timeAt(event), gesture),
      cancel: () => this.project.abandon(gesture),
    };
  }

  protected trimKey(end: 0 | 1, event: KeyboardEvent): void {
    const arrow = arrowOf(event);
    if (!arrow?.[0]) return;
    event.preventDefault();
    event.stopPropagation();
    const span = 1 / this.footage.timeline().fps;
    this.setTrim(end, this.trim()[end] + arrow[0] * Math.max(1, factor(event)) * span, `trim ${end}`);
  }

  /** Whole frames are kept. */
  private setTrim(end: 0 | 1, time: number, gesture: string): void {
    const { starts, end: last } = this.footage.times();
    const start = starts[nearestFrame(this.footage.times(), time)]!;
    const nearest = last - time < Math.abs(time - start) ? last : start;
    const [from, to] = this.trim();
    const wanted: [number, number] = end === 0 ? [nearest, to] : [from, nearest];
    if (wanted[1] - wanted[0] < 1e-6) return;
    const isWhole = wanted[0] < 1e-6 && wanted[1] > last - 1e-6;
    this.project.edit(
      end === 0 ? 'in' : 'out',
      ({ pace }) => void (pace.trim = isWhole ? null : wanted),
      gesture,
    );
  }

  protected isChosen(lane: Lane, at: number): boolean {
    const chosen = this.chosen();
    return chosen?.owner === lane.owner && isSameTime(chosen.at, at);
  }

  protected choose(lane: Lane, at: number): void {
    this.chosen.set({ owner: lane.owner, at });
    this.player.pause();
    const id = lane.owner.match(/^focus\/bands\/(.+)$/)?.[1];
    if (id) this.inHand.chooseBand(id);
    void this.footage.seekTime(at);
  }

  /** A hand moves a key along its lane; with Alt it takes a copy. */
  protected dragStop(lane: Lane, at: number): Grasp {
    return (event) => {
      if (event.button !== 0) return null;
      this.choose(lane, at);
      const gesture = crypto.randomUUID();
      let now = at;
      let copies = event.altKey;
      return {
        move: (moved) => {
          const { starts } = this.footage.times();
          const time = this.timeAt(moved);
          const to = starts[nearestFrame(this.footage.times(), time)]!;
          if (isSameTime(now, to)) return;
          if (copies) this.keys.copy(lane, now, to, gesture);
          else this.keys.move(lane, now, to, gesture);
          copies = false;
          this.chosen.set({ owner: lane.owner, at: (now = to) });
        },
        cancel: () => this.project.abandon(gesture),
      };
    };
  }

  protected stopKey(lane: Lane, at: number, event: KeyboardEvent): void {
    const arrow = arrowOf(event);
    if (event.key === 'Delete' || event.key === 'Backspace') this.keys.remove(lane, at);
    else if (event.key === 'Enter' || event.key === ' ') this.choose(lane, at);
    else if (arrow?.[0]) {
      const { starts } = this.footage.times();
      const index = Math.min(
        starts.length - 1,
        Math.max(0, nearestFrame(this.footage.times(), at) + arrow[0] * Math.max(1, factor(event))),
      );
      this.keys.move(lane, at, starts[index]!, 'nudge key');
      this.chosen.set({ owner: lane.owner, at: starts[index]! });
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }

  /** To the key before or after the playhead, on any lane. */
  protected toKey(direction: 1 | -1): void {
    const now = this.footage.at();
    const stops = this.lanes().flatMap((lane) => lane.stops.map(({ at }) => ({ lane, at })));
    const ahead = stops.filter(({ at }) => (at - now) * direction > 0.002);
    const next = ahead.sort((a, b) => Math.abs(a.at - now) - Math.abs(b.at - now))[0];
    if (next) this.choose(next.lane, next.at);
  }

  protected stopLabel(lane: Lane, at: number): string {
    return `Key of ${lane.label} at ${clock(at)}`;
  }

  protected copyHere(): void {
    const chosen = this.chosenStop();
    if (!chosen) return;
    this.keys.copy(chosen.lane, chosen.stop.at, this.footage.at());
    this.chosen.set({ owner: chosen.lane.owner, at: this.footage.at() });
  }
}
