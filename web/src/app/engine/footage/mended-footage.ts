import { type ClipTimes, FootageMends, type MendPatch, type Recipe, mendsIn } from '@hazy-lens/core';
import { type Loan, type MediaSource, onLoan } from '../media-source';
import type { Picture } from '../picture';
import { Recent } from '../recent';
import type { FrameMender } from './frame-mender';

/** Frames that stay mended: those around the playhead. */
const KEPT = 12;
let count = 0;

/**
 * Footage with the mends of a recipe on every frame; the footage itself where it has none. @param times of its frames.
 * @param isForFile a patch that is given up on the stage is made again.
 */
export function mendedFootage(
  material: MediaSource,
  recipe: Recipe,
  times: ClipTimes,
  mends: FrameMender,
  isForFile = false,
): MediaSource {
  return mendsIn(recipe).length > 0 ? new MendedFootage(material, recipe, times, mends, isForFile) : material;
}

class MendedFootage implements MediaSource {
  readonly width: number;
  readonly height: number;
  readonly frames: number;
  readonly footage: MediaSource['footage'];
  readonly keeps: number;
  readonly unread: MediaSource['unread'];
  private readonly id = `mended-${++count}`;
  private readonly laid: FootageMends;
  private readonly kept = new Recent<number, Picture>({ most: KEPT });

  constructor(
    private readonly material: MediaSource,
    recipe: Recipe,
    times: ClipTimes,
    private readonly mends: FrameMender,
    isForFile: boolean,
  ) {
    this.laid = new FootageMends(recipe, times, (home, mend, before, key) => {
      const patch = (): Promise<MendPatch | null> => mends.patch(material, home, mend, key, before);
      if (!isForFile) return patch();
      return patch().catch((error: Error) => {
        if (error.name !== 'AbortError') throw error;
        return patch();
      });
    });
    const { width, height, frames, footage, keeps, unread } = material;
    [this.width, this.height, this.frames] = [width, height, frames];
    [this.footage, this.keeps, this.unread] = [footage, keeps, unread];
  }

  frame(index: number): Promise<Picture> {
    return this.kept.get(index, () => this.mended(index));
  }

  async borrow(index: number): Promise<Loan> {
    return onLoan(await this.frame(index));
  }

  /** What mends leave of transparent places is not known. */
  async parts(): Promise<null> {
    return null;
  }

  private async mended(index: number): Promise<Picture> {
    const laid = await this.laid.on(index);
    if (laid.length === 0) return this.material.frame(index);
    const { picture, giveBack } = await this.material.borrow(index);
    return this.mends.lay(picture, laid, this.id).finally(giveBack);
  }

  hold(): () => void {
    return this.material.hold();
  }
}
