/** When the frames of footage are shown, in seconds of its own time. */
export interface ClipTimes {
  /** When each frame begins, from 0 on and upwards. */
  starts: ArrayLike<number>;
  /** When the last one ends. */
  end: number;
}

/** Frames at an even rate. */
export function evenTimes(frames: number, fps: number): ClipTimes {
  return { starts: Float64Array.from({ length: frames }, (_, i) => i / fps), end: frames / fps };
}

/** A microsecond: times that come from files are rounded. */
const TOLERANCE = 1e-6;

/** The frame that is shown at a time; the first before the beginning, the last after the end. */
export function frameAt({ starts }: ClipTimes, time: number): number {
  let [low, high] = [0, starts.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (starts[middle]! <= time + TOLERANCE) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** Files keep times in ticks of up to a millisecond: a frame may begin so much later than it ought to. */
const TICK = 1e-3;

/** The frame that a picture shows which is due at a time: the one that is shown until the next begins. */
export function dueFrame(times: ClipTimes, time: number): number {
  return frameAt(times, time + TICK);
}

/** The frame whose beginning is nearest to a time. */
export function nearestFrame(times: ClipTimes, time: number): number {
  const before = frameAt(times, time);
  const after = times.starts[before + 1];
  return after !== undefined && after - time < time - times.starts[before]! - TOLERANCE ? before + 1 : before;
}

/** When a frame ends: where the next begins. */
export function endOf({ starts, end }: ClipTimes, frame: number): number {
  return starts[frame + 1] ?? end;
}

/** How far a rate may lie beside one that is meant, as a share of it. */
const MIN_TOLERANCE = 2e-4;

/**
 * The rate that the frames come at, by all of their times: each span is so many steps of an even rate, the middle span is
 * one. A frame that is held for long does not change it, and ticks do not either.
 */
export function frameRate(times: ClipTimes): number {
  const spans = Array.from(times.starts, (start, i) => endOf(times, i) - start);
  // How long the last one is shown files say in many ways.
  const between = spans.length > 1 ? spans.slice(0, -1) : spans;
  const middle = [...between].sort((a, b) => a - b)[between.length >> 1] ?? 0;
  if (!(middle > 0)) return 30;
  const even = between.filter((span) => Math.abs(span - middle) < middle / 2);
  const step = even.reduce((sum, span) => sum + span, 0) / even.length;
  const steps = between.reduce((sum, span) => sum + Math.max(1, Math.round(span / step)), 0);
  const length = between.reduce((sum, span) => sum + span, 0);
  const rate = steps / length;
  const tolerance = Math.max(MIN_TOLERANCE, TICK / length);
  return meantRates(rate).find((one) => Math.abs(one - rate) < rate * tolerance) ?? rate;
}

/** A rate that is meant as a whole number, or as one by 1.001, comes out beside it. */
const meantRates = (rate: number): number[] => [Math.round(rate), (Math.round(rate * 1.001) * 1000) / 1001];

/** A rate as it is meant where it was typed: 29.97 is 30000 / 1001. */
export function meantRate(typed: number): number {
  const [whole, broken] = meantRates(typed) as [number, number];
  return whole !== typed && Math.abs(broken - typed) < 5e-3 ? broken : typed;
}
