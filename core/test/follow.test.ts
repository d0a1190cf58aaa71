import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { simplifyTrack } from '../src/footage/tracking/tracked-keys';
import { robustMotion, projectPoint as turnedView } from '../src/footage/tracking/homography';
import { MotionTracker, type Grey, trackedKeys, makeRaster, recipeAt } from '../src/index';
import {
  type Similarity,
  compose,
  invert,
  transformPoint,
  scaleOf,
  rotationDeg,
} from '../src/geometry/similarity';
import { SCENES, discRaster, followedThrough, sceneFrame, texturedPlane } from './moving-scenes';
import { recipe } from './harness';

const SIZE = { width: 320, height: 200 };

/** What a camera that moved sees: the point of the ground at q shows at motion(q). */
function view(motion: Similarity, gain = 1, spot?: [number, number]): Grey {
  const back = invert(motion);
  const data = new Float32Array(SIZE.width * SIZE.height);
  for (let y = 0; y < SIZE.height; y++)
    for (let x = 0; x < SIZE.width; x++) {
      const isSpot = spot && Math.hypot(x - spot[0], y - spot[1]) < 22;
      const [u, v] = isSpot ? [x + 3.3 * spot[0], y - spot[1] * 2] : transformPoint(back, [x, y]);
      data[y * SIZE.width + x] = gain * texturedPlane(u, v);
    }
  return { ...SIZE, data };
}

const turned = (degrees: number, scale: number, tx: number, ty: number): Similarity => {
  const r = (degrees * Math.PI) / 180;
  return { a: scale * Math.cos(r), b: scale * Math.sin(r), tx, ty };
};

const subject = { at: [160, 100] as const, box: { left: 60, top: 30, right: 260, bottom: 170 } };

describe('following', () => {
  it('keeps a place through drift, turn, growth, changing light and passers-by, to a fraction of a pixel', () => {
    const motionAt = (i: number): Similarity =>
      turned(i * 0.35, 1 + i * 0.004, i * 1.9 - 0.02 * i * i, -i * 0.8);
    const follower = new MotionTracker(view(motionAt(0)), subject);
    const errors: number[] = [];
    for (let i = 1; i <= 40; i++) {
      const seen = view(motionAt(i), 1 + 0.25 * Math.sin(i / 3), [20 + i * 7, 90]);
      const step = follower.next(seen);
      expect(step.isSeen, `frame ${i}`).toBe(true);
      expect(step.confidence).toBeGreaterThan(0.3);
      const [x, y] = transformPoint(step.motion, subject.at);
      const [u, v] = transformPoint(motionAt(i), subject.at);
      errors.push(Math.hypot(x - u, y - v));
      expect(Math.abs(rotationDeg(step.motion) - i * 0.35)).toBeLessThan(0.2);
      expect(Math.abs(scaleOf(step.motion) - (1 + i * 0.004))).toBeLessThan(0.005);
    }
    expect(errors.reduce((a, b) => a + b) / errors.length).toBeLessThan(0.2);
    expect(Math.max(...errors)).toBeLessThan(0.6);
  });

  it('finds a leap of many pixels', () => {
    const follower = new MotionTracker(view(turned(0, 1, 0, 0)), subject);
    const step = follower.next(view(turned(1, 1, 8, -5)));
    expect(
      transformPoint(step.motion, subject.at).map(
        (v, i) => v - transformPoint(turned(1, 1, 8, -5), subject.at)[i]!,
      ),
    ).toEqual([expect.closeTo(0, 0), expect.closeTo(0, 0)]);
  });

  it('says that it is lost where another scene comes, and where there is nothing to see', () => {
    const follower = new MotionTracker(view(turned(0, 1, 0, 0)), subject);
    expect(follower.next(view(turned(0, 1, 900, 700))).isSeen).toBe(false);
    const flat: Grey = { ...SIZE, data: new Float32Array(SIZE.width * SIZE.height).fill(90) };
    expect(new MotionTracker(flat, subject).next(flat).isSeen).toBe(false);
    expect(new MotionTracker(view(turned(0, 1, 0, 0)), subject).next(flat).isSeen).toBe(false);
  });
});

