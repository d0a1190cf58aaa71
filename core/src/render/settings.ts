import type { ColourLut } from '../colour/cube';
import type { ColourSettings } from '../colour/step';
import type { FinishSettings } from '../finish/step';
import type { Blur, BlurLook } from '../blur/blur';
import type { Size } from '../geometry/size';
import {
  fieldKey,
  type ResolvedFocus,
  type FocusPictures,
  NO_PICTURES,
  resolveFocus,
  protectsAreas,
} from '../focus/field';
import { elementLayers } from '../layers/elements';
import type { LayerImage } from '../layers/image';
import { type LayerLook, layerKey } from '../layers/layer';
import { type LiftedSubject, liftedLayers } from '../layers/lifted';
import type { Recipe } from '../recipe/schema';
import type { Measured } from './measured';

/** A recipe as it is rendered: its field ready for the kernels, the rest as it is. Small enough for a message a frame. */
export interface RenderSettings extends ColourSettings, FinishSettings {
  field: ResolvedFocus;
  /** What is known of the whole source; where it is null and a step wants it, the picture in hand is measured. */
  measured: Measured | null;
  /** What lies over the picture, the nearest last. */
  layers: readonly LayerLook[];
  /** What is laid into the picture before it is blurred: the ground behind what is lifted off it. */
  grounds: readonly LayerLook[];
  /** The ground is seen also where nothing is hazy, as where the layers over it go elsewhere. */
  showsGround?: true;
}

/** What the files are that lie beside a recipe, decoded. */
export interface RecipeAssets extends FocusPictures {
  /** The table that its look names. */
  table: ColourLut | null;
  /** The pictures of its elements, by their names. */
  images: ReadonlyMap<string, LayerImage>;
  /** The subjects that are lifted off the picture, by the ids of their mattes. */
  lifted: ReadonlyMap<string, LiftedSubject>;
}

/** Of a recipe that names no files. */
export const NO_ASSETS: RecipeAssets = {
  ...NO_PICTURES,
  table: null,
  images: new Map(),
  lifted: new Map(),
};

/** A picture in sRGB that stays so. */
export const IN_SRGB: RenderSettings['primaries'] = { source: 'srgb', output: 'srgb' };

/** A recipe on a picture of a size. @param light see `RenderSettings`. @param measured of that picture. */
export function resolveRecipe(
  recipe: Recipe,
  picture: Size,
  companions: Partial<RecipeAssets> = {},
  light = 1,
  measured: Measured | null = null,
): RenderSettings {
  const { blur, colour, finish } = recipe;
  const { depth, keep, table, ...above } = { ...NO_ASSETS, ...companions };
  const field = resolveFocus(recipe.focus, picture, { depth, keep });
  const layered = layeredLook(recipe, picture, above, field);
  return {
    blur,
    colour,
    finish,
    table,
    light,
    primaries: IN_SRGB,
    measured,
    ...layered,
  };
}

/** A picture's field with what lies over it: lifted subjects, whose place in the field is that of the ground behind them, and elements. */
export function layeredLook(
  recipe: Pick<Recipe, 'elements' | 'focus'>,
  picture: Size,
  { images, lifted }: Pick<RecipeAssets, 'images' | 'lifted'>,
  field: ResolvedFocus,
): Pick<RenderSettings, 'field' | 'layers' | 'grounds'> {
  const { subjects, ...below } = liftedLayers(field, recipe.focus.mattes, lifted);
  return { ...below, layers: [...subjects, ...elementLayers(recipe, picture, images, field)] };
}

/** The settings that decide a render's memory layout. */
export type LayoutSettings = { blur: BlurLook } & ({ field: ResolvedFocus } | { focus: Recipe['focus'] });

/** True where a depth map is in force. */
export function hasDepth(look: LayoutSettings): boolean {
  if ('field' in look) return look.field.depth !== null;
  return look.focus.on && look.focus.depthMap?.on === true;
}

/** The same for looks that make the same of a picture. */
export function settingsKey({
  field,
  blur,
  colour,
  finish,
  table,
  light,
  primaries,
  layers,
  grounds,
  measured,
}: RenderSettings): string {
  const over = [...grounds, ...layers].map((layer) => [layerKey(layer), layer.opacity]);
  return [
    fieldKey(field),
    JSON.stringify([blur, colour, finish, table?.id, light, primaries, over, measured?.noise]),
  ].join();
}

/** True where what is made of a picture before its strips rests on the haze. */
export function restsOnHaze(blur: Blur<unknown>, look: RenderSettings): boolean {
  return look.field.depth !== null || blur.readsHaze(look.blur, protectsAreas(look.field));
}

/** What the passes of a blur rest on, besides the source. */
export function passKeys(blur: Blur<unknown>, look: RenderSettings, strength: number): (string | number)[] {
  const own = blur.passKey(look.blur);
  return restsOnHaze(blur, look) ? [own, fieldKey(look.field), strength] : [own];
}

/** What a strip is turned into: a picture, the coloured haze map, or the haze itself, one 16-bit sample a pixel. */
export type Content = 'picture' | 'haze-map' | 'haze16';

/** One picture to be rendered. */
export interface Job {
  /** Which of the view's slots holds its source and takes its output. */
  slot: number;
  /** Says which picture the source is: another one in the same memory has another key. */
  source: string;
  look: RenderSettings;
  content: Content;
  /** Number of the frame of footage: what is random differs from frame to frame. 0 where nothing is said. */
  frame?: number;
}
