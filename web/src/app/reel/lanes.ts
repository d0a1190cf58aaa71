import { Injectable, computed, inject, signal } from '@angular/core';
import { isSameTime } from '@hazy-lens/core';
import { Footage } from '../project/footage';
import { type Lane, Keys } from '../project/keys';
import { InHand } from '../workspace/in-hand';
import { Player } from '../workspace/player';

/** The lanes of the reel, and which of their keys is chosen. */
@Injectable()
export class Lanes {
  private readonly footage = inject(Footage);
  private readonly keys = inject(Keys);
  private readonly inHand = inject(InHand);
  private readonly player = inject(Player);
  private readonly wanted = signal<{ owner: string; at: number } | null>(null);

  /** The band in hand first, then whatever else has keys. */
  readonly all = computed<Lane[]>(() => {
    const band = this.inHand.calmBand();
    const own = band && `focus/bands/${band.id}`;
    return [...this.keys.lanes()].sort((a, b) => Number(b.owner === own) - Number(a.owner === own));
  });

  /** The chosen key while it exists. */
  readonly chosen = computed(() => {
    const wanted = this.wanted();
    const lane = this.all().find(({ owner }) => owner === wanted?.owner);
    const stop = lane?.stops.find(({ at }) => isSameTime(at, wanted!.at));
    return lane && stop ? { lane, stop } : null;
  });

  isChosen({ owner }: Lane, at: number): boolean {
    const wanted = this.wanted();
    return wanted?.owner === owner && isSameTime(wanted.at, at);
  }

  /** Chooses a key, and nothing else: where it was moved, or copied to. */
  mark({ owner }: Lane, at: number): void {
    this.wanted.set({ owner, at });
  }

  /** Chooses a key, takes its band in hand, and puts its moment in view. */
  choose(lane: Lane, at: number): void {
    this.mark(lane, at);
    this.player.pause();
    const id = lane.owner.match(/^focus\/bands\/(.+)$/)?.[1];
    if (id) this.inHand.chooseBand(id);
    void this.footage.seekTime(at);
  }

  /** Goes to the key before or after the playhead, on any lane. */
  step(direction: 1 | -1): void {
    const now = this.footage.at();
    const stops = this.all().flatMap((lane) => lane.stops.map(({ at }) => ({ lane, at })));
    const ahead = stops.filter(({ at }) => (at - now) * direction > 0 && !isSameTime(at, now));
    const next = ahead.sort((a, b) => Math.abs(a.at - now) - Math.abs(b.at - now))[0];
    if (next) this.choose(next.lane, next.at);
  }

  /** Copies the chosen key to the playhead. */
  copyHere(): void {
    const chosen = this.chosen();
    if (!chosen) return;
    this.keys.copy(chosen.lane, chosen.stop.at, this.footage.at());
    this.mark(chosen.lane, this.footage.at());
  }
}
