import { type Size, diagonal } from '../../geometry/size';
import type { Blur, BlurLook } from '../blur';
import { FRINGE } from './aperture';
import { type LensPlan, fillLensTables, planLens } from './plan';
import { LensWorker } from './worker';

/** Radius of the aperture in pixels where haze is 1. */
const radiusOf = ({ on, radius }: BlurLook, picture: Size): number => (on ? radius * diagonal(picture) : 0);

/** Blur by an aperture; its strength is the radius in pixels where haze is 1. */
export const lens: Blur<LensPlan> = {
  strength: radiusOf,
  reach: (look, picture) => {
    const { squeeze, fringe } = look.lens;
    const stretched = Math.sqrt(Math.max(squeeze, 1 / squeeze)) * (1 + FRINGE * Math.abs(fringe));
    return radiusOf(look, picture) * stretched + 1;
  },
  averagingFootprint: (look, picture) => ({ area: 2, radius: radiusOf(look, picture) }),
  key: ({ lens: look, axis }) => JSON.stringify([look, look.cat > 0 && axis]),
  passKey: ({ lens: { highlights } }) => JSON.stringify(highlights),
  takesCover: false,
  spreads: true,
  readsHaze: () => true,
  onCrop: ({ lens: look }, { arrow }) => ({ lens: { ...look, rotation: arrow(look.rotation) } }),
  stripRows: 64,
  plan: planLens,
  fillTables: fillLensTables,
  // All lamps at once, first: which pixels are one shows only when all are seen.
  passes: ({ levels, tiles }) => [1, ...(tiles ? [tiles.count] : []), ...levels.map(({ count }) => count)],
  worker: (use, own, frame, i) => new LensWorker(use, own, frame, i),
};
