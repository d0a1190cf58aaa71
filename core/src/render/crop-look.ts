import type { ResolvedFocus } from '../focus/field';
import { type Size, diagonal } from '../geometry/size';
import { type Placement, withPlacement } from '../geometry/raster';
import { transformStroke } from '../focus/strokes';
import type { LayerLook } from '../layers/layer';
import type { Band } from '../recipe/focus-schema';
import type { Recipe } from '../recipe/schema';
import { type CropGeometry, isUncropped, cropKey, cropOf, toCrop } from '../tidy/crop';
import { type RecipeAssets, type RenderSettings, resolveRecipe } from './look';
import type { SourceMeasures } from './measured';

type Point = [number, number];

/** How places, lengths and angles of a picture are said on a sheet of it, in the sheet's own measures. */
interface Measures {
  key: string;
  point(at: readonly [number, number]): Point;
  /** What every length is multiplied by. */
  longer: number;
  /** The direction of a line that has an angle, where its two ends are alike. */
  line(deg: number): number;
  /** The direction of something with a head. */
  arrow(deg: number): number;
  placement: Placement;
  flip: boolean;
}

function measuresOf(sheet: CropGeometry): Measures {
  const { picture, turn, flip, width, height, corner, u, v } = sheet;
  const along = (step: readonly [number, number], pixels: number): Point => [
    (step[0] * pixels) / picture.width,
    (step[1] * pixels) / picture.height,
  ];
  return {
    key: cropKey(sheet),
    point([x, y]) {
      const [sx, sy] = toCrop(sheet, [x * picture.width, y * picture.height]);
      return [sx / width, sy / height];
    },
    longer: diagonal(picture) / diagonal(sheet),
    line: (deg) => (flip ? turn - deg : deg - turn),
    arrow: (deg) => (flip ? 180 + turn - deg : deg - turn),
    placement: { corner: along(corner, 1), across: along(u, width), down: along(v, height) },
    flip,
  };
}

/** A look that was made for a picture, as it is on a sheet of it: everything stays on its subject. */
export function cropLook(look: RenderSettings, sheet: CropGeometry): RenderSettings {
  if (isUncropped(sheet)) return look;
  const measures = measuresOf(sheet);
  return {
    ...look,
    field: sheetField(look.field, measures),
    blur: sheetBlur(look.blur, measures),
    measured: look.measured && { ...look.measured, at: measures.placement },
    layers: look.layers.map((layer) => sheetLayer(layer, measures)),
    grounds: look.grounds.map((layer) => sheetLayer(layer, measures)),
  };
}

/** The same for a field alone. */
export function cropField(look: ResolvedFocus, sheet: CropGeometry): ResolvedFocus {
  return isUncropped(sheet) ? look : sheetField(look, measuresOf(sheet));
}

function sheetLayer(layer: LayerLook, measures: Measures): LayerLook {
  const { point, longer, flip } = measures;
  return {
    ...layer,
    centre: point(layer.centre),
    width: layer.width * longer,
    turn: measures.line(layer.turn),
    flip: layer.flip !== flip,
    field: sheetField(layer.field, measures),
  };
}

function sheetField(field: ResolvedFocus, measures: Measures): ResolvedFocus {
  const { key, placement } = measures;
  return {
    rest: field.rest,
    soundings: field.soundings.map(({ at, haze }) => ({ at: measures.point(at), haze })),
    depth: field.depth && { ...field.depth, map: withPlacement(field.depth.map, key, placement) },
    bands: field.bands.map((band) => sheetBand(band, measures)),
    ink: field.ink.map((ink) => transformStroke(ink, key, measures.point, measures.longer)),
    keep: field.keep.map((one) => ({ ...one, raster: withPlacement(one.raster, key, placement) })),
  };
}

function sheetBand(band: Band, { point, longer, line, arrow, flip }: Measures): Band {
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
      const radii: Point = [along * longer, across * longer];
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

function sheetBlur(
  blur: RenderSettings['blur'],
  { point, longer, line, arrow }: Measures,
): RenderSettings['blur'] {
  // Round a centre and out from one, the radius is a share of the way, not a length.
  const isShare = blur.kind === 'spin' || blur.kind === 'zoom';
  return {
    ...blur,
    radius: isShare ? blur.radius : blur.radius * longer,
    lens: { ...blur.lens, rotation: arrow(blur.lens.rotation) },
    motion: { angle: line(blur.motion.angle) },
    spin: { centre: point(blur.spin.centre) },
    zoom: { centre: point(blur.zoom.centre) },
    axis: { middle: point([0.5, 0.5]), reach: longer / 2 },
  };
}

/** A recipe as it is rendered on what it leaves of a picture; see `resolveRecipe`. */
export function resolveTidiedRecipe(
  recipe: Recipe,
  picture: Size,
  companions: Partial<RecipeAssets> = {},
  light = 1,
  measured: SourceMeasures | null = null,
): RenderSettings {
  return cropLook(resolveRecipe(recipe, picture, companions, light, measured), cropOf(recipe, picture));
}
