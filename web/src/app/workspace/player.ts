import { DestroyRef, Injectable, computed, inject, signal } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import type { Timeline } from '@hazy-lens/core';
import { StageRenderLoop } from '../engine/stage-render-loop';
import { blendedPicture } from '../engine/footage/blended';
import { BufferPool } from '../engine/buffer-pool';
import { type Loan, readAhead } from '../engine/media-source';
import { Footage } from '../project/footage/footage';
import { ClipSound } from './clip-sound';
import { ViewStore } from './view-store';

/** How often the reading of what is shown is taken. */
const READING_MS = 500;

/** The fastest that a shuttle goes. */
const MAX_SPEED = 8;

/** A place on a loop of so many. */
const wrapped = (index: number, count: number): number => ((index % count) + count) % count;

/** What playing keeps to from a picture on. */
interface Clock {
  first: number;
  timeline: Timeline;
  speed: number;
  /** Seconds since then; null once the sound that is kept to has stopped. */
  seconds: () => number | null;
}

interface PlayerState {
  /** Pictures that were shown in the last second, or null. */
  shown: number | null;
  /** Times as fast as the pace has it; below 0 it runs backwards. */
  speed: number;
  loops: boolean;
  playsHalf: boolean;
}

/**
 * Plays the open footage at its pace, with the look on, and in step with its sound: what is late is left out, what was made
 * is kept.
 */
@Injectable()
export class Player {
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly footage = inject(Footage);
  private readonly viewStore = inject(ViewStore);
  private readonly sound = inject(ClipSound);
  private readonly free = new BufferPool();
  /** What was shown last by the round that goes on. */
  private inView: Loan | null = null;
  /** The round of playing that goes on: one that was stopped must not go on with the next. Null where it stands. */
  private readonly round = signal<object | null>(null);
  readonly isPlaying = computed(() => this.round() !== null);
  private readonly state = signalState<PlayerState>({
    shown: null,
    speed: 1,
    loops: true,
    playsHalf: false,
  });
  readonly shown = this.state.shown;
  readonly speed = this.state.speed;
  readonly loops = this.state.loops;
  readonly playsHalf = this.state.playsHalf;
  /** What the stage asks the engine for while footage plays. */
  readonly mode = computed(() =>
    this.isPlaying()
      ? { scale: this.playsHalf() ? 0.5 : 1, compares: this.viewStore.comparison() !== 'after' }
      : null,
  );

  constructor() {
    inject(DestroyRef).onDestroy(() => this.round.set(null));
  }

  set(change: Partial<Pick<PlayerState, 'loops' | 'playsHalf'>>): void {
    patchState(this.state, change);
  }

  toggle(): void {
    if (this.isPlaying()) this.pause();
    else void this.play();
  }

  pause(): void {
    if (!this.isPlaying()) return;
    this.round.set(null);
    this.sound.stop();
    // The stage may still draw it: its memory is left to the browser.
    this.inView = null;
    patchState(this.state, { shown: null, speed: 1 });
    // The picture that stands is a frame of the source again, as fine as the stage is.
    void this.footage.seekTime(this.footage.at());
  }

  /** Plays forwards (1) or backwards (-1); twice as fast each time it is asked for again. */
  shuttle(way: 1 | -1): void {
    const speed = this.speed();
    const isOn = this.isPlaying() && Math.sign(speed) === way;
    patchState(this.state, {
      speed: isOn ? Math.max(-MAX_SPEED, Math.min(MAX_SPEED, 2 * speed)) : way,
    });
    void this.play();
  }

  /** Plays until `pause`, or the end where it does not loop. */
  async play(): Promise<void> {
    const material = this.renderLoop.material();
    if (this.isPlaying() || !material?.footage) return;
    const round = {};
    this.round.set(round);
    try {
      await this.run(round);
    } catch (error) {
      // A clip that was closed is played no longer; what else went wrong the stage tells when it seeks.
      if ((error as Error).name !== 'AbortError') throw error;
    } finally {
      if (this.round() === round) this.pause();
    }
  }

  private async run(round: object): Promise<void> {
    let clock = await this.clockFrom(this.start());
    let lastIndex = -1;
    let reading = { at: performance.now(), count: 0 };
    while (this.round() === round) {
      const timeline = this.footage.timeline();
      let seconds = clock.seconds();
      if (seconds === null || timeline !== clock.timeline || this.speed() !== clock.speed) {
        clock = await this.clockFrom(timeline.pictureAt(this.footage.at()));
        seconds = 0;
        lastIndex = -1;
      }
      const { first, speed } = clock;
      const rate = timeline.fps * Math.abs(speed);
      const passed = Math.floor(Math.max(0, seconds) * rate);
      const due = first + Math.sign(speed) * passed;
      const isOver = due >= timeline.frames || due < 0;
      if (isOver && !this.loops()) {
        await this.show(round, due < 0 ? 0 : timeline.frames - 1);
        break;
      }
      const index = wrapped(due, timeline.frames);
      // From the start again the sound begins anew.
      if (isOver) clock = await this.clockFrom(index);
      // A clock of sound may not have got on as far as the page's.
      if (index !== lastIndex) {
        const shown = this.show(round, index);
        // The decoder works on the next while this one is rendered; no farther, for going back takes it long.
        const next = timeline.sharesOf(wrapped(index + Math.sign(speed), timeline.frames))[0]!.frame;
        void readAhead(this.footage.material()!, next);
        await shown;
        reading.count++;
        lastIndex = index;
      }
      const now = performance.now();
      if (now - reading.at > READING_MS) {
        patchState(this.state, { shown: Math.round((reading.count * 1000) / (now - reading.at)) });
        reading = { at: now, count: 0 };
      }
      const inClock = Math.sign(speed) * (index - clock.first);
      const wait = (inClock + 1) / rate - (clock.seconds() ?? Infinity);
      if (wait > 0) await new Promise((resolve) => setTimeout(resolve, Math.ceil(wait * 1000)));
    }
  }

  /** A clock that begins now, at a picture: that of the sound where that is heard, else the page's. */
  private async clockFrom(first: number): Promise<Clock> {
    const timeline = this.footage.timeline();
    const speed = this.speed();
    this.sound.stop();
    const heard = speed === 1 ? await this.sound.start(timeline.timeOf(first)) : null;
    const start = performance.now();
    return { first, timeline, speed, seconds: heard ?? (() => (performance.now() - start) / 1000) };
  }

  /** The picture to begin with: where the playhead is, or from the start when it is at the end. */
  private start(): number {
    const timeline = this.footage.timeline();
    const index = timeline.pictureAt(this.footage.at());
    const isAtEnd = this.speed() > 0 && timeline.frames - 1 - index < 1;
    const isInside = this.footage.at() >= timeline.from && this.footage.at() <= timeline.to;
    return isInside && !isAtEnd ? index : 0;
  }

  private async show(round: object, index: number): Promise<void> {
    const timeline = this.footage.timeline();
    const frames = this.footage.material()!;
    const { shares, light } = this.footage.lit(timeline.sharesOf(index));
    const loan = await blendedPicture(frames, shares, this.renderLoop.pool, this.free);
    const { picture } = loan;
    if (this.round() !== round) return loan.giveBack();
    const averaged = shares.length > 1 ? { light, shares } : null;
    // A picture that is held is painted already.
    const isNew = picture !== this.renderLoop.picture();
    const painted = isNew ? this.renderLoop.painted(picture) : null;
    this.footage.put(picture, this.footage.times().starts[timeline.frameOf(index)]!, averaged);
    await painted;
    if (this.round() !== round) return;
    this.inView?.giveBack();
    this.inView = loan;
  }
}
