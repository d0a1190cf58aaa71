import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type ClipTimes, evenTimes, frameAt, frameRate, nearestFrame, timelineOf } from '../src/index';
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

describe('pace', () => {
  it('that changes nothing shows each frame once', () => {
    const timeline = paced({});
    expect(timeline.fps).toBe(30);
    expect(frames(timeline)).toEqual(range(240, (i) => i));
  });

  it('doubles, halves, trims, reverses, and goes there and back', () => {
    expect(frames(paced({ speed: 2 }))).toEqual(range(120, (i) => 2 * i));
    expect(frames(paced({ speed: 0.5 }))).toEqual(range(480, (i) => Math.floor((i + 0.5) / 2)));
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
