import type { DepthMap } from '../recipe/focus-schema';
import type { FieldFunction } from './field-function';
import type { Size } from '../geometry/size';
import { type PackedBand, type PackedSide, affineBand, inverseFalloff } from './pack';
import { profileAt, profilePieces } from './profile';
import { type Raster, rasterAt } from '../geometry/raster';

/**
 * Haze as a function of depth 0..1. s = depth − focus, turned about where `swap` says that dark is near; u = clamp((|s|
 * − clear) / falloff of that side); h = haze x P(u), or haze − h inside out.
 */
export function depthProfile(how: DepthMap): (depth: number) => number {
  const pieces = profilePieces(how.profile);
  return (depth) => {
    const s = depthSign(how) * (depth - how.focus);
    const falloff = s >= 0 ? (how.nearFalloff ?? how.falloff) : how.falloff;
    const h = how.haze * profileAt(pieces, (Math.abs(s) - how.clear) * inverseFalloff(falloff));
    return how.invert ? how.haze - h : h;
  };
}

/** 1 where bright is near, −1 where dark is. */
export function depthSign(how: DepthMap): 1 | -1 {
  return how.swap ? -1 : 1;
}

export function depthField(how: DepthMap, map: Raster, size: Size): FieldFunction {
  const profile = depthProfile(how);
  return (x, y) => profile(rasterAt(map, x / size.width, y / size.height));
}

/** The parameters of `bandRow` for a row of s; the haze of the map is the greater of it and of what is there. */
export function packDepth(how: DepthMap): PackedBand {
  const side = (falloff: number): PackedSide => ({
    clear: how.clear,
    rate: inverseFalloff(falloff),
    from: how.invert ? how.haze : 0,
    to: how.invert ? 0 : how.haze,
  });
  return affineBand(
    { mode: 'haze', profile: how.profile },
    side(how.nearFalloff ?? how.falloff),
    side(how.falloff),
    { start: 0, perColumn: 0, perRow: 0 },
  );
}
