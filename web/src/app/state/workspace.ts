import { Injectable, computed, effect, inject, signal } from '@angular/core';
import { Document } from './document';

export type StepName = 'source' | 'focus' | 'blur' | 'colour' | 'output';
export type Comparison = 'before' | 'after' | 'wipe';
export type Theme = 'system' | 'day' | 'night';

const THEME_KEY = 'hazy-lens-theme';

/** How the person looks at the work just now: nothing of this is saved with the project. */
@Injectable({ providedIn: 'root' })
export class Workspace {
  private readonly document = inject(Document);
  readonly step = signal<StepName>('focus');
  readonly comparison = signal<Comparison>('after');
  /** Where the wipe divides the picture, as a fraction of the stage's width. */
  readonly wipeAt = signal(0.5);
  readonly hazeMap = signal(false);
  readonly exaggerated = signal(false);
  readonly handlesHidden = signal(false);
  /** True while a slider outside the stage moves: handles fade. */
  readonly sliding = signal(false);
  readonly linkSides = signal(false);
  readonly theme = signal<Theme>((localStorage.getItem(THEME_KEY) as Theme | null) ?? 'system');
  private readonly chosenBand = signal<string | null>(null);

  /** The band in hand: the chosen one while it exists, else the first. */
  readonly band = computed(() => {
    const { bands } = this.document.recipe().focus;
    return bands.find((band) => band.id === this.chosenBand()) ?? bands[0] ?? null;
  });

  constructor() {
    effect(() => {
      const theme = this.theme();
      localStorage.setItem(THEME_KEY, theme);
      globalThis.document.documentElement.dataset['theme'] = theme;
    });
  }

  chooseBand(id: string | null): void {
    this.chosenBand.set(id);
  }
}
