import { Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import { Footage } from '../project/footage/footage';

/** Which part of the clip the reel shows, and how wide it is on the screen. */
@Injectable()
export class ReelView {
  private readonly footage = inject(Footage);
  /** Width of the track in CSS pixels. */
  readonly width = signal(600);
  private track: HTMLElement | null = null;
  private readonly part = signal<{ from: number; to: number }>({ from: 0, to: 1 });
  readonly shown = this.part.asReadonly();
  private readonly end = computed(() => this.footage.times().end);
  readonly isWhole = computed(() => this.part().to - this.part().from >= this.end() - 1e-6);

  constructor() {
    effect(() => {
      const to = this.end();
      untracked(() => this.part.set({ from: 0, to }));
    });
  }

  /** The element that the clip lies along, until what this gives is called. */
  attach(track: HTMLElement): () => void {
    this.track = track;
    const observer = new ResizeObserver(([entry]) => this.width.set(Math.max(1, entry!.contentRect.width)));
    observer.observe(track);
    return () => observer.disconnect();
  }

  /** Where a hand is along the track, in CSS pixels. */
  xOf({ clientX }: { clientX: number }): number {
    return clientX - (this.track?.getBoundingClientRect().left ?? 0);
  }

  /** The time that a hand points to. */
  timeAt(event: { clientX: number }): number {
    return this.time(this.xOf(event));
  }

  /** Where a time is on the track, in CSS pixels. */
  x(time: number): number {
    const { from, to } = this.part();
    return ((time - from) / (to - from)) * this.width();
  }

  time(x: number): number {
    const { from, to } = this.part();
    return Math.min(this.end(), Math.max(0, from + (x / this.width()) * (to - from)));
  }

  /** Shows more or less time; what is at `x` stays there. */
  zoom(factor: number, x: number): void {
    const { from, to } = this.part();
    const least = Math.min(this.end(), 12 / this.footage.timeline().fps);
    const span = Math.min(this.end(), Math.max(least, (to - from) * factor));
    this.place(this.time(x) - (x / this.width()) * span, span);
  }

  pan(pixels: number): void {
    const { from, to } = this.part();
    this.place(from + (pixels / this.width()) * (to - from), to - from);
  }

  /** Brings a time into sight. */
  reveal(time: number): void {
    const { from, to } = this.part();
    if (time < from || time > to) this.place(time - (to - from) / 2, to - from);
  }

  private place(from: number, span: number): void {
    const start = Math.min(this.end() - span, Math.max(0, from));
    this.part.set({ from: start, to: start + span });
  }
}
