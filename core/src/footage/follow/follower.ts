import { type Raster, rasterAt } from '../../focus/raster';
import { type Box, corners, movedBox } from './corners';
import { Likeness } from './likeness';
import { type Patch, findPatch, patchAt } from './patches';
import { type Grey, type Pyramid, pyramidOf } from './pyramid';
import {
  IDENTITY,
  type Similarity,
  composed,
  inverted,
  moved,
  scaleOf,
  turnOf,
} from '../../focus/similarity';
import type { Point } from './fit-similarity';
import { robustMotion } from './view-turn';

/** What is followed: a place, and the box around it in which its surroundings are looked at; pixels of the first frame. */
export interface Subject {
  at: Point;
  box: Box;
  /** The outline of what is followed, lying over the first frame: what lies beside it may go elsewhere. */
  outline?: Raster;
}

/** Where the subject went: from the first frame's pixels to this one's, and how sure that is, 0..1. */
export interface Step {
  motion: Similarity;
  confidence: number;
  /** How like the first frame the subject still is within its outline, 0..1; 1 where it has none. */
  likeness: number;
}

const LEVELS = 4;
/** Levels that are enough where the subject goes on as it went. */
const FEW_LEVELS = 2;
const MOST_PATCHES = 80;
/** Fewer patches than this that agree say nothing. */
const LEAST_AGREEING = 7;
/** Least share of the patches that must agree, or the subject is lost. */
const LEAST_SHARE = 0.25;
/** A patch that does not agree so often in a row lies on something else: on what passes by, or on its shadow. */
const MOST_MISSES = 4;
/** Likeness below which a patch is another one. */
const LEAST_LIKENESS = 0.6;
/** How far the way back may end from where the way out began. */
const MOST_ASTRAY_PX = 0.8;
/** The patches are taken anew when fewer than this agree, or the view has turned or grown so much. */
const RENEW_AGREEING = 16;
const RENEW_TURN_DEG = 8;
const RENEW_SCALE = 1.12;

/** What came of a search for all patches. */
interface Found {
  fit: Similarity;
  agreeing: number;
  confidence: number;
  /** Where each patch that was searched for is, or null where it did not agree. */
  places: [Followed, Point | null][];
}

