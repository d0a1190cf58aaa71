import { type Region, type Size, scaledSize } from '@hazy-lens/core';

/** How the picture lies on the stage: screen = picture x zoom + (x, y), in CSS pixels. */
export interface ViewTransform {
  zoom: number;
  x: number;
  y: number;
}

const PADDING = 22;
export const ZOOM_RANGE = { least: 0.02, most: 8 } as const;

/** The whole picture, in the middle of the stage; never larger than 100 %. */
export function fitView(stage: Size, picture: Size): ViewTransform {
  const room = {
    width: Math.max(32, stage.width - 2 * PADDING),
    height: Math.max(32, stage.height - 2 * PADDING),
  };
  const zoom = Math.min(1, room.width / picture.width, room.height / picture.height);
  return {
    zoom,
    x: Math.round((stage.width - picture.width * zoom) / 2),
    y: Math.round((stage.height - picture.height * zoom) / 2),
  };
}

/** Zooms so that what lies under the point (on the stage) stays there. */
export function zoomAt(view: ViewTransform, zoom: number, x: number, y: number): ViewTransform {
  const next = Math.min(ZOOM_RANGE.most, Math.max(ZOOM_RANGE.least, zoom));
  const ratio = next / view.zoom;
  return { zoom: next, x: x - (x - view.x) * ratio, y: y - (y - view.y) * ratio };
}

/** Keeps at least a corner of the picture on the stage. */
export function clampView(view: ViewTransform, stage: Size, picture: Size): ViewTransform {
  const margin = 60;
  const clamp = (at: number, room: number, size: number): number =>
    Math.min(room - margin, Math.max(margin - size, at));
  return {
    ...view,
    x: clamp(view.x, stage.width, picture.width * view.zoom),
    y: clamp(view.y, stage.height, picture.height * view.zoom),
  };
}

const SMALL = 1_300_000;
const SPARE = 96;

/**
 * The part of the scaled picture to render: all of it where that is little, else what is in sight, as much round it as
 * the blur reaches, and some to spare. `last` is kept while it still holds what is needed.
 */
export function regionFor(
  view: ViewTransform,
  stage: Size,
  picture: Size,
  pixelRatio: number,
  reachOf: (size: Size) => number,
  last: Region | null,
): Region {
  const scale = Math.min(1, view.zoom * pixelRatio);
  const whole = scaledSize(picture, scale);
  if (whole.width * whole.height <= SMALL * pixelRatio ** 2) return { x: 0, y: 0, ...whole, picture: whole };
  const perPixel = scale / view.zoom;
  const reach = Math.ceil(reachOf(whole));
  const span = (from: number, length: number, full: number, spare: number): [number, number] => [
    Math.max(0, Math.min(full - 1, Math.floor(-from * perPixel) - reach - spare)),
    Math.min(full, Math.max(1, Math.ceil((length - from) * perPixel) + reach + spare)),
  ];
  const [left, right] = span(view.x, stage.width, whole.width, 0);
  const [top, bottom] = span(view.y, stage.height, whole.height, 0);
  const same = last && last.picture.width === whole.width && last.picture.height === whole.height;
  if (
    same &&
    last.x <= left &&
    last.y <= top &&
    last.x + last.width >= right &&
    last.y + last.height >= bottom
  )
    return last;
  const [x, x1] = span(view.x, stage.width, whole.width, SPARE);
  const [y, y1] = span(view.y, stage.height, whole.height, SPARE);
  return { x, y, width: x1 - x, height: y1 - y, picture: whole };
}

/** Where a rendered region lies on the stage, in CSS pixels; on whole device pixels where it is shown one to one. */
export function placeRegion(
  region: Region,
  view: ViewTransform,
  picture: Size,
  pixelRatio: number,
): { left: number; top: number; width: number; height: number } {
  const [sx, sy] = [
    (picture.width / region.picture.width) * view.zoom,
    (picture.height / region.picture.height) * view.zoom,
  ];
  const exact = Math.abs(sx * pixelRatio - 1) < 0.01;
  const snap = (value: number): number => (exact ? Math.round(value * pixelRatio) / pixelRatio : value);
  return {
    left: snap(view.x + region.x * sx),
    top: snap(view.y + region.y * sy),
    width: exact ? region.width / pixelRatio : region.width * sx,
    height: exact ? region.height / pixelRatio : region.height * sy,
  };
}
