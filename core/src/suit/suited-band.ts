import { type Size, diagonal } from '../geometry/size';
import { type PlanarBand, planarBandSchema } from '../recipe/focus-schema';
import type { SceneReading } from './scene-reading';

/** Clear to each side of the row in focus, as a share of its distance from the horizon, and what that is held to. */
const CLEAR = 0.13;
const MIN_CLEAR = 0.03;
const MAX_CLEAR = 0.09;
/** Share of the way to the farther end of the ground at which all is hazy. */
const REACH = 0.8;
const MIN_FALLOFF = 0.1;

/**
 * A planar band as a lens would draw it on level ground: there one over the distance falls evenly from row to row, and so
 * haze grows evenly from the row in focus to both sides; above the horizon there is no more ground to come.
 */
export function suggestBand({ row, horizon }: SceneReading, size: Size, id: string): PlanarBand {
  const perRow = size.height / diagonal(size);
  const top = Math.min(row - MIN_CLEAR, Math.max(0, horizon ?? 0));
  const clear = Math.min(MAX_CLEAR, Math.max(MIN_CLEAR, CLEAR * (row - (horizon ?? -row)) * perRow));
  const farther = Math.max(row - top, 1 - row) * perRow;
  const falloff = Math.max(MIN_FALLOFF, REACH * farther - clear);
  const side = { clear, falloff };
  return planarBandSchema.parse({
    id,
    kind: 'planar',
    centre: [0.5, row],
    near: side,
    far: side,
    profile: 'linear',
  });
}
