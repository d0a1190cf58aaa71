import { type Raster, rasterAt } from '../../geometry/raster';
import {
  IDENTITY,
  type Similarity,
  compose,
  invert,
  transformPoint,
  scaleOf,
  rotationDeg,
} from '../../geometry/similarity';
import { Appearance } from './appearance';
import { type Box, corners, movedBox } from './corners';
import type { Point } from './fit-similarity';
import { Ground } from './ground';
import { type Patch, findPatch, passesForwardBackward, patchAt } from './patches';
import { type Grey, type Pyramid, pyramidOf } from './pyramid';
import { robustMotion } from './homography';

/** What is followed: a place, and what is looked at for that; pixels of the first frame. */
export interface Subject {
  at: Point;
  box: Box;
  /** The outline of what is followed, lying over the first frame: what lies beside it may go elsewhere. */
  outline?: Raster;
  /** True where it is the ground itself, or lies on it: there is nothing to be told from it. */
  isGround?: boolean;
}

/** Where the subject went: from the first frame's pixels to this one's, and how sure that is, 0..1. */
export interface Step {
  motion: Similarity;
  /** False where it is hidden, or has left the frame: the motion is then the last that was seen. */
  isSeen: boolean;
  confidence: number;
  /** How like the first frame the subject still is, 0..1. */
  likeness: number;
  /** How far, in pixels, the ground around it has gone another way by now. */
  apart: number;
}

const LEVELS = 4;
/** Levels that are enough where the subject goes on as it went. */
const FEW_LEVELS = 2;
const MAX_PATCHES = 80;
/** Of the cells of a box, however little of it is the subject, each gives a patch. */
const MAX_CELLS = 640;
/** Fewer patches than this that agree say nothing. */
const MIN_AGREEING = 6;
/** Least share of the patches that must agree, or the subject is lost. */
const MIN_SHARE = 0.25;
/** A patch that does not agree so often in a row lies on something else: on what passes by, or on its shadow. */
const MAX_MISSES = 4;
/** Likeness below which a patch is another one. */
const MIN_LIKENESS = 0.6;
/** The same where it is not where it was expected. */
const SHARE_AFTER_LEAP = 0.45;
/** The patches are taken anew when fewer than this agree, or the view has turned or grown so much. */
const RENEW_AGREEING = 16;
const RENEW_SHARE = 0.6;
/** A new patch was there before, within so many pixels: it lies on the subject, not on what passes before it. */
const WAS_THERE_PX = 3;
const RENEW_TURN_DEG = 12;
const RENEW_SCALE = 1.15;
/** Places that are looked at more closely where it is not where it was expected. */
const CANDIDATES = 4;
/** How far it may leap from one frame to the next, as a share of the frame's longer side. */
const LEAP = 0.06;
/** A patch at the rim of the subject counts so much of one in its middle. */
const RIM_WEIGHT = 0.3;
/** What goes as the ground does counts so much, where something in the outline goes another way. */
const GROUND_WEIGHT = 0.35;

/** What came of a search for all patches. */
interface Found {
  fit: Similarity;
  agreeing: number;
  /** Weight of the patches that agree. */
  weight: number;
  confidence: number;
  /** Where each patch that was searched for is, or why it did not agree. */
  places: [Followed, Point | 'astray' | 'with the ground'][];
}

interface Followed {
  patch: Patch;
  weight: number;
  /** Residual from the common motion: perspective grows away from the subject. */
  aside: Point;
  misses: number;
  /** True once it went with the ground while the subject did not: it is none of it. */
  isGround: boolean;
}

/** A frame that patches were taken from. */
interface KeyFrame {
  pyramid: Pyramid;
  patches: readonly Followed[];
  appearance: Appearance;
  /** From the first frame to it. */
  toKey: Similarity;
  /** The most patches that agreed so far. */
  mostAgreeing: number;
}

/**
 * Follows a subject from frame to frame. Its patches are those of one frame for as long as they are found again, so that
 * small errors do not add up; each must also lead back to where it came from (Z. Kalal et al., "Forward-backward
 * error", 2010), and most must agree on one shift, turn and scale. Where they do not lie where they are expected, the
 * whole subject is searched for in a small picture first: it may have leapt, or come back from behind something.
 */
