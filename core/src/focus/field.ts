import type { Focus } from '../recipe/schema';
import { type Size, planarDistance, planarProfileAt } from './planar';

/** The bands that speak, in order. */
export function activeBands(focus: Focus): Focus['bands'] {
  return focus.on ? focus.bands.filter((band) => band.on) : [];
}

/**
 * The haze field at a point of the picture, in pixels (pixel (i, j) has its centre at (i + 0.5, j + 0.5)); 0..1.
 * Bands speak in order: a clear band lowers the haze to its own, a haze band raises it.
 */
export function hazeAt(focus: Focus, size: Size, x: number, y: number): number {
  let haze = focus.rest;
  for (const band of activeBands(focus)) {
    const own = planarProfileAt(band, planarDistance(band, size, x, y));
    haze = band.mode === 'clear' ? Math.min(haze, own) : Math.max(haze, own);
  }
  return haze;
}

/** A change of blur radius of this many pixels per pixel of picture shows as a seam. */
export const SEAM_STEEPNESS = 0.35;
