import { Injectable, signal } from '@angular/core';

/** Which moment of the footage is in view. A still has one, and it is 0. */
@Injectable()
export class Playhead {
  /** Seconds of the source's own time. */
  readonly time = signal(0);
}
