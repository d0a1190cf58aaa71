import type { ResolvedFocus } from '../focus/field';
import { cropBlur } from '../blur';
import type { Size } from '../geometry/size';
import { withPlacement } from '../geometry/raster';
import { transformStroke } from '../focus/strokes';
import type { LayerLook } from '../layers/layer';
import type { Band } from '../recipe/focus-schema';
import type { Recipe } from '../recipe/schema';
import { type CropGeometry, cropOf, isUncropped } from '../tidy/crop';
import { type CropTransform, cropTransform } from '../tidy/crop-transform';
import { type RecipeAssets, type RenderSettings, resolveRecipe } from './settings';
import type { Measured } from './measured';

/** A look that was made for a picture, as it is on a sheet of it: everything stays on its subject. */
export function cropLook(look: RenderSettings, geometry: CropGeometry): RenderSettings {
  if (isUncropped(geometry)) return look;
  const crop = cropTransform(geometry);
  return {
    ...look,
    field: cropFocus(look.field, crop),
    blur: cropBlur(look.blur, crop),
    measured: look.measured && { ...look.measured, at: crop.placement },
    layers: look.layers.map((layer) => cropLayer(layer, crop)),
    grounds: look.grounds.map((layer) => cropLayer(layer, crop)),
  };
}

/** The same for a field alone. */
export function cropField(look: ResolvedFocus, geometry: CropGeometry): ResolvedFocus {
  return isUncropped(geometry) ? look : cropFocus(look, cropTransform(geometry));
}

function cropLayer(layer: LayerLook, crop: CropTransform): LayerLook {
  const { point, longer, flip } = crop;
  return {
    ...layer,
    centre: point(layer.centre),
    width: layer.width * longer,
    turn: crop.line(layer.turn),
    flip: layer.flip !== flip,
    field: cropFocus(layer.field, crop),
  };
}

function cropFocus(field: ResolvedFocus, crop: CropTransform): ResolvedFocus {
  const { key, placement } = crop;
  return {
    rest: field.rest,
    soundings: field.soundings.map(({ at, haze }) => ({ at: crop.point(at), haze })),
    depth: field.depth && { ...field.depth, map: withPlacement(field.depth.map, key, placement) },
    bands: field.bands.map((band) => cropBand(band, crop)),
    strokes: field.strokes.map((stroke) => transformStroke(stroke, key, crop.point, crop.longer)),
    keep: field.keep.map((one) => ({ ...one, raster: withPlacement(one.raster, key, placement) })),
  };
}

function cropBand(band: Band, { point, longer, line, arrow, flip }: CropTransform): Band {
  switch (band.kind) {
    case 'planar': {
      const side = (one: typeof band.near): typeof band.near => ({
        ...one,
        clear: one.clear * longer,
        falloff: one.falloff * longer,
      });
      const { near, far, centre, angle } = band;
      return { ...band, centre: point(centre), angle: line(angle), near: side(near), far: side(far) };
    }
    case 'linear':
      return { ...band, start: point(band.start), end: point(band.end) };
    case 'elliptical': {
      const [along, across] = band.radii;
      const radii: [number, number] = [along * longer, across * longer];
      return { ...band, centre: point(band.centre), angle: line(band.angle), radii };
    }
    case 'iris': {
      // Seen from behind, what came clockwise comes the other way round.
      const around = (ratios: typeof band.falloff): typeof band.falloff => {
        const [first, ...rest] = ratios;
        return flip ? ([first, ...rest.reverse()] as typeof ratios) : ratios;
      };
      const [outline, falloff] = [around(band.outline), around(band.falloff)];
      const { centre, angle, radius } = band;
      return {
        ...band,
        centre: point(centre),
        angle: arrow(angle),
        radius: radius * longer,
        outline,
        falloff,
      };
    }
  }
}

/** A recipe as it is rendered on what it leaves of a picture; see `resolveRecipe`. */
export function resolveTidiedRecipe(
  recipe: Recipe,
  picture: Size,
  companions: Partial<RecipeAssets> = {},
  light = 1,
  measured: Measured | null = null,
): RenderSettings {
  return cropLook(resolveRecipe(recipe, picture, companions, light, measured), cropOf(recipe, picture));
}
