import type { Covariance, Likeness, Noise } from '../finish/grain/noise';
import { type ClipTimes, frameAt } from './clip-times';
import type { FrameWeight } from './pace';

/** Seconds over which the noise of footage is smoothed, and between the frames that it is measured on. */
const WINDOW = 1;
const STEP = WINDOW / 2;
/** Weights below this are rounding. */
const MIN_WEIGHT = 1e-9;

/**
 * The frames whose noise makes up that of a frame, with shares that add up to 1: of those at each half second the ones that
 * were shown in the second before, weighed by a raised cosine, so that the noise changes smoothly as they come and go.
 * None lies after the frame: who goes through footage in order has passed them all.
 */
export function noiseFrames(times: ClipTimes, frame: number): FrameWeight[] {
  const now = times.starts[frame]!;
  const newest = Math.floor(now / STEP);
  const found: FrameWeight[] = [];
  for (let k = newest; k >= 0 && now - k * STEP < WINDOW; k--) {
    const share = Math.sin((Math.PI * (now - k * STEP)) / WINDOW) ** 2;
    if (share > MIN_WEIGHT) found.push({ frame: frameAt(times, k * STEP), share });
  }
  const sum = found.reduce((all, { share }) => all + share, 0);
  // The first has nothing before it but itself.
  if (sum === 0) return [{ frame, share: 1 }];
  return found.map((one) => ({ ...one, share: one.share / sum }));
}

/** The mean of noises. @param shares that add up to 1. */
export function meanNoise(noises: readonly Noise[], shares: readonly number[]): Noise {
  const mean = <T extends readonly number[]>(of: (noise: Noise) => T): T =>
    of(noises[0]!).map((_, k) =>
      noises.reduce((sum, noise, i) => sum + shares[i]! * of(noise)[k]!, 0),
    ) as unknown as T;
  return {
    bins: noises[0]!.bins.map((_, i) => mean<Covariance>(({ bins }) => bins[i]!)),
    across: mean<Likeness>(({ across }) => across),
    down: mean<Likeness>(({ down }) => down),
  };
}

/** The noise that is left where frames are averaged whose noises know nothing of each other. @param shares of the frames, which add up to 1. */
export function noiseOfBlend(noise: Noise, shares: readonly FrameWeight[]): Noise {
  const left = shares.reduce((sum, { share }) => sum + share * share, 0);
  if (left === 1) return noise;
  return { ...noise, bins: noise.bins.map((bin) => bin.map((v) => v * left) as unknown as Covariance) };
}

/** What is known of the noise of the frames of footage. */
export class FootageNoise {
  private readonly known = new Map<number, Promise<Noise>>();

  /** @param measure the noise of a frame; it is asked once for each, and again where it failed. */
  constructor(private readonly measure: (frame: number) => Promise<Noise>) {}

  /**
   * The noise of a picture that shows a frame, see `noiseFrames`.
   * @param shares of the frames that it is averaged from. @throws what measuring throws.
   */
  async of(times: ClipTimes, frame: number, shares: readonly FrameWeight[]): Promise<Noise> {
    const frames = noiseFrames(times, frame);
    // In order: readers go forwards.
    const noises: Noise[] = [];
    for (const one of frames.toReversed()) noises.unshift(await this.at(one.frame));
    const mean = meanNoise(
      noises,
      frames.map(({ share }) => share),
    );
    return noiseOfBlend(mean, shares);
  }

  private at(frame: number): Promise<Noise> {
    let noise = this.known.get(frame);
    if (!noise) {
      noise = this.measure(frame);
      this.known.set(frame, noise);
      noise.catch(() => this.known.delete(frame));
    }
    return noise;
  }
}
