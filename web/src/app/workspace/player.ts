import { DestroyRef, Injectable, computed, inject, signal } from '@angular/core';
import { Engine } from '../engine/engine';
import { blendedPicture } from '../engine/footage/blended';
import { Footage } from '../project/footage';
import { Looking } from './looking';

/** How often the reading of what is shown is taken. */
const READING_MS = 500;

/** The fastest that a shuttle goes. */
const MOST_SPEED = 8;

/** A place on a loop of so many. */
const wrapped = (index: number, count: number): number => ((index % count) + count) % count;

/** Plays the open footage at its pace, with the look on: what is late is left out, what was made is kept. */
@Injectable()
export class Player {
  private readonly engine = inject(Engine);
  private readonly footage = inject(Footage);
  private readonly looking = inject(Looking);
  /** The round of playing that goes on: one that was stopped must not go on with the next. Null where it stands. */
  private readonly round = signal<object | null>(null);
  readonly isPlaying = computed(() => this.round() !== null);
  /** Pictures that were shown in the last second, or null. */
  readonly shown = signal<number | null>(null);
  /** Times as fast as the pace has it; below 0 it runs backwards. */
  readonly speed = signal(1);
  readonly loops = signal(true);
  readonly playsHalf = signal(false);
  /** What the stage asks the engine for while footage plays. */
  readonly mode = computed(() =>
    this.isPlaying()
      ? { scale: this.playsHalf() ? 0.5 : 1, compares: this.looking.comparison() !== 'after' }
      : null,
  );

  constructor() {
    inject(DestroyRef).onDestroy(() => this.round.set(null));
  }

  toggle(): void {
    if (this.isPlaying()) this.pause();
    else void this.play();
  }

  pause(): void {
    if (!this.isPlaying()) return;
    this.round.set(null);
    this.shown.set(null);
    this.speed.set(1);
    // The picture that stands is a frame of the source again, as fine as the stage is.
    void this.footage.seekTime(this.footage.at());
  }

  /** Plays forwards (1) or backwards (-1); twice as fast each time it is asked for again. */
  shuttle(way: 1 | -1): void {
    const speed = this.speed();
    const isOn = this.isPlaying() && Math.sign(speed) === way;
    this.speed.set(isOn ? Math.max(-MOST_SPEED, Math.min(MOST_SPEED, 2 * speed)) : way);
    void this.play();
  }

  /** Plays until `pause`, or the end where it does not loop. */
  async play(): Promise<void> {
    const material = this.engine.material();
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
    const clock = {
      start: performance.now(),
      first: this.start(),
      timeline: this.footage.timeline(),
      speed: this.speed(),
    };
    let lastIndex = -1;
    let reading = { at: clock.start, count: 0 };
    while (this.round() === round) {
      const timeline = this.footage.timeline();
      const speed = this.speed();
      if (timeline !== clock.timeline || speed !== clock.speed) {
        const first = timeline.pictureAt(this.footage.at());
        Object.assign(clock, { start: performance.now(), first, timeline, speed });
      }
      const rate = timeline.fps * speed;
      const passed = Math.floor(((performance.now() - clock.start) / 1000) * Math.abs(rate));
      const due = clock.first + Math.sign(speed) * passed;
      if ((due >= timeline.frames || due < 0) && !this.loops()) {
        await this.show(round, due < 0 ? 0 : timeline.frames - 1);
        break;
      }
      const index = wrapped(due, timeline.frames);
      const shown = this.show(round, index);
      // The decoder works on the next while this one is rendered.
      const next = timeline.sharesOf(wrapped(index + Math.sign(speed), timeline.frames))[0]!.frame;
      void this.footage
        .material()!
        .frame(next)
        .catch(() => undefined);
      await shown;
      if (index !== lastIndex) reading.count++;
      lastIndex = index;
      const now = performance.now();
      if (now - reading.at > READING_MS) {
        this.shown.set(Math.round((reading.count * 1000) / (now - reading.at)));
        reading = { at: now, count: 0 };
      }
      const wait = clock.start + ((passed + 1) * 1000) / Math.abs(rate) - now;
      if (wait > 0) await new Promise((resolve) => setTimeout(resolve, wait));
    }
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
    const picture = await blendedPicture(frames, shares, this.engine.pool);
    if (this.round() !== round) return;
    // A picture that is held is painted already.
    const isNew = picture !== this.engine.picture();
    const painted = isNew ? this.engine.painted(picture) : null;
    this.footage.put(picture, this.footage.times().starts[timeline.frameOf(index)]!, light);
    await painted;
  }
}
