export { type ClipTimes, endOf, evenTimes, frameAt, frameRate, meantRate, nearestFrame } from './clip-times';
export {
  type FrameWeight,
  type LitWeights,
  type Timeline,
  soundSpeed,
  litWeights,
  timelineOf,
  trimOf,
} from './pace';
export { retimed } from './retime';
export { FootageNoise } from './noise-over-time';
export { brightnessOf, evenBrightness, flickerGains, lightGrid } from './deflicker';
export { MotionTracker, type Step as FollowStep, type Subject } from './tracking/motion-tracker';
export { bandOutline, discOutline, outlineBox } from './tracking/outline';
export {
  type Motion,
  rebaseCarryKeys,
  carryPath,
  trackedKeys,
  trackedNumbers,
} from './tracking/tracked-keys';
export { type Grey, greyOf, halved } from './tracking/pyramid';
export { frameLuma } from './luma';
export { FootageMends, type PlacedPatch } from './footage-mends';
export { areNumbered, inNaturalOrder, missingNumbers } from './sequence-names';
