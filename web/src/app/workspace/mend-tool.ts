import { Injectable, computed, inject } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import type { Mend, Point } from '@hazy-lens/core';
import { OpenProject } from '../project/session/open-project';
import { workspaceWords } from '../words/workspace';

export type MendKind = Mend['kind'];

interface MendState {
  /** What the hand on the picture does; null where it crops. */
  kind: MendKind | null;
  /** As a fraction of the diagonal. */
  radius: number;
  softness: number;
  /** Where a copy comes from: a place, until it is painted once; from then on the way there from wherever one paints. */
  source: { at: Point } | { way: Point } | null;
  /** The mend that is being painted. */
  live: Mend | null;
  /** A mend that a hand moves, where it is just now. */
  moved: Mend | null;
}

/** How the hand mends: nothing of this is saved with the project but the mends it makes. */
@Injectable()
export class MendTool {
  private readonly project = inject(OpenProject);
  private readonly state = signalState<MendState>({
    kind: null,
    radius: 0.012,
    softness: 0.3,
    source: null,
    live: null,
    moved: null,
  });
  readonly kind = this.state.kind;
  readonly radius = this.state.radius;
  readonly softness = this.state.softness;
  readonly source = this.state.source;
  readonly live = this.state.live;
  readonly moved = this.state.moved;
  readonly mends = computed(() => this.project.recipe().tidy.mends);
  readonly radiusPx = computed(() => this.radius() * this.project.diagonal());

  set(change: Partial<MendState>): void {
    patchState(this.state, change);
  }

  /** The mend that is being painted goes on to a point. */
  extend(point: Mend['points'][number]): void {
    patchState(this.state, ({ live }) => ({ live: live && { ...live, points: [...live.points, point] } }));
  }

  remove({ id, kind }: Mend): void {
    this.project.edit(workspaceWords.delete(kind), ({ tidy }) => {
      tidy.mends = tidy.mends.filter((one) => one.id !== id);
    });
  }
}
