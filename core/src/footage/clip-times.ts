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

/** The rate that the frames come at, by the middle one of their spans. */
export function frameRate(times: ClipTimes): number {
  const spans = Array.from(times.starts, (start, i) => endOf(times, i) - start).sort((a, b) => a - b);
  const span = spans[spans.length >> 1] ?? 0;
  if (!(span > 0)) return 30;
  const rate = 1 / span;
  // A rate that is meant as a whole number, or as one by 1.001, comes out beside it.
  const near = [Math.round(rate), Math.round(rate * 1.001) / 1.001].find(
    (r) => Math.abs(r - rate) < rate * 2e-4,
  );
  return near ?? rate;
}