export class MotionTracker {
  private readonly first: Appearance;
  private readonly ground: Ground | null;
  private key: KeyFrame;
  /** From the key frame to the newest that it was seen on, and to the one before. */
  private toNow: Similarity = IDENTITY;
  private last: Similarity = IDENTITY;
  private isSeen = true;
  /** True until it has been seen once more: how fast it is is not known yet. */
  private isFirst = true;

  constructor(
    first: Grey,
    private readonly subject: Subject,
  ) {
    const pyramid = pyramidOf(first, LEVELS);
    this.first = new Appearance(first, subject.box, this.isInside(pyramid));
    this.ground = subject.isGround ? null : new Ground(pyramid, subject.box, this.isInside(pyramid));
    this.key = this.keyAt(pyramid, IDENTITY);
  }

  /** Says which places of a frame lie within the subject's outline; any where it has none. @param motion from the first. */
  private isInside(pyramid: Pyramid, motion = IDENTITY): (x: number, y: number) => boolean {
    const { outline } = this.subject;
    const { width, height } = pyramid[0]!;
    const home = invert(motion);
    return (x, y) => {
      if (!outline) return true;
      const [u, v] = transformPoint(home, [x, y]);
      return rasterAt(outline, (u + 0.5) / width, (v + 0.5) / height) >= 0.5;
    };
  }

  /** Patches of a frame, on the subject where it has enough of them. @param motion from the first frame. */
  private keyAt(pyramid: Pyramid, motion: Similarity): KeyFrame {
    const box = movedBox(this.subject.box, motion);
    const isInside = this.isInside(pyramid, motion);
    const isDeepInside = (x: number, y: number): boolean =>
      isInside(x - RIM, y) && isInside(x + RIM, y) && isInside(x, y - RIM) && isInside(x, y + RIM);
    const cells = Math.min(MAX_CELLS, Math.round(MAX_PATCHES / shareOf(box, isInside)));
    const found = [isDeepInside, isInside, () => true]
      .map((allows) => corners(pyramid[0]!, box, cells, allows).slice(0, MAX_PATCHES))
      .reduce((best, more) => (best.length < RENEW_AGREEING ? more : best));
    const [cx, cy] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
    const [rx, ry] = [(box.right - box.left) / 2, (box.bottom - box.top) / 2];
    const patches = found
      .map((at) => patchAt(pyramid, at))
      .filter(({ levels }) => levels[0])
      .map((patch): Followed => {
        const out = Math.hypot((patch.at[0] - cx) / rx, (patch.at[1] - cy) / ry);
        const weight = Math.max(RIM_WEIGHT, 1 - (1 - RIM_WEIGHT) * out);
        return { patch, weight, aside: [0, 0], misses: 0, isGround: false };
      });
    const appearance = new Appearance(pyramid[0]!, box, isInside);
    return { pyramid, patches, appearance, toKey: motion, mostAgreeing: 0 };
  }

  /** The next frame. */
  next(frame: Grey): Step {
    const pyramid = pyramidOf(frame, LEVELS);
    this.ground?.next(pyramid, this.isInside(pyramid, compose(this.toNow, this.key.toKey)));
    const found = this.look(pyramid);
    if (!found) {
      // Once it comes back all of its patches may be there again.
      for (const one of this.key.patches) one.misses = 0;
      this.isSeen = false;
      this.last = this.toNow;
      return { ...this.step(), isSeen: false, confidence: 0, likeness: 0 };
    }
    this.last = this.isSeen ? this.toNow : found.fit;
    this.toNow = found.fit;
    this.isSeen = true;
    this.isFirst = false;
    this.key.mostAgreeing = Math.max(this.key.mostAgreeing, found.agreeing);
    for (const [one, at] of found.places) {
      const [x, y] = transformPoint(found.fit, one.patch.at);
      if (at === 'with the ground') one.isGround = true;
      else if (at !== 'astray') one.aside = [at[0] - x, at[1] - y];
      one.misses = typeof at === 'string' ? one.misses + 1 : 0;
    }
    const step = this.step();
    const likeness = this.first.of(frame, step.motion);
    const isWorn =
      found.agreeing < Math.min(RENEW_AGREEING, RENEW_SHARE * this.key.patches.length) ||
      Math.abs(rotationDeg(this.toNow)) > RENEW_TURN_DEG ||
      Math.max(scaleOf(this.toNow), 1 / scaleOf(this.toNow)) > RENEW_SCALE;
    if (isWorn) this.renew(pyramid, step.motion);
    return { ...step, isSeen: true, confidence: found.confidence, likeness };
  }

