import type { Band, DepthMap, Focus, Sounding } from '../recipe/focus-schema';
import { bandField } from './bands';
import { depthField } from './depth-map';
import { carriedStroke } from './carry';
import type { FieldFunction } from './field-function';
import type { Size } from '../geometry/size';
import { type KeepMask, carriedKept, keptHaze } from './keep-mask';
import { type Raster, rasterAt } from '../geometry/raster';
import { soundingField } from './soundings';
import { type PackedStroke, strokeCoverage, packedStrokeOf, applyStroke } from './strokes';

/** The pictures that a focus names, decoded, each spanning the whole picture. */
export interface FocusPictures {
  /** The depth map, its edges aligned as the recipe says. */
  depth: Raster | null;
  /** All mattes that are on: 65535 keeps clear. */
  keep: readonly KeepMask[];
}

export const NO_PICTURES: FocusPictures = { depth: null, keep: [] };

/** The active parts of a focus, ready to compute; strokes and rasters are in shared memory. */
export interface ResolvedFocus {
  rest: number;
  soundings: readonly Sounding[];
  depth: { how: DepthMap; map: Raster } | null;
  bands: readonly Band[];
  strokes: readonly PackedStroke[];
  keep: readonly KeepMask[];
}

/** A focus on a picture of a size: strokes and mattes where they were carried to. */
export function resolveFocus(focus: Focus, picture: Size, { depth, keep } = NO_PICTURES): ResolvedFocus {
  const { rest, depthMap } = focus;
  if (!focus.on) return { rest, soundings: [], depth: null, bands: [], strokes: [], keep: [] };
  const ground = {
    rest,
    soundings: focus.soundingsOn ? focus.soundings : [],
    depth: depthMap?.on && depth ? { how: depthMap, map: depth } : null,
    bands: focus.bands.filter((band) => band.on),
  };
  const before = (): FieldFunction => fieldOf({ ...ground, strokes: [], keep: [] }, picture);
  return {
    ...ground,
    strokes: focus.strokesOn
      ? focus.strokes.map((stroke) => carriedStroke(packedStrokeOf(stroke), focus.strokesCarry, picture))
      : [],
    keep: carriedKept(keep, focus.mattes, picture, before),
  };
}

/** The same for fields that are the same. A stroke that grows keeps its id, but has more points. */
export function fieldKey({ rest, soundings, depth, bands, strokes, keep }: ResolvedFocus): string {
  return JSON.stringify([
    rest,
    soundings,
    depth && [depth.how, depth.map.id],
    bands,
    strokes.map(({ id, points }) => `${id}:${points.length}`).join(),
    strokes.at(-1)?.points.subarray(-4),
    keep.map(({ raster, combine, haze }) => [raster.id, combine, haze]),
  ]);
}

/** True where strokes, mattes or a depth map may keep things clear that have an outline of their own. */
export function protectsAreas({ strokes, keep, depth }: ResolvedFocus): boolean {
  return keep.length > 0 || depth !== null || strokes.some(({ mode }) => mode !== 'haze');
}

/**
 * The haze field as a function of a point of the picture. It starts as `rest`, or as what the soundings or the depth
 * map say (the greater of both, where there are both); then the bands speak in order, a clear band lowering the haze
 * to its own and a haze band raising it; then the strokes in order; then the mattes: H x (1 − keep), and
 * what stands gets the haze of its foot.
 */
export function focusField(focus: Focus, size: Size, pictures = NO_PICTURES): FieldFunction {
  return fieldOf(resolveFocus(focus, size, pictures), size);
}

export function fieldOf(look: ResolvedFocus, size: Size): FieldFunction {
  const starts: FieldFunction[] = [];
  if (look.soundings.length > 0) starts.push(soundingField(look.soundings, size));
  if (look.depth) starts.push(depthField(look.depth.how, look.depth.map, size));
  const bands = look.bands.map((band) => ({ clear: band.mode === 'clear', own: bandField(band, size) }));
  const strokes = look.strokes.map((stroke) => ({
    mode: stroke.mode,
    coverage: strokeCoverage(stroke, size),
  }));
  const { keep } = look;
  return (x, y) => {
    let haze = starts.length === 0 ? look.rest : Math.max(...starts.map((start) => start(x, y)));
    for (const { clear, own } of bands) haze = clear ? Math.min(haze, own(x, y)) : Math.max(haze, own(x, y));
    const before = haze;
    for (const { mode, coverage } of strokes) haze = applyStroke(mode, haze, before, coverage(x, y));
    return keptHaze(haze, keep, (raster) => rasterAt(raster, x / size.width, y / size.height));
  };
}
