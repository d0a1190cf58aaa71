import { Injectable, signal } from '@angular/core';
import type { LookChoice } from '../model/looks';

/** In the order of the work. */
const STEP_NAMES = ['source', 'tidy', 'focus', 'blur', 'colour', 'finish', 'pace', 'output'] as const;
export type StepName = (typeof STEP_NAMES)[number];
export type Comparison = 'before' | 'after' | 'wipe';

/** How the person looks at the work just now: nothing of this is saved with the project. */
@Injectable({ providedIn: 'root' })
export class ViewStore {
  readonly step = signal<StepName>('focus');
  readonly comparison = signal<Comparison>('after');
  /** Where the wipe divides the picture, as a fraction of the stage's width. */
  readonly wipeAt = signal(0.5);
  readonly hazeMap = signal(false);
  readonly exaggerated = signal(false);
  readonly handlesHidden = signal(false);
  /** Route, rail and panel are put away. */
  readonly pictureAlone = signal(false);
  /** True while a hand that drags moves the picture itself. */
  readonly panning = signal(false);
  /** True while a slider outside the stage moves: handles fade. */
  readonly sliding = signal(false);
  /** True while a number of clipped lights moves: the stage shows which they are. */
  readonly lightsMoving = signal(false);
  /** While held: the stage marks what has a channel at black or at white. */
  readonly clipped = signal(false);
  /** A look that is tried on the stage, and not chosen yet; `choice` is null for none at all. */
  readonly tried = signal<{ choice: LookChoice | null } | null>(null);
  /** Direction of the ray along which the profile of a round band is drawn, in degrees of the screen. */
  readonly rayAngle = signal(90);

  /** Goes on in the route, or back. @param hasPace the step that is for footage alone is among them. */
  goBy(steps: number, hasPace: boolean): void {
    const names = STEP_NAMES.filter((name) => name !== 'pace' || hasPace);
    const at = names.indexOf(this.step()) + steps;
    this.step.set(names[Math.min(names.length - 1, Math.max(0, at))]!);
  }
}
