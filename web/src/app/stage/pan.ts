import type { DragHandler } from '../ui/drag';
import type { Viewport } from '../workspace/viewport';

const ZOOM_PER_PIXEL = 0.0016;
const PIXELS_PER_LINE = 16;

/** How far a wheel was turned, in pixels. */
const turned = ({ deltaMode, deltaY }: WheelEvent): number =>
  deltaMode === WheelEvent.DOM_DELTA_LINE ? deltaY * PIXELS_PER_LINE : deltaY;

/** By how much a wheel zooms. */
export const wheelZoom = (event: WheelEvent): number => Math.exp(-turned(event) * ZOOM_PER_PIXEL);

/** A hand that takes the picture along, once it has moved by more than `still` pixels. */
export function panHand(view: Viewport, event: PointerEvent, still = 0, pointed?: () => void): DragHandler {
  let last = { x: event.clientX, y: event.clientY };
  let isMoving = false;
  return {
    pans: true,
    move: ({ clientX, clientY }) => {
      isMoving ||= Math.hypot(clientX - last.x, clientY - last.y) > still;
      if (!isMoving) return;
      view.pan(clientX - last.x, clientY - last.y);
      last = { x: clientX, y: clientY };
    },
    end: () => {
      if (!isMoving) pointed?.();
    },
    cancel: () => view.pan(event.clientX - last.x, event.clientY - last.y),
  };
}
