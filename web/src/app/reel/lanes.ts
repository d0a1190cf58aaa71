import { Injectable, computed, inject, signal } from '@angular/core';
import { isSameTime } from '@hazy-lens/core';
import { Footage } from '../project/footage/footage';
import { type Lane, type Stop, Keyframes } from '../project/footage/keyframes';
import { SelectionStore } from '../workspace/selection-store';
import { Player } from '../workspace/player';

/** The lanes of the reel, and which of their keys are chosen. */
@Injectable()
export class Lanes {
  private readonly footage = inject(Footage);
  private readonly keyframes = inject(Keyframes);
  private readonly selection = inject(SelectionStore);
  private readonly player = inject(Player);
  private readonly wanted = signal<readonly Stop[]>([]);

  /** The lane that is opened tall, by its owner. */
  private readonly opened = signal<string | null>(null);

  /** The band in hand first, then whatever else has keys. */
  readonly all = computed<Lane[]>(() => {
    const band = this.selection.calmBand();
    const own = band && `focus/bands/${band.id}`;
    return [...this.keyframes.lanes()].sort((a, b) => Number(b.owner === own) - Number(a.owner === own));
  });

  /** The chosen keys, as far as they exist; the one that was chosen last is the last. */
  readonly stops = computed<readonly Stop[]>(() => {
    const lanes = this.all();
    return this.wanted().filter(({ owner, at }) =>
      lanes.some((lane) => lane.owner === owner && lane.keyTimes.some((stop) => isSameTime(stop.at, at))),
    );
  });

  /** The one that was chosen last, while it exists. */
  readonly chosen = computed(() => {
    const wanted = this.stops().at(-1);
    const lane = this.all().find(({ owner }) => owner === wanted?.owner);
    const stop = lane?.keyTimes.find(({ at }) => isSameTime(at, wanted!.at));
    return lane && stop ? { lane, stop } : null;
  });

  /** The lane that is opened tall, while it exists: its numbers are curves. */
  readonly tall = computed(() => this.all().find(({ owner }) => owner === this.opened()) ?? null);

  toggleTall({ owner }: Lane): void {
    this.opened.update((opened) => (opened === owner ? null : owner));
  }

  isChosen({ owner }: Lane, at: number): boolean {
    return this.stops().some((stop) => stop.owner === owner && isSameTime(stop.at, at));
  }

  /** Chooses keys, and nothing else: where they were moved, or copied to. */
  mark(stops: readonly Stop[]): void {
    this.wanted.set(stops);
  }

  /**
   * Chooses a key, takes its band in hand, and puts its moment in view. @param how alone, with those that are chosen (or
   * not any more, where it was), or with all between the last chosen of its lane and itself.
   */
  choose(lane: Lane, at: number, how: 'alone' | 'too' | 'through' = 'alone'): void {
    this.mark(this.withStop(lane, at, how));
    this.player.pause();
    const id = lane.owner.match(/^focus\/bands\/(.+)$/)?.[1];
    if (id) this.selection.chooseBand(id);
    void this.footage.seekTime(at);
  }

  private withStop(lane: Lane, at: number, how: 'alone' | 'too' | 'through'): Stop[] {
    const stop = { owner: lane.owner, at };
    const isIt = (one: Stop): boolean => one.owner === stop.owner && isSameTime(one.at, at);
    const others = this.stops().filter((one) => !isIt(one));
    if (how === 'too') return this.isChosen(lane, at) ? others : [...others, stop];
    const last = others.filter(({ owner }) => owner === lane.owner).at(-1);
    if (how === 'alone' || !last) return [stop];
    const [from, to] = [Math.min(last.at, at), Math.max(last.at, at)];
    const between = lane.keyTimes.filter((one) => one.at > from - 1e-9 && one.at < to + 1e-9);
    const all = between.map((one) => ({ owner: lane.owner, at: one.at }));
    return [
      ...others.filter((one) => !all.some(({ owner, at }) => owner === one.owner && isSameTime(at, one.at))),
      ...all.filter((one) => !isIt(one)),
      stop,
    ];
  }

  /** Goes to the key before or after the playhead, on any lane. */
  step(direction: 1 | -1): void {
    const now = this.footage.at();
    const stops = this.all().flatMap((lane) => lane.keyTimes.map(({ at }) => ({ lane, at })));
    const ahead = stops.filter(({ at }) => (at - now) * direction > 0 && !isSameTime(at, now));
    const next = ahead.sort((a, b) => Math.abs(a.at - now) - Math.abs(b.at - now))[0];
    if (next) this.choose(next.lane, next.at);
  }

  /** Copies the chosen keys to the playhead: the first of them comes there, the others as far from it as they are. */
  copyHere(): void {
    const stops = this.stops();
    if (stops.length === 0) return;
    const by = this.footage.at() - Math.min(...stops.map(({ at }) => at));
    this.keyframes.copy(stops, (at) => at + by);
    this.mark(stops.map(({ owner, at }) => ({ owner, at: at + by })));
  }
}
