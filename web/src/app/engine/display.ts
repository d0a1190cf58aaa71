import { Injectable } from '@angular/core';
import type { Primaries } from '@hazy-lens/core';

const FRAMES = 24;

/** A browser that knows no colour spaces takes all pixels for sRGB. */
function hasWideCanvas(): boolean {
  try {
    return new ImageData(1, 1, { colorSpace: 'display-p3' }).colorSpace === 'display-p3';
  } catch {
    return false;
  }
}

/** What the display has: colours, and how long a frame lasts, measured when it starts and when the page comes back into sight. */
@Injectable({ providedIn: 'root' })
export class Display {
  /** It has more colours than sRGB, and the browser’s canvases do. */
  readonly isWide = matchMedia('(color-gamut: p3)').matches && hasWideCanvas();
  /** Milliseconds; a usual display's until it is measured. */
  frameMs = 1000 / 60;

  /** The primaries that a picture is best shown in. */
  primariesFor({ primaries }: { primaries: Primaries }): Primaries {
    return this.isWide ? primaries : 'srgb';
  }

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