describe('following what was cut out', () => {
  /** Ground that stands, and on it a round thing that moves: two layers, as a subject before a town. */
  const scene = (dx: number, changed = 0): Grey => {
    const data = new Float32Array(SIZE.width * SIZE.height);
    for (let y = 0; y < SIZE.height; y++)
      for (let x = 0; x < SIZE.width; x++) {
        const isThing = Math.hypot(x - 140 - dx, y - 100) < 34;
        data[y * SIZE.width + x] = isThing
          ? texturedPlane(x - dx + 500 + changed, y * (1 + changed / 50) + 90)
          : texturedPlane(x, y);
      }
    return { ...SIZE, data };
  };
  const outline = makeRaster(
    'thing',
    SIZE.width,
    SIZE.height,
    Uint16Array.from({ length: SIZE.width * SIZE.height }, (_, i) =>
      Math.hypot((i % SIZE.width) - 140, Math.floor(i / SIZE.width) - 100) < 34 ? 65535 : 0,
    ),
  );
  const thing = { at: [140, 100] as const, box: { left: 96, top: 56, right: 184, bottom: 144 }, outline };

  it('goes with it, not with the ground around it, and sees where it changes', () => {
    const follower = new MotionTracker(scene(0), thing);
    for (let i = 1; i <= 20; i++) {
      const step = follower.next(scene(i * 2.5));
      expect(transformPoint(step.motion, thing.at)[0] - 140 - i * 2.5).toBeCloseTo(0, 0);
      expect(step.likeness).toBeGreaterThan(0.9);
    }
    expect(follower.next(scene(52, 9)).likeness).toBeLessThan(0.9);
  });

  it('looks around a thing that is too plain to be found by itself', () => {
    const plain = { ...thing, outline: makeRaster('dot', 4, 4, new Uint16Array(16)) };
    expect(new MotionTracker(scene(0), plain).next(scene(0)).isSeen).toBe(true);
  });
});

describe('following a thing whose truth is known', () => {
  for (const [name, scene] of Object.entries(SCENES))
    it(`holds where it ${name}`, () => {
      const { meanPx, mostPx, sure, toldAfter, foundAfter } = followedThrough(scene);
      expect(meanPx).toBeLessThan(0.3);
      expect(mostPx).toBeLessThan(1.2);
      expect(sure).toBeGreaterThan(0.7);
      if (!scene.hidden) return;
      expect(toldAfter).toBeLessThanOrEqual(3);
      if (scene.hidden[1] < scene.frames - 1) expect(foundAfter).toBeLessThanOrEqual(8);
      else expect(foundAfter).toBeNull();
    });

  it('tells how far the ground has gone another way', () => {
    const slow = SCENES['slow over ground']!;
    const { middle, radius } = slow;
    const [x, y] = middle;
    const box = { left: x - radius, right: x + radius, top: y - radius, bottom: y + radius };
    const outline = discRaster(slow, radius);
    const follower = new MotionTracker(sceneFrame(slow, 0), { at: middle, box, outline });
    for (let i = 1; i <= 8; i++) expect(follower.next(sceneFrame(slow, i)).apart).toBeCloseTo(2.5 * i, 0);
  });
});

