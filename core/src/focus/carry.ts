import type { Carry } from '../recipe/carry-schema';
import type { Size } from '../geometry/size';
import { type Raster, withPlacement } from '../geometry/raster';
import { type Similarity, invert, transformPoint, scaleOf, rotationDeg } from '../geometry/similarity';
import { type PackedStroke, transformStroke } from './strokes';

type Point = [number, number];

/** Where it was drawn. */
export const IDENTITY_CARRY: Carry = { shift: [0, 0], turn: 0, scale: 1 };

export function isIdentityCarry({ shift, turn, scale }: Carry): boolean {
  return shift[0] === 0 && shift[1] === 0 && turn === 0 && scale === 1;
}

/** A carry as a map of a picture's points, in pixels from its corner. */
export function similarityOf({ shift, turn, scale }: Carry, { width, height }: Size): Similarity {
  const angle = (turn * Math.PI) / 180;
  const [a, b] = [scale * Math.cos(angle), scale * Math.sin(angle)];
  const [cx, cy] = [width / 2, height / 2];
  return {
    a,
    b,
    tx: cx + shift[0] * width - (a * cx - b * cy),
    ty: cy + shift[1] * height - (b * cx + a * cy),
  };
}

/** The carry that moves a picture's points so, in pixels from its corner. */
export function carryOf(similarity: Similarity, { width, height }: Size): Carry {
  const [cx, cy] = [width / 2, height / 2];
  const [x, y] = transformPoint(similarity, [cx, cy]);
  return {
    shift: [(x - cx) / width, (y - cy) / height],
    turn: rotationDeg(similarity),
    scale: scaleOf(similarity),
  };
}

/** A map of pixels as a map of fractions of the picture's width and height. */
function ofFractions(
  similarity: Similarity,
  { width, height }: Size,
): (at: readonly [number, number]) => Point {
  return ([x, y]) => {
    const [u, v] = transformPoint(similarity, [x * width, y * height]);
    return [u / width, v / height];
  };
}

/** Maps points of the frame it was drawn on to the current frame; both as fractions of the picture. */
export function toCurrentFrame(carry: Carry, picture: Size): (at: readonly [number, number]) => Point {
  return ofFractions(similarityOf(carry, picture), picture);
}

/** The other way: where a place of the frame in view was on the frame that something was drawn on. */
export function toOriginFrame(carry: Carry, picture: Size): (at: readonly [number, number]) => Point {
  return ofFractions(invert(similarityOf(carry, picture)), picture);
}

const keyOf = (carry: Carry, { width, height }: Size): string => JSON.stringify([carry, width / height]);

export function carriedStroke(stroke: PackedStroke, carry: Carry, picture: Size): PackedStroke {
  if (isIdentityCarry(carry)) return stroke;
  return transformStroke(stroke, keyOf(carry, picture), toCurrentFrame(carry, picture), carry.scale);
}

export function carriedRaster(raster: Raster, carry: Carry, picture: Size): Raster {
  if (isIdentityCarry(carry)) return raster;
  const home = toOriginFrame(carry, picture);
  const corner = home([0, 0]);
  const step = ([x, y]: Point): Point => [x - corner[0], y - corner[1]];
  const placement = { corner, across: step(home([1, 0])), down: step(home([0, 1])) };
  return withPlacement(raster, keyOf(carry, picture), placement);
}
