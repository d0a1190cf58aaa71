import type { Spot } from './handles/handles';

/** A hand that is down on the stage; places are in pixels of the picture. */
export interface StageDrag {
  move(to: Spot, event: PointerEvent): void;
  end(): void;
}
