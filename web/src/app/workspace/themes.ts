import { DOCUMENT, Injectable, computed, effect, inject, signal } from '@angular/core';
import { remember, remembered } from '../storage/remembered';

export type Theme = 'system' | 'day' | 'night';

const KEY = 'hazy-lens-theme';
const themeIn = (text: string | null): Theme => (text === 'day' || text === 'night' ? text : 'system');

/** Day or night, or as the system has it; kept in this browser. */
@Injectable({ providedIn: 'root' })
export class Themes {
  readonly theme = signal<Theme>(themeIn(remembered(KEY)));

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
      remember(KEY, this.theme());
      page.documentElement.dataset['theme'] = this.theme();
    });
  }
}