describe('similarities', () => {
  const similarity = fc
    .tuple(
      fc.double({ min: -40, max: 40, noNaN: true }),
      fc.double({ min: 0.5, max: 2, noNaN: true }),
      fc.double({ min: -99, max: 99, noNaN: true }),
      fc.double({ min: -99, max: 99, noNaN: true }),
    )
    .map(([degrees, scale, tx, ty]) => turned(degrees, scale, tx, ty));

  it('are composed and inverted as maps of points', () => {
    fc.assert(
      fc.property(similarity, similarity, (one, other) => {
        const [x, y] = transformPoint(compose(one, other), [3, 5]);
        const [u, v] = transformPoint(one, transformPoint(other, [3, 5]));
        expect(Math.hypot(x - u, y - v)).toBeLessThan(1e-9);
        const [p, q] = transformPoint(compose(invert(one), one), [3, 5]);
        expect(Math.hypot(p - 3, q - 5)).toBeLessThan(1e-9);
      }),
    );
  });

  it('are found though a third of the pairs are wrong', () => {
    fc.assert(
      fc.property(similarity, (truth) => {
        const from = Array.from({ length: 30 }, (_, i) => [(i * 37) % 100, (i * 61) % 90] as const);
        const to = from.map((p, i) =>
          i % 3 === 0 ? ([p[1] * 2 + 50, 70 - p[0]] as const) : transformPoint(truth, p),
        );
        const found = robustMotion(from, to, [50, 45])!;
        expect(found.agreeing.filter((one, i) => one && i % 3 > 0).length).toBe(20);
        for (const p of from) {
          const [x, y] = transformPoint(found.fit, p);
          const [u, v] = transformPoint(truth, p);
          expect(Math.hypot(x - u, y - v)).toBeLessThan(0.05);
        }
      }),
    );
  });

  it('are those of the place where the view turns, not of all around it', () => {
    // A camera that pans by 4 degrees: what lies far out moves otherwise than the middle does.
    const [c, s, f] = [Math.cos(0.07), Math.sin(0.07), 600];
    const pan = [c, 0, f * s, 0, 1, 0, -s / f, 0, c];
    const from = Array.from(
      { length: 60 },
      (_, i) => [((i * 37) % 400) - 160, ((i * 61) % 300) - 110] as const,
    );
    const found = robustMotion(from, from.map((p) => turnedView(pan, p)), [20, 10])!; // prettier-ignore
    const [x, y] = transformPoint(found.fit, [20, 10]);
    const [u, v] = turnedView(pan, [20, 10]);
    expect(Math.hypot(x - u, y - v)).toBeLessThan(0.01);
    expect(found.agreeing.every(Boolean)).toBe(true);
  });
});

describe('keys of what was followed', () => {
  const how = recipe({
    focus: { bands: [{ id: 'b', kind: 'elliptical', centre: [0.4, 0.6], angle: 10, radii: [0.1, 0.05] }] },
  });
  const motions = Array.from({ length: 60 }, (_, i) => ({
    time: i / 30,
    motion: turned(0.3 * i, 1 + 0.002 * i, 2 * i + 6 * Math.sin(i / 9), i),
  }));

  it('are few, and keep the band on its subject', () => {
    const keys = trackedKeys(how, ['focus', 'bands', 0], motions, SIZE);
    const centres = keys.filter(({ of }) => of === 'focus/bands/b/centre');
    expect(centres.length).toBeLessThan(20);
    for (const { time, motion } of motions) {
      const band = recipeAt({ ...how, keys }, time).focus.bands[0] as {
        centre: [number, number];
        angle: number;
        radii: number[];
      };
      const [x, y] = transformPoint(motion, [0.4 * 320 - 0.5, 0.6 * 200 - 0.5]);
      expect(Math.hypot(band.centre[0] * 320 - 0.5 - x, band.centre[1] * 200 - 0.5 - y)).toBeLessThan(0.55);
      expect(Math.abs(band.angle - (10 + rotationDeg(motion)))).toBeLessThan(0.2);
      expect(band.radii[0]! / 0.1).toBeCloseTo(scaleOf(motion), 1);
    }
  });

  it('leave sizes and angles alone where nothing grows or turns', () => {
    const still = motions.map(({ time }, i) => ({ time, motion: turned(0.1 * (i % 2), 1, i, 0) }));
    const paths = new Set(trackedKeys(how, ['focus', 'bands', 0], still, SIZE).map(({ of }) => of));
    expect(paths).toEqual(new Set(['focus/bands/b/centre']));
    const of = 'focus/bands/b/angle';
    const keyed = { ...how, keys: [{ of, at: 0.5, value: 30, ease: 'linear' as const }] };
    const angles = trackedKeys(keyed, ['focus', 'bands', 0], still, SIZE).filter((key) => key.of === of);
    expect(angles.map(({ at, value }) => [at, value])).toEqual([[0, 10], [59 / 30, 10]]); // prettier-ignore
  });

  it('that thin a line are its ends', () => {
    const times = [0, 1, 2, 3, 4];
    const apart = (a: readonly number[], b: readonly number[]): number => Math.abs(a[0]! - b[0]!) / 0.1;
    expect(simplifyTrack(times, times.map((t) => [3 * t]), apart)).toEqual([0, 4]); // prettier-ignore
    expect(simplifyTrack(times, [[0], [0], [5], [5], [5]], apart)).toEqual([0, 1, 2, 4]); // prettier-ignore
    expect(simplifyTrack([], [], apart)).toEqual([]);
  });
});
