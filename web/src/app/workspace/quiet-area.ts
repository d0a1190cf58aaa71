import { Injectable, signal } from '@angular/core';

/** A frame on what is left of the picture, in shares of its width and height. */
export interface QuietFrame {
  x: number;
  y: number;
  width: number;
  height: number;
}

const FIRST: QuietFrame = { x: 0.06, y: 0.06, width: 0.42, height: 0.2 };
const LEAST = 0.03;

/** The frame that is laid on the picture to see how a caption would read there. It is no part of the picture. */
@Injectable()
export class QuietArea {
  /** Null where none is laid. */
  readonly frame = signal<QuietFrame | null>(null);

  toggle(on: boolean): void {
    this.frame.set(on ? FIRST : null);
  }

  /** Moves a frame by shares of the picture; it stays on the picture. */
  move(start: QuietFrame, dx: number, dy: number): void {
    const held = (at: number, side: number): number => Math.min(1 - side, Math.max(0, at));
    this.frame.set({ ...start, x: held(start.x + dx, start.width), y: held(start.y + dy, start.height) });
  }

  /** Moves its lower right corner. */
  size(start: QuietFrame, dx: number, dy: number): void {
    const held = (side: number, from: number): number => Math.min(1 - from, Math.max(LEAST, side));
    this.frame.set({
      ...start,
      width: held(start.width + dx, start.x),
      height: held(start.height + dy, start.y),
    });
  }
}
