import { DOCUMENT, Injectable, effect, inject, signal } from '@angular/core';

export type Theme = 'system' | 'day' | 'night';

const KEY = 'hazy-lens-theme';

/** Day or night, or as the system has it; kept in this browser. */
@Injectable({ providedIn: 'root' })
export class Themes {
  readonly theme = signal<Theme>((localStorage.getItem(KEY) as Theme | null) ?? 'system');

  constructor() {
    const page = inject(DOCUMENT);
    effect(() => {
      localStorage.setItem(KEY, this.theme());
      page.documentElement.dataset['theme'] = this.theme();
    });
  }
}
