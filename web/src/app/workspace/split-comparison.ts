import { Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import { type Half, type Trial, turnAt, swapHalves } from '../model/trial';
import { OpenProject } from '../project/session/open-project';
import { ViewStore } from './view-store';
import { workspaceWords } from '../words/workspace';

/**
 * The stage in two halves, each with a blur of its own, to choose one. The half in hand has the project's blur: panel and
 * stage work on it as ever. Which half that is follows from the steps, so that steps back go through it; whatever was
 * tried is one step back in the end.
 */
@Injectable()
export class SplitComparison {
  private readonly project = inject(OpenProject);
  private readonly viewStore = inject(ViewStore);
  private readonly trial = signal<{ projectId: string | null; turns: Trial } | null>(null);
  private readonly turn = computed(() => {
    const trial = this.trial();
    // In another project, or by steps back to before the trial, what was tried is no longer at hand.
    const isHere = trial?.projectId === this.project.state().projectId;
    return trial && isHere ? turnAt(trial.turns, this.project.nextStep) : null;
  });
  readonly isOn = computed(() => this.turn() !== null);
  readonly inHand = computed<Half>(() => this.turn()?.inHand ?? 'first');
  /** The halves lie one above the other, where that shows more of the picture; else side by side. */
  readonly isStacked = computed(() => this.project.sheet().width > this.project.sheet().height);
  /** The blur of the half that is not in hand; null where the stage is whole. */
  readonly other = computed(() => this.turn()?.other ?? null);

  constructor() {
    effect(() => {
      if (this.viewStore.step() !== 'blur' && this.isOn()) untracked(() => this.keep(this.inHand()));
    });
  }

  /** Halves the stage: the present blur in the first, in hand; beside it another kind of the same strength. */
  start(): void {
    const { blur } = this.project.recipe();
    const kind = blur.kind === 'lens' ? 'gaussian' : 'lens';
    const first = {
      from: this.project.nextStep,
      inHand: 'first',
      other: { ...blur, on: true, kind },
    } as const;
    this.trial.set({ projectId: this.project.state().projectId, turns: [first] });
    this.viewStore.set({ comparison: 'after' });
  }

  /** Takes the other half in hand. */
  swap(): void {
    const [trial, turn] = [this.trial(), this.turn()];
    if (!trial || !turn) return;
    const { blur } = this.project.recipe();
    this.project.edit(workspaceWords.compareBlurs, (draft) => void (draft.blur = turn.other));
    this.trial.set({ ...trial, turns: swapHalves(trial.turns, turn, this.project.nextStep, blur) });
  }

  /** Keeps one half's blur, and makes the stage whole. */
  keep(half: Half): void {
    if (half !== this.inHand()) this.swap();
    const trial = this.trial();
    this.trial.set(null);
    if (trial) this.project.melt(trial.turns[0].from, workspaceWords.blur(this.project.recipe().blur.kind));
  }
}
