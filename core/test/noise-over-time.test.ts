import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FootageNoise, type Noise, deviations, evenTimes } from '../src/index';
import { meanNoise, noiseFrames } from '../src/footage/noise-over-time';

/** Noise that every channel has by itself, alike at all brightnesses. */
const plain = (variance: number): Noise => ({
  bins: Array.from({ length: 16 }, () => [variance, 0, variance, 0, 0, variance] as const),
  across: [0.2, 0],
  down: [0, 0],
});
const times = evenTimes(120, 24);
const alone = (frame: number) => [{ frame, share: 1 }];

describe('the frames that noise is smoothed over', () => {
  it('lie within a second before a frame, half a second apart, and share it wholly', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 240 }),
        fc.double({ min: 0.5, max: 120, noNaN: true }),
        fc.nat(),
        (frames, fps, at) => {
          const clip = evenTimes(frames, fps);
          const frame = at % frames;
          const found = noiseFrames(clip, frame);
          expect(found.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 9);
          expect(found.length).toBeLessThanOrEqual(2);
          for (const one of found) {
            expect(one.frame).toBeLessThanOrEqual(frame);
            // A frame that is shown for long was there before.
            expect(clip.starts[frame]! - clip.starts[one.frame]!).toBeLessThan(1 + 1 / fps);
          }
        },
      ),
    );
    expect(noiseFrames(times, 0)).toEqual(alone(0));
    expect(noiseFrames(times, 30).map(({ frame }) => frame)).toEqual([24, 12]);
  });

  it('come and go without a step', async () => {
    // Noise that doubles from one measured frame to the next.
    const noise = new FootageNoise(async (frame) => plain(frame % 24 === 0 ? 1 : 4));
    const seen: number[] = [];
    for (let i = 0; i < 120; i++) seen.push((await noise.of(times, i, alone(i))).bins[3]![0]);
    const steps = seen.slice(13).map((v, i) => Math.abs(v - seen[i + 12]!));
    expect(Math.max(...steps)).toBeLessThan(3 / 6);
    expect(Math.max(...seen)).toBeCloseTo(4, 6);
    expect(Math.min(...seen.slice(13))).toBeCloseTo(1, 6);
  });
});

describe('the noise of footage', () => {
  it('is measured once a frame, in order, and again where that failed', async () => {
    const asked: number[] = [];
    const noise = new FootageNoise(async (frame) => {
      asked.push(frame);
      if (asked.length === 1) throw new Error('unread');
      return plain(1);
    });
    await expect(noise.of(times, 30, alone(30))).rejects.toThrow('unread');
    for (let i = 25; i < 48; i++) await noise.of(times, i, alone(i));
    expect(asked).toEqual([12, 12, 24, 36]);
  });

  it('is less where frames are averaged', async () => {
    const noise = new FootageNoise(async () => plain(4));
    const pair = [0.5, 0.5].map((share, i) => ({ frame: 10 + i, share }));
    const [one, two] = [await noise.of(times, 10, alone(10)), await noise.of(times, 10, pair)];
    expect(deviations(one)[5]).toBeCloseTo(2, 9);
    expect(deviations(two)[5]).toBeCloseTo(Math.SQRT2, 9);
  });

  it('has the mean of what each tells', () => {
    const other: Noise = { ...plain(9), across: [0.6, 0.4], down: [-0.2, 0] };
    const mean = meanNoise([plain(1), other], [0.75, 0.25]);
    expect(mean.bins[0]).toEqual([3, 0, 3, 0, 0, 3]);
    expect(mean.across[0]).toBeCloseTo(0.3, 9);
    expect(mean.across[1]).toBeCloseTo(0.1, 9);
    expect(mean.down[0]).toBeCloseTo(-0.05, 9);
  });
});
