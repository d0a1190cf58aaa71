import { Injectable, inject } from '@angular/core';
import { Footage } from '../project/footage/footage';
import { Trim } from '../project/footage/trim';
import { Player } from './player';

/** What the hands do to footage on the keyboard. */
@Injectable()
export class Transport {
  private readonly footage = inject(Footage);
  private readonly player = inject(Player);
  private readonly trim = inject(Trim);

  readonly isOpen = this.footage.isOpen;

  toggle(): void {
    if (this.isOpen()) this.player.toggle();
  }

  /** Runs forwards (1) or backwards (-1); again for twice as fast. */
  shuttle(way: 1 | -1): void {
    if (this.isOpen()) this.player.shuttle(way);
  }

  stop(): void {
    this.player.pause();
  }

  step(frames: number): void {
    this.goTo(this.footage.frame() + frames);
  }

  toFirst(): void {
    this.goTo(0);
  }

  toLast(): void {
    this.goTo(this.footage.times().starts.length - 1);
  }

  /** Puts a frame in view; the first or the last where there is none of that number. */
  goTo(frame: number): void {
    if (!this.isOpen()) return;
    this.player.pause();
    void this.footage.seek(frame);
  }

  /** Has the kept part begin (0) or end (1) with the frame in view. */
  trimHere(end: 0 | 1): void {
    if (this.isOpen()) this.trim.setHere(end);
  }
}
