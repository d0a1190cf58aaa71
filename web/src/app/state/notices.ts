import { Injectable, signal } from '@angular/core';

export interface Notice {
  kind: 'error' | 'info';
  text: string;
  action?: { label: string; run: () => void };
}

/** What a person should know just now: one sentence at a time, until it is put away or no longer true. */
@Injectable({ providedIn: 'root' })
export class Notices {
  readonly current = signal<Notice | null>(null);

  show(notice: Notice): void {
    this.current.set(notice);
  }

  error(text: string): void {
    this.show({ kind: 'error', text });
  }

  dismiss(): void {
    this.current.set(null);
  }
}
