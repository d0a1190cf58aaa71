import { DOCUMENT, Injectable, computed, effect, inject, signal } from '@angular/core';

export type Theme = 'system' | 'day' | 'night';

const KEY = 'hazy-lens-theme';

/** Day or night, or as the system has it; kept in this browser. */
@Injectable({ providedIn: 'root' })
export class Themes {
  readonly theme = signal<Theme>((localStorage.getItem(KEY) as Theme | null) ?? 'system');

  private readonly systemIsDark = signal(false);
  /** True where the chrome is dark, whoever says so. */
  readonly isDark = computed(() =>
    this.theme() === 'system' ? this.systemIsDark() : this.theme() === 'night',
  );

  constructor() {
    const page = inject(DOCUMENT);
    const system = page.defaultView!.matchMedia('(prefers-color-scheme: dark)');
    this.systemIsDark.set(system.matches);
    system.addEventListener('change', ({ matches }) => this.systemIsDark.set(matches));
    effect(() => {
      localStorage.setItem(KEY, this.theme());
      page.documentElement.dataset['theme'] = this.theme();
    });
  }
}
