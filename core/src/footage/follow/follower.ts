import { type Box, corners } from './corners';
import { type Patch, findPatch, patchAt } from './patches';
import { type Grey, type Pyramid, pyramidOf } from './pyramid';
import {
  IDENTITY,
  type Point,
  type Similarity,
  composed,
  inverted,
  moved,
  robustSimilarity,
  scaleOf,
  turnOf,
} from './similarity';

/** What is followed: a place, and the box around it in which its surroundings are looked at; pixels of the first frame. */
export interface Subject {
  at: Point;
  box: Box;
}

/** Where the subject went: from the first frame's pixels to this one's, and how sure that is, 0..1. */
export interface Step {
  motion: Similarity;
  confidence: number;
}

const LEVELS = 4;
const MOST_PATCHES = 110;
/** Fewer patches than this that agree say nothing. */
const LEAST_AGREEING = 7;
/** Least share of the patches that must agree, or the subject is lost. */
const LEAST_SHARE = 0.3;
/** Likeness below which a patch is another one. */
const LEAST_LIKENESS = 0.6;
/** How far the way back may end from where the way out began. */
const MOST_ASTRAY_PX = 0.8;
/** The patches are taken anew when fewer than this share of them agree, or the view has turned or grown so much. */
const RENEW_SHARE = 0.55;
const RENEW_TURN_DEG = 8;
const RENEW_SCALE = 1.12;

/**
 * Follows a subject from frame to frame. Its patches are those of one frame for as long as they are found again, so that
 * small errors do not add up; each must also lead back to where it came from (Z. Kalal et al., "Forward-backward
 * error", 2010), and most must agree on one shift, turn and scale.
 */
export class Follower {
  /** From the first frame to the one that the patches are of, and from that one to the newest. */
  private toKey: Similarity = IDENTITY;
  private toNow: Similarity = IDENTITY;
  private last: Similarity = IDENTITY;
  private key: Pyramid;
  private patches: readonly Patch[];

  constructor(
    first: Grey,
    private readonly subject: Subject,
  ) {
    this.key = pyramidOf(first, LEVELS);
    this.patches = this.take(this.key, subject.box);
  }

  private take(pyramid: Pyramid, box: Box): Patch[] {
    return corners(pyramid[0]!, box, MOST_PATCHES, () => true)
      .map((at) => patchAt(pyramid, at))
      .filter(({ levels }) => levels[0]);
  }

  /** The next frame; null where the subject is lost, after which there is no going on. */
  next(frame: Grey): Step | null {
    const pyramid = pyramidOf(frame, LEVELS);
    // As it moved last, so it may move on.
    const speed = composed(this.toNow, inverted(this.last));
    const found = this.find(pyramid, composed(speed, this.toNow)) ?? this.find(pyramid, this.toNow);
    if (!found) return null;
    this.last = this.toNow;
    this.toNow = found.fit;
    const motion = composed(this.toNow, this.toKey);
    const isWorn =
      found.share < RENEW_SHARE ||
      Math.abs(turnOf(this.toNow)) > RENEW_TURN_DEG ||
      Math.max(scaleOf(this.toNow), 1 / scaleOf(this.toNow)) > RENEW_SCALE;
    if (isWorn) this.renew(pyramid, motion);
    return { motion, confidence: found.confidence };
  }

  private find(
    pyramid: Pyramid,
    guess: Similarity,
  ): { fit: Similarity; share: number; confidence: number } | null {
    const back = inverted(guess);
    const [from, to]: [Point[], Point[]] = [[], []];
    let likeness = 0;
    let seen = 0;
    for (const patch of this.patches) {
      const expected = moved(guess, patch.at);
      const { width, height } = pyramid[0]!;
      if (expected[0] < 0 || expected[1] < 0 || expected[0] >= width || expected[1] >= height) continue;
      seen++;
      const found = findPatch(patch, pyramid, guess, LEVELS);
      if (!found || found.likeness < LEAST_LIKENESS) continue;
      const returned = findPatch(patchAt([pyramid[0]!], found.at), this.key, back, 1);
      if (
        !returned ||
        Math.hypot(returned.at[0] - patch.at[0], returned.at[1] - patch.at[1]) > MOST_ASTRAY_PX
      )
        continue;
      from.push(patch.at);
      to.push(found.at);
      likeness += found.likeness;
    }
    const robust = robustSimilarity(from, to);
    if (!robust) return null;
    const agreeing = robust.agreeing.filter(Boolean).length;
    const share = agreeing / Math.max(1, seen);
    if (agreeing < LEAST_AGREEING || share < LEAST_SHARE) return null;
    const confidence = Math.min(1, share / 0.8) * Math.min(1, agreeing / 20) * (likeness / from.length);
    return { fit: robust.fit, share, confidence };
  }

  /** Patches of the newest frame, around where the subject is now. */
  private renew(pyramid: Pyramid, motion: Similarity): void {
    const { left, top, right, bottom } = this.subject.box;
    const ends = ([[left, top], [right, top], [right, bottom], [left, bottom]] as const).map((p) => moved(motion, p)); // prettier-ignore
    const box: Box = {
      left: Math.min(...ends.map(([x]) => x)),
      right: Math.max(...ends.map(([x]) => x)),
      top: Math.min(...ends.map(([, y]) => y)),
      bottom: Math.max(...ends.map(([, y]) => y)),
    };
    const patches = this.take(pyramid, box);
    if (patches.length < LEAST_AGREEING) return;
    const speed = composed(this.toNow, inverted(this.last));
    this.patches = patches;
    this.key = pyramid;
    this.toKey = motion;
    this.toNow = IDENTITY;
    this.last = inverted(speed);
  }
}
