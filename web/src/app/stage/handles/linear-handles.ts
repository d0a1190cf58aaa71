import { type LinearBand, type Point, type Size, diagonal } from '@hazy-lens/core';
import { moveBand, clampCoordinate } from '../../model/bands';
import {
  type GripDrag,
  type Handles,
  type HandleLook,
  type Spot,
  clampToVisible,
  rangeDown,
} from './handles';
import { stageWords } from '../../words/stage';

const spotOf = ([x, y]: Point, size: Size): Spot => ({ x: x * size.width, y: y * size.height });

/** The unit vector across the gradient; along the picture's width where start and end fall together. */
function across(band: LinearBand, size: Size): Spot {
  const [a, b] = [spotOf(band.start, size), spotOf(band.end, size)];
  const length = Math.hypot(b.x - a.x, b.y - a.y);
  return length < 1e-3 ? { x: 1, y: 0 } : { x: -(b.y - a.y) / length, y: (b.x - a.x) / length };
}

/** Ends are clear and far, whichever is which: the hazier one takes the accent. */
function lookOf(band: LinearBand, end: 'start' | 'end'): HandleLook {
  const [own, other] = end === 'start' ? [band.startHaze, band.endHaze] : [band.endHaze, band.startHaze];
  return own !== other && own > other !== band.invert ? 'far' : 'clear';
}

/** An end held to steps of 15 degrees from the other one. */
function stepped(end: Spot, other: Spot): Spot {
  const length = Math.hypot(end.x - other.x, end.y - other.y);
  const step = Math.PI / 12;
  const angle = Math.round(Math.atan2(end.y - other.y, end.x - other.x) / step) * step;
  return { x: other.x + Math.cos(angle) * length, y: other.y + Math.sin(angle) * length };
}

/** Where a drag of an end puts it, as a point of the recipe. */
export function draggedEnd(from: Point, other: Point, size: Size, drag: GripDrag): Point {
  const start = spotOf(from, size);
  const moved = { x: start.x + drag.to.x - drag.from.x, y: start.y + drag.to.y - drag.from.y };
  const held = drag.stepped ? stepped(moved, spotOf(other, size)) : moved;
  return [clampCoordinate(held.x / size.width), clampCoordinate(held.y / size.height)];
}

export const linearHandles: Handles<LinearBand> = {
  outlines(band, size) {
    const d = diagonal(size);
    const side = across(band, size);
    const line = (at: Spot): Spot[] =>
      [-2, 2].map((t) => ({ x: at.x + side.x * t * d, y: at.y + side.y * t * d }));
    const [a, b] = [spotOf(band.start, size), spotOf(band.end, size)];
    return [
      { grip: 'start', look: lookOf(band, 'start'), points: line(a) },
      { grip: 'end', look: lookOf(band, 'end'), points: line(b) },
      { grip: 'middle', look: 'middle', points: [a, b] },
    ];
  },

  grips(band, size, sight) {
    const side = across(band, size);
    const end = (id: 'start' | 'end', name: string) => {
      const haze = id === 'start' ? band.startHaze : band.endHaze;
      const at = spotOf(band[id], size);
      return {
        id,
        ...clampToVisible(at, side, 0, sight),
        look: lookOf(band, id),
        name,
        value: at.y,
        range: rangeDown(size),
        text: stageWords.pxHaze(at.x.toFixed(0), at.y.toFixed(0), Math.round(haze * 100)),
      };
    };
    const [a, b] = [spotOf(band.start, size), spotOf(band.end, size)];
    const length = Math.hypot(b.x - a.x, b.y - a.y);
    return [
      end('start', stageWords.startOfTheGradient),
      end('end', stageWords.endOfTheGradient),
      {
        id: 'middle',
        x: (a.x + b.x) / 2,
        y: (a.y + b.y) / 2,
        look: 'middle' as const,
        name: stageWords.wholeGradient,
        value: length,
        range: [0, 3 * diagonal(size)] as const,
        text: stageWords.pxLong(length.toFixed(0)),
      },
    ];
  },

  drag(band, start, size, drag) {
    if (drag.grip === 'start') band.start = draggedEnd(start.start, start.end, size, drag);
    else if (drag.grip === 'end') band.end = draggedEnd(start.end, start.start, size, drag);
    else {
      band.start = [...start.start];
      band.end = [...start.end];
      moveBand(band, (drag.to.x - drag.from.x) / size.width, (drag.to.y - drag.from.y) / size.height);
    }
  },

  nudge(band, size, grip, dx, dy) {
    const moved = ([x, y]: Point): Point => [
      clampCoordinate(x + dx / size.width),
      clampCoordinate(y + dy / size.height),
    ];
    if (grip === 'start') band.start = moved(band.start);
    else if (grip === 'end') band.end = moved(band.end);
    else moveBand(band, dx / size.width, dy / size.height);
  },
};
