import { Injectable, computed, inject, signal } from '@angular/core';
import { type Mend, type Point, diagonal } from '@hazy-lens/core';
import { OpenProject } from '../project/open-project';

export type MendKind = Mend['kind'];

/** How the hand mends: nothing of this is saved with the project but the mends it makes. */
@Injectable({ providedIn: 'root' })
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
  readonly mends = computed(() => this.project.recipe().tidy.mends);
  readonly radiusPx = computed(() => this.radius() * diagonal(this.project.size()));

  /** A mend that begins at a place; null where that only says where to copy from. */
  begin(at: Point): Mend | null {
    const kind = this.kind();
    if (!kind) return null;
    const source = this.source();
    if (kind === 'copy' && !source) {
      this.source.set({ at });
      return null;
    }
    let from: Point = [0, 0];
    if (kind === 'copy' && source) {
      from = 'way' in source ? source.way : [source.at[0] - at[0], source.at[1] - at[1]];
      this.source.set({ way: from });
    }
    const mend: Mend = {
      id: crypto.randomUUID(),
      on: true,
      kind,
      radius: this.radius(),
      softness: this.softness(),
      points: [at],
      from,
    };
    this.live.set(mend);
    return mend;
  }

  extend(at: Point): void {
    this.live.update((mend) => mend && { ...mend, points: [...mend.points, at] });
  }

  /** The mend joins the recipe. */
  end(): void {
    const mend = this.live();
    this.live.set(null);
    if (mend) this.project.edit(mend.kind, ({ tidy }) => void tidy.mends.push(mend));
  }

  cancel(): void {
    this.live.set(null);
  }
}
