import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  type ClipTimes,
  evenTimes,
  frameAt,
  frameRate,
  litWeights,
  meantRate,
  nearestFrame,
  soundSpeed,
  timelineOf,
} from '../src/index';
import { recipe } from './harness';

const paced = (pace: object, times: ClipTimes = evenTimes(240, 30)) =>
  timelineOf(recipe({ pace }).pace, times);
const frames = (timeline: ReturnType<typeof timelineOf>): number[] =>
  Array.from({ length: timeline.frames }, (_, i) => timeline.sharesOf(i)[0]!.frame);
const range = (n: number, of: (i: number) => number): number[] => Array.from({ length: n }, (_, i) => of(i));

describe('times of a clip', () => {
  it('know the frame at a time and the rate, evenly spaced or not', () => {
    expect(frameRate(evenTimes(50, 25))).toBe(25);
    expect(frameRate(evenTimes(50, 30000 / 1001))).toBeCloseTo(29.97, 2);
    const uneven = { starts: [0, 0.1, 0.15, 0.4], end: 0.5 };
    expect([0, 0.09, 0.1, 0.2, 0.39, 0.45, 9].map((t) => frameAt(uneven, t))).toEqual([0, 0, 1, 2, 2, 3, 3]);
    expect([0.04, 0.06, 0.2, 0.3, 0.4].map((t) => nearestFrame(uneven, t))).toEqual([0, 1, 2, 3, 3]);
  });
});

describe('the rate of a clip', () => {
  /** Times as a file keeps them: in ticks. */
  const ticked = (fps: number, frames: number, tick = 1e-3): ClipTimes => ({
    starts: range(frames, (i) => Math.round(i / fps / tick) * tick),
    end: Math.round(frames / fps / tick) * tick,
  });

  it('is what is meant, whatever ticks the file counts in', () => {
    for (const fps of [12, 15, 24, 25, 30, 48, 50, 60, 120])
      for (const frames of [12, 40, 900]) expect(frameRate(ticked(fps, frames)), `${fps}`).toBe(fps);
    for (const fps of [24000 / 1001, 30000 / 1001, 60000 / 1001])
      expect(frameRate(ticked(fps, 900)), `${fps}`).toBeCloseTo(fps, 9);
    expect(frameRate(ticked(7.5, 100))).toBeCloseTo(7.5, 3);
  });

  it('is that of the steps between frames, where one is held for long', () => {
    const { starts } = ticked(30, 200);
    const later = Array.from(starts, (t, i) => (i < 90 ? t : t + 2));
    expect(frameRate({ starts: later, end: later.at(-1)! + 3 })).toBe(30);
    expect(frameRate({ starts: [0], end: 0.04 })).toBe(25);
    expect(frameRate({ starts: [0], end: 0 })).toBe(30);
  });

  it('that is typed is meant as the trade means it', () => {
    expect([29.97, 23.976, 23.98, 59.94].map(meantRate)).toEqual([
      30000 / 1001,
      24000 / 1001,
      24000 / 1001,
      60000 / 1001,
    ]);
    expect([24, 25, 30, 12.5, 29.5, 0.5].map(meantRate)).toEqual([24, 25, 30, 12.5, 29.5, 0.5]);
    expect(paced({ fps: 29.97 }).fps).toBe(30000 / 1001);
  });
});

describe('sound', () => {
  it('goes along as it is, or stretched to a constant speed forward where that is wanted', () => {
    const speedOf = (pace: object): number | null => soundSpeed(recipe({ pace }).pace);
    expect(speedOf({})).toBe(1);
    expect(speedOf({ trim: [1, 2], hold: 3, fps: 12 })).toBe(1);
    expect(speedOf({ speed: 2 })).toBeNull();
    expect(speedOf({ speed: 2, on: false })).toBe(1);
    expect(speedOf({ speed: 0.3, stretchAudio: true })).toBe(0.3);
    for (const pace of [
      { direction: 'reverse' },
      { direction: 'bounce' },
      {
        curve: [
          [0, 1],
          [1, 2],
        ],
      },
    ])
      // prettier-ignore
      expect(speedOf({ ...pace, stretchAudio: true })).toBeNull();
  });
});