  private step(): { motion: Similarity; apart: number } {
    const motion = compose(this.toNow, this.key.toKey);
    const [x, y] = transformPoint(motion, this.subject.at);
    const ground = this.ground?.from(IDENTITY) ?? null;
    const [u, v] = ground ? transformPoint(ground, this.subject.at) : [x, y];
    const [ax, ay] = this.subject.at;
    const [apart, way] = [Math.hypot(x - u, y - v), Math.hypot(x - ax, y - ay)];
    // A view that turns takes near and far a little another way each.
    return { motion, apart: apart > MIN_APART * Math.max(way, Math.hypot(u - ax, v - ay)) ? apart : 0 };
  }

  /** The subject where it is expected, else where it is searched for; null where it is not to be seen. */
  private look(pyramid: Pyramid): Found | null {
    // As it moved last, so it may move on.
    const guess = compose(compose(this.toNow, invert(this.last)), this.toNow);
    if (this.isSeen && !this.isFirst) {
      const expected =
        this.find(pyramid, guess, FEW_LEVELS) ??
        this.find(pyramid, guess, LEVELS) ??
        this.find(pyramid, this.toNow, LEVELS);
      if (expected) return expected;
    }
    const { width, height } = pyramid[0]!;
    const reach = Math.max(width, height) * (this.isSeen ? LEAP : 1);
    const start = this.isSeen ? guess : this.toNow;
    const leaps = this.key.appearance
      .search(this.key.pyramid, pyramid, start, reach, CANDIDATES)
      .map(({ shift: [x, y] }) => {
        const there = { ...start, tx: start.tx + x, ty: start.ty + y };
        return (
          this.find(pyramid, there, FEW_LEVELS, SHARE_AFTER_LEAP) ??
          this.find(pyramid, there, LEVELS, SHARE_AFTER_LEAP)
        );
      });
    const here = this.isFirst ? this.find(pyramid, guess, LEVELS) : null;
    return [here, ...leaps].reduce(
      (best, one) => (one && one.weight > (best?.weight ?? 0) ? one : best),
      null,
    );
  }

  /** @param leastShare of the patches that must agree. */
  private find(pyramid: Pyramid, guess: Similarity, levels: number, leastShare = MIN_SHARE): Found | null {
    const { width, height } = pyramid[0]!;
    const [from, to, weights]: [Point[], Point[], number[]] = [[], [], []];
    const tried: { one: Followed; index: number | null }[] = [];
    let likeness = 0;
    for (const one of this.key.patches) {
      const { patch, aside } = one;
      if (one.misses >= MAX_MISSES || one.isGround) continue;
      const own = { ...guess, tx: guess.tx + aside[0], ty: guess.ty + aside[1] };
      const [x, y] = transformPoint(own, patch.at);
      if (x < 0 || y < 0 || x >= width || y >= height) continue;
      const found = findPatch(patch, pyramid, own, levels);
      const isFound =
        found &&
        found.likeness >= MIN_LIKENESS &&
        passesForwardBackward(pyramid, found.at, patch, this.key.pyramid, own);
      tried.push({ one, index: isFound ? from.length : null });
      if (!isFound) continue;
      from.push(patch.at);
      to.push(found.at);
      weights.push(one.weight);
      likeness += found.likeness;
    }
    const robust = this.motionOf(from, to, weights);
    if (!robust) return null;
    const agreeing = robust.agreeing.filter(Boolean).length;
    const own = this.key.patches.filter(({ isGround }) => !isGround).length;
    const most = Math.max(1, Math.min(this.key.mostAgreeing, own));
    const share = agreeing / Math.max(1, tried.length);
    if (agreeing < MIN_AGREEING || share < leastShare || agreeing < leastShare * most) return null;
    const confidence =
      Math.min(1, share / 0.6) * Math.min(1, agreeing / Math.min(20, 0.6 * most)) * (likeness / from.length);
    const places = tried.map(({ one, index }): Found['places'][number] => {
      if (index === null) return [one, 'astray'];
      if (robust.agreeing[index]) return [one, to[index]!];
      return [one, robust.isGround[index] ? 'with the ground' : 'astray'];
    });
    return { fit: robust.fit, agreeing, weight: robust.weight, confidence, places };
  }

