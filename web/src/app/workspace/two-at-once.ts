import { Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import type { Recipe } from '@hazy-lens/core';
import { OpenProject } from '../project/open-project';
import { Looking } from './looking';

export type Half = 'first' | 'second';
type BlurLook = Recipe['blur'];

interface Trial {
  projectId: string | null;
  /** The blur of the half that is not in hand. */
  other: BlurLook;
  inHand: Half;
  /** The first step that the trial made. */
  since: number;
}

/**
 * The stage in two halves, each with a blur of its own, to choose one. The half in hand has the project's blur: panel and
 * stage work on it as ever. Whatever was tried is one step back in the end.
 */
@Injectable({ providedIn: 'root' })
export class TwoAtOnce {
  private readonly project = inject(OpenProject);
  private readonly looking = inject(Looking);
  private readonly trial = signal<Trial | null>(null);
  readonly isOn = computed(() => this.trial() !== null);
  readonly inHand = computed<Half>(() => this.trial()?.inHand ?? 'first');
  /** The halves lie one above the other, where that shows more of the picture; else side by side. */
  readonly isStacked = computed(() => this.project.size().width > this.project.size().height);
  /** The blur of the half that is not in hand; null where the stage is whole. */
  readonly other = computed(() => this.trial()?.other ?? null);

  constructor() {
    effect(() => {
      const trial = this.trial();
      if (!trial) return;
      const { projectId } = this.project.state();
      // Another project, or steps back to before the trial: what was tried is no longer at hand.
      if (projectId !== trial.projectId || this.project.nextStep < trial.since)
        untracked(() => this.trial.set(null));
      else if (this.looking.step() !== 'blur') untracked(() => this.keep(trial.inHand));
    });
  }

  /** Halves the stage: the present blur in the first, in hand; beside it another kind of the same strength. */
  start(): void {
    const { blur } = this.project.recipe();
    const other: BlurLook = { ...blur, on: true, kind: blur.kind === 'lens' ? 'gaussian' : 'lens' };
    const { projectId } = this.project.state();
    this.trial.set({ projectId, other, inHand: 'first', since: this.project.nextStep });
    this.looking.comparison.set('after');
  }

  /** Takes the other half in hand. */
  swap(): void {
    const trial = this.trial();
    if (!trial) return;
    const { blur } = this.project.recipe();
    this.trial.set({ ...trial, other: blur, inHand: trial.inHand === 'first' ? 'second' : 'first' });
    this.project.edit('two at once', (draft) => void (draft.blur = trial.other));
  }

  /** Keeps one half's blur, and makes the stage whole. */
  keep(half: Half): void {
    const trial = this.trial();
    if (!trial) return;
    if (half !== trial.inHand) this.swap();
    this.trial.set(null);
    this.project.melt(trial.since, `${this.project.recipe().blur.kind} blur`);
  }
}
