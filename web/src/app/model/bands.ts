import {
  type Band,
  type BandKind,
  type ElementFocus,
  type Point,
  type Size,
  bandSchema,
  diagonal,
} from '@hazy-lens/core';
import { current, isDraft } from 'immer';

export const KIND_NAMES: Record<BandKind, string> = {
  planar: 'Planar',
  linear: 'Linear',
  elliptical: 'Elliptical',
  iris: 'Iris',
};

/** What a band is called: its own name, or its kind and which of its kind it is. */
export function bandName(
  band: Pick<Band, 'id' | 'kind' | 'name'>,
  focus: Pick<ElementFocus, 'bands'>,
): string {
  if (band.name) return band.name;
  const kin = focus.bands.filter((one) => one.kind === band.kind);
  return `${KIND_NAMES[band.kind]} ${kin.findIndex((one) => one.id === band.id) + 1}`;
}

/** Most letters that the name of a band may have. */
const LONGEST_NAME = 80;

/** Shorter drags than this share of the diagonal are clicks: they place a band of a good size. */
const MIN_DRAG = 0.012;

/**
 * A band of a kind placed by a drag between two points of the picture (fractions): a planar line through the first,
 * turned to the second; a gradient from the first to the second; an ellipse or iris round the first, reaching to the
 * second.
 */
export function bandFromDrag(kind: BandKind, start: Point, end: Point, size: Size, id: string): Band {
  // A hand may come from far off a picture that is shown small.
  const [from, to] = [start, end].map(([x, y]): Point => [clampCoordinate(x), clampCoordinate(y)]) as [
    Point,
    Point,
  ];
  const [dx, dy] = [(to[0] - from[0]) * size.width, (to[1] - from[1]) * size.height];
  const far = Math.hypot(dx, dy);
  const length = far / diagonal(size);
  const isDrag = length >= MIN_DRAG;
  const angle = (Math.atan2(dy, dx) * 180) / Math.PI;
  switch (kind) {
    case 'planar': {
      // A line has no direction: the near side is the one below.
      const level = angle > 90 ? angle - 180 : angle <= -90 ? angle + 180 : angle;
      return bandSchema.parse({ id, kind, centre: from, ...(isDrag && { angle: level }) });
    }
    case 'linear':
      return bandSchema.parse({
        id,
        kind,
        start: from,
        end: isDrag ? to : [from[0], Math.max(-1, from[1] - 0.35)],
      });
    case 'elliptical':
      return bandSchema.parse({
        id,
        kind,
        centre: from,
        ...(isDrag && {
          radii: [
            Math.max(MIN_DRAG, Math.abs(dx) / diagonal(size)),
            Math.max(MIN_DRAG, Math.abs(dy) / diagonal(size)),
          ],
        }),
      });
    case 'iris':
      return bandSchema.parse({ id, kind, centre: from, ...(isDrag && { radius: length, angle }) });
  }
}

/** Adds a band behind the others, or puts it in place of the one with its id. */
export function addBand(focus: ElementFocus, band: Band): void {
  const at = focus.bands.findIndex((one) => one.id === band.id);
  if (at < 0) focus.bands.push(band);
  else focus.bands[at] = band;
}

/** A kind of band in the middle of the picture, or where the others are not; for who does not drag. */
export function defaultBand(kind: BandKind, focus: ElementFocus, size: Size, id: string): Band {
  const centre: Point = [0.5, [0.55, 0.3, 0.75, 0.45][focus.bands.length % 4]!];
  return bandFromDrag(kind, centre, centre, size, id);
}

/** Moves a band by fractions of the picture's width and height. */
export function moveBand(band: Band, dx: number, dy: number): void {
  const moved = ([x, y]: Point): Point => [clampCoordinate(x + dx), clampCoordinate(y + dy)];
  if (band.kind === 'linear') {
    band.start = moved(band.start);
    band.end = moved(band.end);
  } else band.centre = moved(band.centre);
}

/** Keeps a coordinate within what a recipe may hold. */
export function clampCoordinate(v: number): number {
  return Math.min(2, Math.max(-1, v));
}

/** Puts a copy of a band behind it, a little lower in the picture. */
export function duplicateBand(focus: ElementFocus, id: string, copyId: string): void {
  const at = focus.bands.findIndex((one) => one.id === id);
  const band = focus.bands[at];
  if (!band) return;
  const name = `${bandName(band, focus)
    .slice(0, LONGEST_NAME - 5)
    .trimEnd()} copy`;
  const copy: Band = { ...structuredClone(isDraft(band) ? current(band) : band), id: copyId, name };
  moveBand(copy, 0, 0.08);
  focus.bands.splice(at + 1, 0, copy);
}
