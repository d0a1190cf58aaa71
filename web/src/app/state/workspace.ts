import { Injectable, computed, effect, inject, signal } from '@angular/core';
import type { Band, BandKind, Ink, Recipe } from '@hazy-lens/core';
import { Document } from './document';

export type StepName = 'source' | 'focus' | 'blur' | 'colour' | 'output';
export type Comparison = 'before' | 'after' | 'wipe';
export type Theme = 'system' | 'day' | 'night';

/** What of the focus is in hand: its numbers are in the panel, and the hand on the stage works on it. */
export type Chosen =
  | { kind: 'band'; id: string }
  | { kind: 'soundings'; index: number | null }
  | { kind: 'depth' }
  | { kind: 'brush' }
  | { kind: 'matte'; id: string }
  | { kind: 'rest' };

/** How the brush is set; a stroke keeps what it was drawn with. Lengths are fractions of the diagonal. */
export interface BrushSettings {
  mode: 'clear' | 'haze' | 'erase';
  radius: number;
  softness: number;
  strength: number;
  pressure: 'none' | 'size' | 'strength';
}

/** How one scribbles for a matte. */
export interface ScribbleSettings {
  inside: boolean;
  radius: number;
}

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
  /** All eight falloffs of an iris move together. */
  readonly linkFalloffs = signal(true);
  /** Direction of the ray along which the profile of a round band is drawn, in degrees of the screen. */
  readonly rayAngle = signal(90);
  readonly theme = signal<Theme>((localStorage.getItem(THEME_KEY) as Theme | null) ?? 'system');
  readonly brush = signal<BrushSettings>({
    mode: 'clear',
    radius: 0.03,
    softness: 0.6,
    strength: 1,
    pressure: 'none',
  });
  readonly scribble = signal<ScribbleSettings>({ inside: true, radius: 0.004 });
  /** A kind of band that waits to be placed by a drag on the picture. */
  readonly placing = signal<BandKind | null>(null);
  /** The stroke that is being drawn: it joins the recipe when the hand lifts. */
  readonly liveInk = signal<Ink | null>(null);
  private readonly wanted = signal<Chosen | null>(null);

  /** What is in hand: the chosen thing while it exists, else the first band. */
  readonly chosen = computed<Chosen>(
    () => {
      const wanted = this.wanted();
      const { bands, depthMap, mattes } = this.document.recipe().focus;
      const first: Chosen = bands[0] ? { kind: 'band', id: bands[0].id } : { kind: 'rest' };
      switch (wanted?.kind) {
        case 'band':
          return bands.some((band) => band.id === wanted.id) ? wanted : first;
        case 'matte':
          return mattes.some((matte) => matte.id === wanted.id) ? wanted : first;
        case 'depth':
          return depthMap ? wanted : first;
        case undefined:
          return first;
        default:
          return wanted!;
      }
    },
    { equal: (a, b) => JSON.stringify(a) === JSON.stringify(b) },
  );

  /** The band in hand, or null where something else is. */
  readonly band = computed(() => this.bandOf(this.document.recipe()));

  /** The band in hand as the picture on the stage has it. */
  readonly seenBand = computed(() => this.bandOf(this.document.seenRecipe()));

  /** The band in hand as what stands beside the picture shows it. */
  readonly calmBand = computed(() => this.bandOf(this.document.calmRecipe()));

  /** The band whose profile is shown: the one in hand, else the first that is on. */
  readonly profileBand = computed<Band | null>(() => {
    const { bands } = this.document.calmRecipe().focus;
    return this.calmBand() ?? bands.find((band) => band.on) ?? null;
  });

  constructor() {
    effect(() => {
      const theme = this.theme();
      localStorage.setItem(THEME_KEY, theme);
      globalThis.document.documentElement.dataset['theme'] = theme;
    });
  }

  private bandOf(recipe: Recipe): Band | null {
    const chosen = this.chosen();
    if (chosen.kind !== 'band') return null;
    return recipe.focus.bands.find((band) => band.id === chosen.id) ?? null;
  }

  choose(chosen: Chosen): void {
    this.wanted.set(chosen);
    this.placing.set(null);
  }

  chooseBand(id: string): void {
    this.choose({ kind: 'band', id });
  }
}