interface Followed {
  patch: Patch;
  /** How far it was from where the common motion has it: a view that turns bends what lies far out. */
  aside: Point;
  misses: number;
}

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
  private patches: Followed[];
  private readonly likeness: Likeness | null;

  constructor(
    first: Grey,
    private readonly subject: Subject,
  ) {
    this.key = pyramidOf(first, LEVELS);
    this.patches = this.take(this.key, subject.box, IDENTITY);
    this.likeness = subject.outline ? new Likeness(first, subject.box, this.isInside) : null;
  }

  /** True for a place of the first frame within the subject's outline; for any where it has none. */
  private readonly isInside = (x: number, y: number): boolean => {
    const { outline } = this.subject;
    const { width, height } = this.key[0]!;
    return !outline || rasterAt(outline, (x + 0.5) / width, (y + 0.5) / height) >= 0.5;
  };

  /** Patches within a box of a frame, on the subject where it has enough of them. @param motion from the first frame. */
  private take(pyramid: Pyramid, box: Box, motion: Similarity): Followed[] {
    const home = inverted(motion);
    const found = corners(pyramid[0]!, box, MOST_PATCHES, (x, y) => this.isInside(...moved(home, [x, y])));
    const all =
      found.length < RENEW_AGREEING && this.subject.outline
        ? corners(pyramid[0]!, box, MOST_PATCHES, () => true)
        : found;
    return all
      .map((at) => patchAt(pyramid, at))
      .filter(({ levels }) => levels[0])
      .map((patch) => ({ patch, aside: [0, 0], misses: 0 }));
  }

  /** The next frame; null where the subject is lost, after which there is no going on. */
  next(frame: Grey): Step | null {
    const pyramid = pyramidOf(frame, LEVELS);
    // As it moved last, so it may move on.
    const speed = composed(this.toNow, inverted(this.last));
    const guess = composed(speed, this.toNow);
    const found =
      this.find(pyramid, guess, FEW_LEVELS) ??
      this.find(pyramid, guess, LEVELS) ??
      this.find(pyramid, this.toNow, LEVELS);
    if (!found) return null;
    this.last = this.toNow;
    this.toNow = found.fit;
    for (const [one, at] of found.places) {
      const [x, y] = moved(found.fit, one.patch.at);
      if (at) one.aside = [at[0] - x, at[1] - y];
      one.misses = at ? 0 : one.misses + 1;
    }
    this.patches = this.patches.filter(({ misses }) => misses < MOST_MISSES);
    const motion = composed(this.toNow, this.toKey);
    const isWorn =
      found.agreeing < RENEW_AGREEING ||
      Math.abs(turnOf(this.toNow)) > RENEW_TURN_DEG ||
      Math.max(scaleOf(this.toNow), 1 / scaleOf(this.toNow)) > RENEW_SCALE;
    if (isWorn) this.renew(pyramid, motion);
    return { motion, confidence: found.confidence, likeness: this.likeness?.of(frame, motion) ?? 1 };
  }

  private find(pyramid: Pyramid, guess: Similarity, levels: number): Found | null {
    const { width, height } = pyramid[0]!;
    const [from, to]: [Point[], Point[]] = [[], []];
    const tried: { one: Followed; index: number | null }[] = [];
    let likeness = 0;
    for (const one of this.patches) {
      const { patch, aside } = one;
      const own = { ...guess, tx: guess.tx + aside[0], ty: guess.ty + aside[1] };
      const [x, y] = moved(own, patch.at);
      if (x < 0 || y < 0 || x >= width || y >= height) continue;
      const found = findPatch(patch, pyramid, own, levels);
      const isFound =
        found && found.likeness >= LEAST_LIKENESS && this.leadsBack(pyramid, found.at, patch, own);
      tried.push({ one, index: isFound ? from.length : null });
      if (!isFound) continue;
      from.push(patch.at);
      to.push(found.at);
      likeness += found.likeness;
    }
    const robust = robustMotion(from, to, moved(this.toKey, this.subject.at));
    if (!robust) return null;
    const agreeing = robust.agreeing.filter(Boolean).length;
    const share = agreeing / Math.max(1, tried.length);
    if (agreeing < LEAST_AGREEING || share < LEAST_SHARE) return null;
    const confidence = Math.min(1, share / 0.8) * Math.min(1, agreeing / 20) * (likeness / from.length);
    const places = tried.map(({ one, index }): [Followed, Point | null] => [
      one,
      index !== null && robust.agreeing[index] ? to[index]! : null,
    ]);
    return { fit: robust.fit, agreeing, confidence, places };
  }

  /** True where what was found, searched for in the patches' own frame, is the patch. */
  private leadsBack(pyramid: Pyramid, at: Point, patch: Patch, way: Similarity): boolean {
    const returned = findPatch(patchAt([pyramid[0]!], at), this.key, inverted(way), 1);
    return (
      returned !== null &&
      Math.hypot(returned.at[0] - patch.at[0], returned.at[1] - patch.at[1]) <= MOST_ASTRAY_PX
    );
  }

  /** Patches of the newest frame, around where the subject is now. */
  private renew(pyramid: Pyramid, motion: Similarity): void {
    const patches = this.take(pyramid, movedBox(this.subject.box, motion), motion);
    if (patches.length < LEAST_AGREEING) return;
    const speed = composed(this.toNow, inverted(this.last));
    this.patches = patches;
    this.key = pyramid;
    this.toKey = motion;
    this.toNow = IDENTITY;
    this.last = inverted(speed);
  }
}
