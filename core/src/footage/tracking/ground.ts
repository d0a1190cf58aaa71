import { IDENTITY, type Similarity, compose, invert } from '../../geometry/similarity';
import { type Box, corners } from './corners';
import type { Point } from './fit-similarity';
import { type Patch, findPatch, patchAt } from './patches';
import type { Pyramid } from './pyramid';
import { robustMotion } from './homography';

const MAX_PATCHES = 40;
const MIN_PATCHES = 8;
const MIN_AGREEING = 6;
const MIN_LIKENESS = 0.7;
/** Frames that patches serve at least. */
const MIN_AGE = 8;
/** How far around the subject is looked, as a share of its size. */
const AROUND = 1;
/** So far from the subject a patch does not see it. */
const CLEAR_PX = 10;
const LEVELS = 3;

/** The ground around a subject: how it moves tells the subject from it where both lie within one outline. */
export class Ground {
  private patches: Patch[];
  private toKey: Similarity = IDENTITY;
  private toNow: Similarity = IDENTITY;
  private last: Similarity = IDENTITY;
  /** Frames for which its patches have served. */
  private age = 0;
  isKnown: boolean;

  constructor(first: Pyramid, box: Box, isSubject: (x: number, y: number) => boolean) {
    const [w, h] = [box.right - box.left, box.bottom - box.top];
    const wide = {
      left: box.left - AROUND * w,
      right: box.right + AROUND * w,
      top: box.top - AROUND * h,
      bottom: box.bottom + AROUND * h,
    };
    this.patches = patchesOf(first, wide, isSubject);
    this.isKnown = this.patches.length >= MIN_PATCHES;
  }

  /** From the first frame to the newest. */
  get motion(): Similarity {
    return compose(this.toNow, this.toKey);
  }

  /** Looks at the next frame; the ground is no longer known where it cannot be found. @param isSubject as far as is known. */
  next(pyramid: Pyramid, isSubject: (x: number, y: number) => boolean): void {
    if (!this.isKnown) return;
    const [from, to]: [Point[], Point[]] = [[], []];
    const guess = compose(compose(this.toNow, invert(this.last)), this.toNow);
    for (const patch of this.patches) {
      const found = findPatch(patch, pyramid, guess, LEVELS);
      if (!found || found.likeness < MIN_LIKENESS) continue;
      from.push(patch.at);
      to.push(found.at);
    }
    const { width, height } = pyramid[0]!;
    const robust = robustMotion(from, to, [width / 2, height / 2]);
    const agreeing = robust?.agreeing.filter(Boolean).length ?? 0;
    this.isKnown = robust !== null && agreeing >= MIN_AGREEING;
    if (!robust || !this.isKnown) return;
    this.last = this.toNow;
    this.toNow = robust.fit;
    // Much of it has left the frame: the rest of the frame goes on.
    this.age++;
    if (agreeing < this.patches.length / 2 && this.age >= MIN_AGE) this.renew(pyramid, isSubject);
  }

  private renew(pyramid: Pyramid, isSubject: (x: number, y: number) => boolean): void {
    const { width, height } = pyramid[0]!;
    const fresh = patchesOf(pyramid, { left: 0, top: 0, right: width, bottom: height }, isSubject);
    if (fresh.length < MIN_PATCHES) return;
    this.toKey = this.motion;
    this.last = compose(this.last, invert(this.toNow));
    this.toNow = IDENTITY;
    this.patches = fresh;
    this.age = 0;
  }

  /** The ground's motion from a frame that has such a one from the first on; null where it is not known. */
  from(toKey: Similarity): Similarity | null {
    return this.isKnown ? compose(this.motion, invert(toKey)) : null;
  }
}

function patchesOf(pyramid: Pyramid, box: Box, isSubject: (x: number, y: number) => boolean): Patch[] {
  const steps = [-CLEAR_PX, 0, CLEAR_PX];
  const isGround = (x: number, y: number): boolean =>
    steps.every((dx) => steps.every((dy) => !isSubject(x + dx, y + dy)));
  return corners(pyramid[0]!, box, MAX_PATCHES, isGround)
    .map((at) => patchAt(pyramid, at))
    .filter(({ levels }) => levels[0]);
}