describe('pace', () => {
  it('shows each frame until the next begins, evenly spaced or not', () => {
    const times = { starts: [0, 0.2, 0.3, 0.8, 0.9], end: 1 };
    const shown = frames(paced({ fps: 20 }, times));
    expect(shown).toEqual(range(20, (i) => frameAt(times, i / 20)));
    // Ticks of a millisecond make no frame come twice.
    const ticks = { starts: range(90, (i) => Math.round((1000 * i) / 30) / 1000), end: 3 };
    expect(frames(paced({}, ticks))).toEqual(range(90, (i) => i));
  });

  it('takes what depends on time at the frame that is shown', () => {
    for (const pace of [{ speed: 0.5 }, { speed: 1.5 }, { fps: 24 }, { speed: 0.7, direction: 'reverse' }]) {
      const timeline = paced(pace);
      for (let i = 0; i < timeline.frames; i++)
        expect(timeline.frameOf(i)).toBe(timeline.sharesOf(i)[0]!.frame);
    }
    const blended = paced({ speed: 2.6, blend: 1 });
    for (let i = 0; i < blended.frames; i++) {
      const shares = blended.sharesOf(i);
      const most = Math.max(...shares.map(({ share }) => share));
      expect(shares.find(({ frame }) => frame === blended.frameOf(i))!.share).toBeCloseTo(most, 6);
    }
  });

  it('gives each of the frames that are averaged its own light', () => {
    const shares = [{ frame: 1, share: 0.25 }, { frame: 2, share: 0.75 }]; // prettier-ignore
    const lit = litWeights(shares, [9, 2, 0.5]);
    expect(lit.light).toBeCloseTo(0.25 * 2 + 0.75 * 0.5, 12);
    expect(lit.shares.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 12);
    expect(lit.shares.map(({ share }) => share * lit.light)).toEqual([0.5, 0.375]);
    expect(litWeights(shares, null)).toEqual({ shares, light: 1 });
  });

  it('that changes nothing shows each frame once', () => {
    const timeline = paced({});
    expect(timeline.fps).toBe(30);
    expect(frames(timeline)).toEqual(range(240, (i) => i));
  });

  it('doubles, halves, trims, reverses, and goes back and forth', () => {
    expect(frames(paced({ speed: 2 }))).toEqual(range(120, (i) => 2 * i));
    expect(frames(paced({ speed: 0.5 }))).toEqual(range(480, (i) => Math.floor(i / 2)));
    expect(frames(paced({ trim: [1, 2] }))).toEqual(range(30, (i) => 30 + i));
    expect(frames(paced({ trim: [1, 2], direction: 'reverse' }))).toEqual(range(30, (i) => 59 - i));
    expect(frames(paced({ trim: [0, 0.2], direction: 'bounce' }))).toEqual([0, 1, 2, 3, 4, 5, 4, 3, 2, 1]);
  });

  it('holds each picture for so many', () => {
    expect(frames(paced({ trim: [0, 0.3], hold: 4 }))).toEqual([0, 0, 0, 0, 4, 4, 4, 4, 8]);
  });

  it('gives another rate its own number of pictures', () => {
    const timeline = paced({ fps: 24, speed: 2 });
    expect([timeline.frames, timeline.fps]).toEqual([96, 24]);
    expect(timeline.timeOf(48)).toBeCloseTo(4, 9);
  });

  it('that is switched off shows the clip as it came', () => {
    expect(frames(paced({ on: false, speed: 4, hold: 3, trim: [1, 2] }))).toEqual(range(240, (i) => i));
  });

  it('outside the clip shows all of it', () => {
    expect(paced({ trim: [100, 200] }).frames).toBe(240);
    expect(paced({ trim: [7, 200] }).frames).toBe(30);
  });

  it('blends what a longer shutter would see', () => {
    const timeline = paced({ speed: 4, blend: 0.5 });
    expect(timeline.sharesOf(3)).toEqual([
      { frame: 12, share: expect.closeTo(0.5, 6) },
      { frame: 13, share: expect.closeTo(0.5, 6) },
    ]);
    expect(paced({ speed: 1, blend: 1 }).sharesOf(3)).toEqual([{ frame: 3, share: 1 }]);
    for (const { share } of paced({ speed: 3.7, blend: 1 }).sharesOf(5)) expect(share).toBeGreaterThan(0);
  });

  it('along a curve takes as long as the integral of 1 / speed', () => {
    // From 1 to 3 evenly over 8 seconds of the source: 8 / 2 x ln 3 seconds are shown.
    const timeline = paced({ curve: [[0, 1], [8, 3]] }); // prettier-ignore
    expect(timeline.frames).toBe(Math.floor((8 / 2) * Math.log(3) * 30));
    // After t seconds the source is at (e^(t / 4) - 1) x 4.
    for (const i of [0, 30, 77, 130])
      expect(timeline.timeOf(i)).toBeCloseTo(4 * (Math.exp(i / 30 / 4) - 1), 4);
  });

  it('finds the picture of a time, whatever the pace', () => {
    fc.assert(
      fc.property(
        fc.record({
          speed: fc.double({ min: 0.05, max: 32, noNaN: true }),
          direction: fc.constantFrom('forward', 'reverse', 'bounce'),
          fps: fc.option(fc.constantFrom(12, 24, 25, 60)),
          hold: fc.integer({ min: 1, max: 5 }),
          blend: fc.double({ min: 0, max: 1, noNaN: true }),
        }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (pace, share) => {
          const timeline = paced(pace);
          const i = Math.floor(share * (timeline.frames - 1));
          const shares = timeline.sharesOf(i);
          expect(shares.reduce((sum, one) => sum + one.share, 0)).toBeCloseTo(1, 9);
          for (const { frame } of shares) expect(frame >= 0 && frame < 240).toBe(true);
          const time = timeline.timeOf(i);
          const found = timeline.timeOf(timeline.pictureAt(time));
          expect(Math.abs(found - time)).toBeLessThanOrEqual((pace.hold * pace.speed) / timeline.fps + 1e-6);
        },
      ),
    );
  });

  it('of one frame is one picture', () => {
    expect(frames(paced({ speed: 8 }, evenTimes(1, 30)))).toEqual([0]);
    expect(frames(paced({ direction: 'bounce' }, evenTimes(1, 30)))).toEqual([0]);
  });
});
