import { monotoneCubic } from '../geometry/monotone';
import type { Pace } from '../recipe/pace-schema';
import { type ClipTimes, dueFrame, endOf, frameAt, frameRate, meantRate } from './clip-times';

/** A frame of the source, and its share in a picture. */
export interface FrameWeight {
  frame: number;
  share: number;
}

/** What becomes of footage: its pictures in order. */
export interface Timeline {
  /** Pictures that are shown. */
  frames: number;
  /** Pictures a second. */
  fps: number;
  /** Time of the source that is due at picture i. */
  timeOf(i: number): number;
  /**
   * The frame of the source that picture i shows; where it is averaged from several, the one with the greatest share.
   * What depends on time is taken at this frame's own time.
   */
  frameOf(i: number): number;
  /** The frames of the source that picture i is averaged from; the shares sum to 1. */
  sharesOf(i: number): FrameWeight[];
  /** The picture that shows a time of the source, or comes nearest to it. */
  pictureAt(time: number): number;
  /** The part of the source that is shown. */
  from: number;
  to: number;
}

/** Steps a second, and at most, in which a curve of speed is added up. */
const CURVE_STEPS = 240;
const MAX_STEPS = 20_000;
/** Pictures that are due within so little of the end are shown. */
const TOLERANCE = 1e-6;

/** Frames that are averaged, and what the light of all of them together is multiplied by. */
export interface LitWeights {
  shares: FrameWeight[];
  light: number;
}

/**
 * The frames of a picture, each with its own light made even. The shares sum to 1 all the same: what is left of it is a
 * factor for all of the picture. @param gains what the light of each frame of the source is multiplied by; null for 1.
 */
export function litWeights(shares: FrameWeight[], gains: ArrayLike<number> | null): LitWeights {
  if (!gains) return { shares, light: 1 };
  const light = shares.reduce((sum, { frame, share }) => sum + share * gains[frame]!, 0);
  return {
    light,
    shares: shares.map(({ frame, share }) => ({ frame, share: (share * gains[frame]!) / light })),
  };
}

/** The part of a clip that a pace keeps; the whole where the trim lies outside of it. */
export function trimOf({ trim }: Pick<Pace, 'trim'>, times: ClipTimes): [number, number] {
  const [from, to] = trim ?? [0, times.end];
  const end = Math.min(to, times.end);
  return from < end ? [from, end] : [0, times.end];
}

/** The speed at which sound goes along with a pace: 1 leaves it as it is. Null where it cannot, or is not wanted. */
export function soundSpeed({ on, speed, curve, direction, stretchAudio }: Pace): number | null {
  if (!on) return 1;
  const isEven = curve === null && direction === 'forward';
  return isEven && (speed === 1 || stretchAudio) ? speed : null;
}

/** Seconds that are shown when the source has got to a time, at each of many even steps through its part. */
function shownSeconds(pace: Pace, from: number, to: number): { step: number; at: Float64Array } {
  const count = Math.max(1, Math.min(MAX_STEPS, Math.ceil((to - from) * CURVE_STEPS)));
  const step = (to - from) / count;
  const speed = pace.curve ? monotoneCubic(pace.curve) : () => pace.speed;
  const at = new Float64Array(count + 1);
  for (let i = 0; i < count; i++) at[i + 1] = at[i]! + step / speed(from + (i + 0.5) * step);
  return { step, at };
}

/**
 * The pictures of footage at a pace. At speed v the source's time goes on by v seconds in each second that is shown;
 * with a curve v is its value at the source's own time, added up in fine steps.
 */
export function timelineOf(pace: Pace, times: ClipTimes): Timeline {
  const [from, to] = pace.on ? trimOf(pace, times) : [0, times.end];
  const fps = pace.on && pace.fps ? meantRate(pace.fps) : frameRate(times);
  const shown = pace.on
    ? shownSeconds(pace, from, to)
    : { step: to - from, at: Float64Array.of(0, to - from) };
  const length = shown.at[shown.at.length - 1]!;
  const oneWay = Math.max(1, Math.floor(length * fps + TOLERANCE * fps) || Math.round(length * fps));
  const direction = pace.on ? pace.direction : 'forward';
  // There and back shows both ends once, so that it loops evenly.
  const frames = direction === 'bounce' ? Math.max(1, 2 * oneWay - 2) : oneWay;
  const hold = pace.on ? pace.hold : 1;

  /** The source's time when so many seconds were shown. */
  const sourceTime = (seconds: number): number => {
    const { step, at } = shown;
    let [low, high] = [0, at.length - 2];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (at[middle]! <= seconds) low = middle;
      else high = middle - 1;
    }
    const span = at[low + 1]! - at[low]!;
    return Math.min(to, from + step * (low + (span > 0 ? (seconds - at[low]!) / span : 0)));
  };
  /** Which picture of the way forward it is. */
  const forward = (i: number): number => {
    const held = Math.floor(Math.min(frames - 1, Math.max(0, i)) / hold) * hold;
    if (direction === 'reverse') return oneWay - 1 - held;
    return held < oneWay ? held : 2 * oneWay - 2 - held;
  };
  const timeOf = (i: number): number => sourceTime(forward(i) / fps);
  const last = frameAt(times, to - 1e-5);
  const kept = (frame: number): number => Math.min(last, Math.max(frameAt(times, from), frame));

  const sharesOf = (i: number): FrameWeight[] => {
    const begin = timeOf(i);
    const shown = [{ frame: kept(dueFrame(times, begin)), share: 1 }];
    if (!pace.on || pace.blend === 0) return shown;
    const end = sourceTime((forward(i) + pace.blend) / fps);
    if (!(end > begin)) return shown;
    const shares: FrameWeight[] = [];
    for (let frame = kept(frameAt(times, begin)); frame <= kept(frameAt(times, end)); frame++) {
      const overlap = Math.min(end, endOf(times, frame)) - Math.max(begin, times.starts[frame]!);
      if (overlap > 1e-9) shares.push({ frame, share: overlap / (end - begin) });
    }
    const total = shares.reduce((sum, { share }) => sum + share, 0);
    // Within one frame there is nothing to average.
    return shares.length < 2 ? shown : shares.map(({ frame, share }) => ({ frame, share: share / total }));
  };
  return {
    frames,
    fps,
    from,
    to,
    timeOf,
    sharesOf,
    frameOf: (i) => sharesOf(i).reduce((most, one) => (one.share > most.share + 1e-9 ? one : most)).frame,
    pictureAt(time) {
      let [low, high] = [0, oneWay - 1];
      while (low < high) {
        const middle = (low + high + 1) >> 1;
        if (sourceTime(middle / fps) <= time + TOLERANCE) low = middle;
        else high = middle - 1;
      }
      return direction === 'reverse' ? oneWay - 1 - low : low;
    },
  };
}