  /**
   * The motion that most pairs agree with. Where some go another way than the ground around the subject, what goes with the
   * ground counts less: an outline that is drawn too wide holds much of it.
   */
  private motionOf(
    from: readonly Point[],
    to: readonly Point[],
    weights: readonly number[],
  ): { fit: Similarity; agreeing: boolean[]; isGround: boolean[]; weight: number } | null {
    const { toKey } = this.key;
    const at = transformPoint(toKey, this.subject.at);
    const ground = this.ground?.from(toKey) ?? null;
    const isGround = from.map((point, i) => ground !== null && offBy(ground, point, to[i]!) < GROUND_PX);
    const own = weights.map((weight, i) => (isGround[i] ? weight * GROUND_WEIGHT : weight));
    const apart = own.map((weight, i) => (isGround[i] ? 0 : weight));
    return [own, apart]
      .map((counts) => robustMotion(from, to, at, counts))
      .map((motion) => {
        const weight = own.reduce((sum, w, i) => (motion?.agreeing[i] ? sum + w : sum), 0);
        if (!motion) return null;
        // Where both go nearly one way nothing can be told from the other.
        const isOff = isGround.map((is, i) => is && offBy(motion.fit, from[i]!, to[i]!) > 2 * GROUND_PX);
        return { ...motion, isGround: isOff, weight };
      })
      .reduce((best, one) => (one && one.weight > (best?.weight ?? 0) ? one : best), null);
  }

  /** Patches of the newest frame, around where the subject is now. */
  private renew(pyramid: Pyramid, motion: Similarity): void {
    const back = invert(this.toNow);
    const wasThere = ({ patch }: Followed): boolean => {
      const before = findPatch(patch, this.key.pyramid, back, FEW_LEVELS);
      return (
        before !== null && before.likeness >= MIN_LIKENESS && offBy(back, patch.at, before.at) < WAS_THERE_PX
      );
    };
    const fresh = this.keyAt(pyramid, motion);
    const key = { ...fresh, patches: fresh.patches.filter(wasThere) };
    if (key.patches.length < MIN_AGREEING) return;
    const speed = compose(this.toNow, invert(this.last));
    this.key = key;
    this.toNow = IDENTITY;
    this.last = invert(speed);
  }
}

/** Less than this share of the way that either went is none of its own. */
const MIN_APART = 0.3;

/** What goes within so many pixels of where the ground does goes with it. */
const GROUND_PX = 1.5;

const offBy = (motion: Similarity, from: Point, to: Point): number => {
  const [x, y] = transformPoint(motion, from);
  return Math.hypot(x - to[0], y - to[1]);
};

/** So far inside of the outline patches lie on the subject alone. */
const RIM = 6;

/** Places each way at which it is looked how much of a box is the subject. */
const LOOKS = 24;

/** Share of a box that is the subject; a little where it is nearly nothing. */
function shareOf({ left, top, right, bottom }: Box, isInside: (x: number, y: number) => boolean): number {
  let count = 0;
  for (let j = 0; j < LOOKS; j++)
    for (let i = 0; i < LOOKS; i++) {
      const [fx, fy] = [(i + 0.5) / LOOKS, (j + 0.5) / LOOKS];
      if (isInside(left + fx * (right - left), top + fy * (bottom - top))) count++;
    }
  return Math.max(1, count) / (LOOKS * LOOKS);
}
