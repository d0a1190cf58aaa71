import type { Size } from '../geometry/size';
import type { Recipe } from '../recipe/schema';
import type { Crop } from '../recipe/tidy-schema';

/** A place or a step in pixels, x and y. */
export type Vector = readonly [number, number];

/** A pair made of what holds for x and for y. */
export const both = (of: (axis: 0 | 1) => number): [number, number] => [of(0), of(1)];

/**
 * What is left of a picture when it is cropped: a sheet cut out of it. Its columns run along `u` and its rows along `v`,
 * both of length 1, from a corner on, in pixels of the picture.
 */
export interface CropGeometry extends Size {
  picture: Size;
  corner: Vector;
  u: Vector;
  v: Vector;
  /** Degrees that it is turned by, clockwise. */
  turn: number;
  /** Left and right have changed places. */
  flip: boolean;
}

/** All of a picture. */
export function fullCrop({ width, height }: Size): CropGeometry {
  const picture = { width, height };
  return { ...picture, picture, corner: [0, 0], u: [1, 0], v: [0, 1], turn: 0, flip: false };
}

/** True where a sheet is all of its picture, as it came. */
export function isUncropped({ width, height, picture, turn, flip }: CropGeometry): boolean {
  return width === picture.width && height === picture.height && turn === 0 && !flip;
}

/** True where the pixels of a sheet are pixels of the picture, in the same order. */
export function isPixelAligned({ turn, flip }: CropGeometry): boolean {
  return turn === 0 && !flip;
}

/** The same for sheets that are the same. */
export function cropKey(sheet: CropGeometry): string {
  const { width, height, corner, turn, flip } = sheet;
  return isUncropped(sheet) ? '' : [width, height, corner, turn, flip].join();
}

/** Half the width and half the height of the upright box around a turned rectangle. */
function reachOf(width: number, height: number, turn: number): [number, number] {
  const [cos, sin] = directionOf(turn).map(Math.abs) as [number, number];
  return [(width * cos + height * sin) / 2, (width * sin + height * cos) / 2];
}

/** Cosine and sine of an angle in degrees; exact for quarter turns. */
function directionOf(turn: number): Vector {
  const a = (turn * Math.PI) / 180;
  const exact = turn % 90 === 0 ? Math.round : (value: number) => value;
  return [exact(Math.cos(a)), exact(Math.sin(a))];
}

const held = (value: number, least: number, most: number): number => Math.min(most, Math.max(least, value));

/**
 * A crop that lies inside a picture: one that reaches beyond it is made smaller, its form kept, until it fits, and moved
 * in.
 */
export function insideCrop<C extends Crop>(crop: C, { width, height }: Size): C {
  const { centre, size, turn } = crop;
  const [across, down] = reachOf(size[0] * width, size[1] * height, turn);
  const smaller = Math.min(1, width / 2 / across, height / 2 / down);
  const [x, y] = [(across * smaller) / width, (down * smaller) / height];
  const moved: [number, number] = [held(centre[0], x, 1 - x), held(centre[1], y, 1 - y)];
  if (smaller === 1 && moved[0] === centre[0] && moved[1] === centre[1]) return crop;
  return { ...crop, centre: moved, size: [size[0] * smaller, size[1] * smaller] };
}

/** Rounding: a side that comes as near as this to a whole number of pixels is meant as one. */
const NEARLY = 1e-3;

/**
 * The sheet that a crop makes of a picture. Its sides are whole pixels; where it is turned by quarters at most its
 * corner is, too, so that every pixel of it is one of the picture's.
 */
export function cropGeometry(crop: Crop, picture: Size): CropGeometry {
  const { centre, size, turn, flip } = insideCrop(crop, picture);
  const isSquare = turn % 90 === 0;
  const lies = turn % 180 !== 0;
  const side = (length: number, most: number): number =>
    isSquare ? held(Math.round(length), 1, most) : Math.max(1, Math.floor(length + NEARLY));
  const width = side(size[0] * picture.width, lies ? picture.height : picture.width);
  const height = side(size[1] * picture.height, lies ? picture.width : picture.height);
  const [cos, sin] = directionOf(turn);
  const u: Vector = flip ? [-cos, -sin] : [cos, sin];
  const v: Vector = [-sin, cos];
  const box = reachOf(width, height, turn);
  const corner = both((i) => {
    const full = i === 0 ? picture.width : picture.height;
    const least = centre[i] * full - box[i];
    const start = isSquare ? held(Math.round(least), 0, full - 2 * box[i]) : least;
    // From the box's corner to the sheet's.
    return start + box[i] - (u[i] * width + v[i] * height) / 2;
  });
  const { width: w, height: h } = picture;
  return {
    width,
    height,
    picture: { width: w, height: h },
    corner,
    u,
    v,
    turn,
    flip,
  };
}

/** A place of a sheet in its picture, both in pixels. */
export function toPicture({ corner, u, v }: CropGeometry, [x, y]: Vector): [number, number] {
  return [corner[0] + x * u[0] + y * v[0], corner[1] + x * u[1] + y * v[1]];
}

/** A place of a picture on its sheet, both in pixels. */
export function toCrop({ corner, u, v }: CropGeometry, [x, y]: Vector): [number, number] {
  const [dx, dy] = [x - corner[0], y - corner[1]];
  return [dx * u[0] + dy * u[1], dx * v[0] + dy * v[1]];
}

/** What a recipe leaves of a picture. */
export function cropOf({ tidy }: Pick<Recipe, 'tidy'>, picture: Size): CropGeometry {
  return tidy.on ? cropGeometry(tidy.crop, picture) : fullCrop(picture);
}
