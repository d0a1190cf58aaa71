import { Injectable } from '@angular/core';

const FRAMES = 24;

/** How long a frame of the display lasts: measured when it starts, and again when the page comes back into sight. */
@Injectable({ providedIn: 'root' })
export class Display {
  /** Milliseconds; a usual display's until it is measured. */
  frameMs = 1000 / 60;

  constructor() {
    this.measure();
    document.addEventListener('visibilitychange', () => {
      if (!document.hidden) this.measure();
    });
  }

  private measure(): void {
    const times: number[] = [];
    const frame = (time: number): void => {
      times.push(time);
      if (times.length <= FRAMES) requestAnimationFrame(frame);
      else {
        const lengths = times.slice(1).map((at, i) => at - times[i]!);
        // Busy frames last longer than the display's own: the lower quarter is not among them.
        this.frameMs = Math.max(4, lengths.sort((a, b) => a - b)[FRAMES >> 2]!);
      }
    };
    requestAnimationFrame(frame);
  }
}
