import { Injectable, computed, inject, signal } from '@angular/core';
import type { Mend, Point } from '@hazy-lens/core';
import { OpenProject } from '../project/session/open-project';
import { workspaceWords } from '../words/workspace';

export type MendKind = Mend['kind'];

/** How the hand mends: nothing of this is saved with the project but the mends it makes. */
@Injectable()
export class MendTool {
  private readonly project = inject(OpenProject);
  /** What the hand on the picture does; null where it crops. */
  readonly kind = signal<MendKind | null>(null);
  /** As a fraction of the diagonal. */
  readonly radius = signal(0.012);
  readonly softness = signal(0.3);
  /** Where a copy comes from: a place, until it is painted once; from then on the way there from wherever one paints. */
  readonly source = signal<{ at: Point } | { way: Point } | null>(null);
  /** The mend that is being painted. */
  readonly live = signal<Mend | null>(null);
  /** A mend that a hand moves, where it is just now. */
  readonly moved = signal<Mend | null>(null);
  readonly mends = computed(() => this.project.recipe().tidy.mends);
  readonly radiusPx = computed(() => this.radius() * this.project.diagonal());

  remove({ id, kind }: Mend): void {
    this.project.edit(workspaceWords.delete(kind), ({ tidy }) => {
      tidy.mends = tidy.mends.filter((one) => one.id !== id);
    });
  }
}
