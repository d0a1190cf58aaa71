import type { DragHandler } from '../ui/drag';
import type { Viewport } from '../workspace/viewport';
import type { Spot } from './handles/handles';

/** A hand that is down on the stage; places are in pixels of the picture. */
export interface StageDrag {
  move(to: Spot, event: PointerEvent): void;
  end?(): void;
  cancel(): void;
  /** It wants every place that the pointer went through. */
  every?: boolean;
}

/** A hand on the stage as the drag directive knows it. */
export function handOf(drag: StageDrag, view: Viewport): DragHandler {
  return {
    every: drag.every ?? false,
    move: (event) => drag.move(view.pictureAt(event), event),
    end: () => drag.end?.(),
    cancel: () => drag.cancel(),
  };
}
