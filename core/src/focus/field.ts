import type { Focus } from '../recipe/schema';
import { type Size, diagonal, planarFrame, planarProfile } from './planar';

/** The bands that speak, in order. */
export function activeBands(focus: Focus): Focus['bands'] {
  return focus.on ? focus.bands.filter((band) => band.on) : [];
}

/**
 * The haze field as a function of a point of the picture, in pixels (pixel (i, j) has its centre at
 * (i + 0.5, j + 0.5)); 0..1. Bands speak in order: a clear band lowers the haze to its own, a haze band raises it.
 */
export function hazeField(focus: Focus, size: Size): (x: number, y: number) => number {
  const d = diagonal(size);
  const bands = activeBands(focus).map((band) => ({
    clear: band.mode === 'clear',
    frame: planarFrame(band, size),
    profile: planarProfile(band),
  }));
  return (x, y) => {
    let haze = focus.rest;
    for (const { clear, frame, profile } of bands) {
      const own = profile(((x - frame.x) * frame.normalX + (y - frame.y) * frame.normalY) / d);
      haze = clear ? Math.min(haze, own) : Math.max(haze, own);
    }
    return haze;
  };
}

/** A change of blur radius of this many pixels per pixel of picture shows as a seam. */
export const SEAM_STEEPNESS = 0.35;
