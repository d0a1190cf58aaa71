import type { Carry } from '../recipe/carry-schema';
import { type ClipTimes, frameAt } from './clip-times';
import { recipeAt } from '../recipe/keys';
import type { Recipe } from '../recipe/schema';
import type { Mend } from '../recipe/tidy-schema';
import { mendsIn } from '../tidy/mend/index';
import type { MendPatch } from '../tidy/mend/on-footage';

/** A patch, and where it was carried to. */
export interface PlacedPatch {
  patch: MendPatch;
  carry: Carry;
}

/**
 * Makes the patch of a mend on a frame, on which others lie already; null where it lies outside. `key` is the same for
 * the same that lie there.
 */
export type PatchMaker = (
  home: number,
  mend: Mend,
  before: readonly PlacedPatch[],
  key: string,
) => Promise<MendPatch | null>;

/** What the mends of a recipe lay on each frame of footage. Each is made once, on the frame that it was painted on. */
export class FootageMends {
  private readonly made = new Map<string, Promise<MendPatch | null>>();

  constructor(
    private readonly recipe: Recipe,
    private readonly times: ClipTimes,
    private readonly make: PatchMaker,
  ) {}

  /** In the order in which they are laid. */
  on(index: number): Promise<PlacedPatch[]> {
    return this.laid(index, Infinity);
  }

  private async laid(index: number, until: number): Promise<PlacedPatch[]> {
    const laid: PlacedPatch[] = [];
    const all = mendsIn(recipeAt(this.recipe, this.times.starts[index]!));
    for (const [i, mend] of all.slice(0, until).entries()) {
      const patch = await this.patchOf(mend, i);
      if (patch) laid.push({ patch, carry: mend.carry });
    }
    return laid;
  }

  private patchOf(mend: Mend, i: number): Promise<MendPatch | null> {
    let patch = this.made.get(mend.id);
    if (!patch) {
      patch = this.patch(mend, i);
      this.made.set(mend.id, patch);
      patch.catch(() => this.made.delete(mend.id));
    }
    return patch;
  }

  /** A mend is made on its own frame, with those on it that come before. */
  private async patch(mend: Mend, i: number): Promise<MendPatch | null> {
    const home = frameAt(this.times, mend.at ?? 0);
    const before = await this.laid(home, i);
    const others = mendsIn(this.recipe).slice(0, i);
    return this.make(home, mend, before, JSON.stringify([others, before.map(({ carry }) => carry)]));
  }
}
