import { Injectable, signal } from '@angular/core';

/** Pixels of the display to one of the page, which changes as the window goes from display to display. */
@Injectable({ providedIn: 'root' })
export class PixelRatio {
  private readonly now = signal(window.devicePixelRatio || 1);
  readonly value = this.now.asReadonly();

  constructor() {
    this.watch();
  }

  private watch(): void {
    matchMedia(`(resolution: ${this.now()}dppx)`).addEventListener(
      'change',
      () => {
        this.now.set(window.devicePixelRatio || 1);
        this.watch();
      },
      { once: true },
    );
  }
}
