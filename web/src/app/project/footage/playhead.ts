import { Injectable, signal } from '@angular/core';

/** Which moment of the footage is in view, in seconds of the source's own time. A still has one, and it is 0. */
@Injectable()
export class Playhead {
  /** Of the picture in view. */
  readonly time = signal(0);
  /** Of the picture that was asked for last: it may still be decoded. */
  readonly target = signal(0);
}
