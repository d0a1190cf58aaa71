import {
  type Raster,
  type Recipe,
  type RecipePath,
  type Size,
  type Subject,
  bandOutline,
  toCurrentFrame,
  carriedRaster,
  discOutline,
  outlineBox,
  rasterBounds,
} from '@hazy-lens/core';
import type { Rasters } from '../../engine/rasters';
import { BLANK_MATTE } from '../../engine/rasters';
import { projectWords } from '../../words/project';

type Point = readonly [number, number];

/** How far around a sounding is looked, in diagonals. */
const AROUND_SOUNDING = 0.05;
/** How far around a subject that was cut out is looked at, too, as a share of the frame's longer side. */
const AROUND_SUBJECT = 0.03;
/** What is painted goes with the ground around it: there may be little to hold on to in it. */
const AROUND_PAINTED = 0.12;

/**
 * What is looked at when a part of a recipe is followed, on the frame in view: what lies in a band, the surroundings of a
 * sounding; where it was drawn or cut out, that place itself.
 * @throws Error with a sentence where there is nothing to follow yet.
 */
export async function followedSubject(
  recipe: Recipe,
  place: RecipePath,
  frame: Size,
  rasters: Pick<Rasters, 'get'>,
): Promise<Subject> {
  const { strokes, strokesCarry, mattes } = recipe.focus;
  const focus = (place[0] === 'elements' && recipe.elements[Number(place[1])]?.focus) || recipe.focus;
  if (place[0] === 'elements' && place.length === 2) {
    const { centre, width, carry } = recipe.elements[Number(place[1])]!;
    const half = (width * Math.hypot(frame.width, frame.height)) / 4;
    const [x, y] = [half / frame.width, half / frame.height];
    const ends: Point[] = [[centre[0] - x, centre[1] - y], [centre[0] + x, centre[1] + y]]; // prettier-ignore
    // It goes with the ground that it was put on.
    return { ...around(ends.map(toCurrentFrame(carry, frame)), frame, 0), isGround: true };
  }
  // What an element has of its own stands in its focus, as what the picture has does.
  const [, list, index] = place[0] === 'elements' ? place.slice(2) : place;
  if (list === 'strokesCarry') {
    if (strokes.length === 0) throw new Error(projectWords.noStrokesYetPaintOver);
    const point = toCurrentFrame(strokesCarry, frame);
    const places = strokes.flatMap(({ points }) => points.map(([x, y]) => point([x, y])));
    return { ...around(places, frame, AROUND_PAINTED), isGround: true };
  }
  if (list === 'mends') {
    const { points, carry } = recipe.tidy.mends[Number(index)]!;
    return { ...around(points.map(toCurrentFrame(carry, frame)), frame, AROUND_PAINTED), isGround: true };
  }
  if (list === 'mattes') {
    const { image, carry } = mattes[Number(index)]!;
    const raster = await rasters.get(image);
    const bounds = image === BLANK_MATTE ? null : rasterBounds(raster);
    if (!bounds) throw new Error(projectWords.theSubjectIsntCutOutYet);
    const { left, top, right, bottom } = bounds;
    const ends = ([[left, top], [right, top], [right, bottom], [left, bottom]] as const).map(toCurrentFrame(carry, frame)); // prettier-ignore
    return { ...around(ends, frame, AROUND_SUBJECT), outline: carriedRaster(raster, carry, frame) };
  }
  if (list === 'bands') {
    const band = focus.bands[Number(index)]!;
    const at = band.kind === 'linear' ? middleOf(band.start, band.end) : band.centre;
    const isGround = band.kind === 'planar' || band.kind === 'linear';
    return { ...outlined(bandOutline(band, frame), at, frame), isGround };
  }
  const { at } = focus.soundings[Number(index)]!;
  return outlined(discOutline(at, AROUND_SOUNDING, frame), at, frame);
}

const middleOf = (a: Point, b: Point): Point => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];

/** @throws Error with a sentence where nothing of an outline lies within the frame. */
function outlined(outline: Raster, [x, y]: Point, frame: Size): Subject {
  const box = outlineBox(outline, frame);
  if (!box) throw new Error(projectWords.theSubjectIsOutside);
  return { at: [x * frame.width - 0.5, y * frame.height - 0.5], box, outline };
}

/** The box around points, as far as it lies within the frame, and a little more. */
function around(points: readonly Point[], { width, height }: Size, more: number): Subject {
  const margin = more * Math.max(width, height);
  const xs = points.map(([x]) => Math.min(1, Math.max(0, x)) * width - 0.5);
  const ys = points.map(([, y]) => Math.min(1, Math.max(0, y)) * height - 0.5);
  const box = {
    left: Math.min(...xs) - margin,
    right: Math.max(...xs) + margin,
    top: Math.min(...ys) - margin,
    bottom: Math.max(...ys) + margin,
  };
  return { at: [(box.left + box.right) / 2, (box.top + box.bottom) / 2], box };
}
