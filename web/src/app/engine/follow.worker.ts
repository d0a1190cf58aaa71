import './memory-stand-in';
import {
  MotionTracker,
  type FollowStep,
  type FrameFormat,
  type Grey,
  type Size,
  type Subject,
  frameLuma,
  greyOf,
  halved,
} from '@hazy-lens/core';
import { expose } from 'comlink';

/** Frames larger than this are followed at half their size: a quarter of a pixel there is half of one here. */
const MAX_WIDTH = 1500;

let follower: MotionTracker;
let how: { format: FrameFormat; size: Size; halvings: number };

function greyFrame(pixels: SharedArrayBuffer): Grey {
  const { format, size, halvings } = how;
  let grey = greyOf(frameLuma(pixels, format, size), size.width, size.height);
  for (let i = 0; i < halvings; i++) grey = halved(grey);
  return grey;
}

/** Follows one subject through frames that come in order. */
const worker = {
  begin(pixels: SharedArrayBuffer, format: FrameFormat, { width, height }: Size, subject: Subject): void {
    const halvings = Math.max(0, Math.ceil(Math.log2(width / MAX_WIDTH)));
    how = { format, size: { width, height }, halvings };
    const scale = 2 ** -halvings;
    const small = (value: number): number => (value + 0.5) * scale - 0.5;
    const { at, box } = subject;
    follower = new MotionTracker(greyFrame(pixels), {
      ...subject,
      at: [small(at[0]), small(at[1])],
      box: { left: small(box.left), top: small(box.top), right: small(box.right), bottom: small(box.bottom) },
    });
  },

  next(pixels: SharedArrayBuffer): FollowStep {
    const step = follower.next(greyFrame(pixels));
    if (how.halvings === 0) return step;
    const scale = 2 ** how.halvings;
    const { a, b, tx, ty } = step.motion;
    // The middle of the first pixel lies at half a pixel, whatever the size.
    const half = (scale - 1) / 2;
    return {
      ...step,
      apart: step.apart * scale,
      motion: {
        a,
        b,
        tx: scale * tx + half * (1 - a + b),
        ty: scale * ty + half * (1 - b - a),
      },
    };
  },
};

export type FollowWorker = typeof worker;

expose(worker);
