import { type Region, diagonal } from '../../geometry/size';
import type { Blur, BlurLook } from '../blur';
import { type Path, type StreakPlan, planStreak } from './plan';
import { StreakWorker } from './worker';

interface Movement {
  strength: Blur<StreakPlan>['strength'];
  longest(most: number, region: Region): number;
  path(look: BlurLook, region: Region): Path;
  key(look: BlurLook): string;
  onCrop: Blur<StreakPlan>['onCrop'];
  radiusIsShare?: true;
}

/** A blur that is the mean along a path through each pixel. */
function streak({ strength, longest, path, key, ...crops }: Movement): Blur<StreakPlan> {
  return {
    strength,
    // A path reaches as far to both sides.
    reach: (look, picture) => longest(strength(look, picture), { x: 0, y: 0, ...picture, picture }) / 2 + 1,
    // About a centre it is so much halfway to the corners.
    averagingFootprint: ({ on, radius }, picture) => ({
      area: 1,
      radius: on ? radius * diagonal(picture) : 0,
    }),
    key,
    passKey: key,
    takesCover: false,
    spreads: false,
    readsHaze: (_look, keeps) => keeps,
    stripRows: 32,
    ...crops,
    plan: (frame, arena) => planStreak(frame, arena, longest),
    fillTables: () => undefined,
    passes: ({ height, short }) => (short ? [height, height] : [height]),
    worker: (use, own, frame, i) => new StreakWorker(use, own, frame, i, path),
  };
}

const centred = (centre: readonly [number, number], { x, y, picture }: Region): { a: number; b: number } => ({
  a: centre[0] * picture.width - 0.5 - x,
  b: centre[1] * picture.height - 0.5 - y,
});
/** Lengths are so many times the distance from the centre: at most a diagonal and more. */
const round = (most: number, { picture }: Region): number => most * diagonal(picture);

/** Along a direction; its strength is the streak's length in pixels. */
export const motion = streak({
  strength: ({ on, radius }, picture) => (on ? 2 * radius * diagonal(picture) : 0),
  longest: (most) => most,
  path: ({ motion: { angle } }) => ({
    kind: 0,
    a: Math.cos((angle * Math.PI) / 180),
    b: Math.sin((angle * Math.PI) / 180),
  }),
  key: ({ motion: look }) => JSON.stringify(look),
  onCrop: ({ motion: look }, { line }) => ({ motion: { angle: line(look.angle) } }),
});

/** Of movements about a centre the strength is the streak's length as a share of the distance from it. */
const share = ({ on, radius }: BlurLook): number => (on ? 4 * radius : 0);

export const spin = streak({
  strength: share,
  longest: round,
  path: ({ spin: look }, region) => ({ kind: 1, ...centred(look.centre, region) }),
  key: ({ spin: look }) => JSON.stringify(look),
  onCrop: ({ spin: look }, { point }) => ({ spin: { centre: point(look.centre) } }),
  radiusIsShare: true,
});

export const zoom = streak({
  strength: share,
  longest: round,
  path: ({ zoom: look }, region) => ({ kind: 2, ...centred(look.centre, region) }),
  key: ({ zoom: look }) => JSON.stringify(look),
  onCrop: ({ zoom: look }, { point }) => ({ zoom: { centre: point(look.centre) } }),
  radiusIsShare: true,
});
