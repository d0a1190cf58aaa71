import { Injectable, inject } from '@angular/core';
import { huesOf } from '@hazy-lens/core';
import { OpenProject } from '../project/session/open-project';
import type { DragHandler } from '../ui/drag';
import { stageWords } from '../words/stage';

/** How much of a mix a pixel of the hand's way changes. */
const PER_PIXEL = 0.006;

/** In black and white a colour is dragged up on the picture to make it lighter, or down to make it darker. */
@Injectable()
export class HuePicker {
  private readonly project = inject(OpenProject);

  /** A hand on a place of the picture that came in this linear light; null where it is grey. */
  handOn(light: readonly [number, number, number], event: PointerEvent): DragHandler | null {
    const hues = huesOf(light);
    if (!hues) return null;
    const gesture = crypto.randomUUID();
    const start = { ...this.project.recipe().colour.mono.mix };
    // So that the colour itself changes as the hand goes, wherever it lies between two hues.
    const whole = hues.reduce((sum, { share }) => sum + share * share, 0);
    return {
      move: ({ clientY }) => {
        const by = (event.clientY - clientY) * PER_PIXEL;
        this.project.edit(
          stageWords.blackAndWhiteMix,
          ({ colour }) => {
            for (const { hue, share } of hues)
              colour.mono.mix[hue] = Math.min(1, Math.max(-1, start[hue] + (by * share) / whole));
          },
          gesture,
        );
      },
      cancel: () => this.project.abandon(gesture),
    };
  }
}
