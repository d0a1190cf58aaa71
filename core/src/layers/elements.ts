import { IDENTITY_CARRY, toCurrentFrame, isIdentityCarry } from '../focus/carry';
import { type ResolvedFocus, fieldOf } from '../focus/field';
import { type Size, diagonal } from '../geometry/size';
import type { Element } from '../recipe/element-schema';
import type { Recipe } from '../recipe/schema';
import type { LayerImage } from './image';
import type { LayerLook } from './layer';
import type { LayerPlace } from './placing';

/** Where an element lies on the frame in view: carried there from where it was put. */
export function elementPlace(
  { centre, width, turn, flip, carry = IDENTITY_CARRY }: LayerPlace & Partial<Pick<Element, 'carry'>>,
  picture: Size,
): LayerPlace {
  if (isIdentityCarry(carry)) return { centre, width, turn, flip };
  return {
    centre: toCurrentFrame(carry, picture)(centre),
    width: width * carry.scale,
    turn: turn + carry.turn,
    flip,
  };
}

/** Width and height in pixels of an element on a picture. */
export function elementSize({ width }: Pick<LayerPlace, 'width'>, picture: Size, image: Size): Size {
  const wide = width * diagonal(picture);
  return { width: wide, height: (wide * image.height) / image.width };
}

/** The haze of an element: its own focus, or the haze of the picture where it stands. @param below the picture's field. */
export function elementField({ focus, foot }: Element, picture: Size, below: ResolvedFocus): ResolvedFocus {
  const empty = { depth: null, strokes: [], keep: [] };
  if (foot) {
    const at = fieldOf({ ...below, strokes: [], keep: [] }, picture);
    return {
      ...empty,
      rest: at(foot[0] * picture.width, foot[1] * picture.height),
      soundings: [],
      bands: [],
    };
  }
  return {
    ...empty,
    rest: focus.rest,
    soundings: focus.soundingsOn ? focus.soundings : [],
    bands: focus.bands.filter((band) => band.on),
  };
}

/**
 * The elements of a recipe that are on and whose pictures are there, as layers, the nearest last.
 * @param images by the names that elements give them. @param below the picture's own field.
 */
export function elementLayers(
  { elements }: Pick<Recipe, 'elements'>,
  picture: Size,
  images: ReadonlyMap<string, LayerImage>,
  below: ResolvedFocus,
): LayerLook[] {
  return elements.flatMap((element) => {
    const image = images.get(element.image);
    if (!element.on || !image) return [];
    const { id, opacity } = element;
    const field = elementField(element, picture, below);
    return [{ id, image, opacity, field, ...elementPlace(element, picture) }];
  });
}
