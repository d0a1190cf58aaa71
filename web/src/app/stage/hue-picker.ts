import { Injectable, inject } from '@angular/core';
import { huesOf, toLinear } from '@hazy-lens/core';
import { OpenProject } from '../project/session/open-project';
import type { DragHandler } from '../ui/drag';

/** How much of a mix a pixel of the hand's way changes. */
const PER_PIXEL = 0.006;

/** In black and white a colour is dragged up on the picture to make it lighter, or down to make it darker. */
@Injectable()
export class HuePicker {
  private readonly project = inject(OpenProject);

  /** A hand on a place of the picture that came in this colour; null where it is grey. @param rgb 8 bits a channel. */
  handOn([r, g, b]: readonly [number, number, number], event: PointerEvent): DragHandler | null {
    const hues = huesOf([toLinear(r / 255), toLinear(g / 255), toLinear(b / 255)]);
    if (!hues) return null;
    const gesture = crypto.randomUUID();
    const start = { ...this.project.recipe().colour.mono.mix };
    // So that the colour itself changes as the hand goes, wherever it lies between two hues.
    const whole = hues.reduce((sum, { share }) => sum + share * share, 0);
    return {
      move: ({ clientY }) => {
        const by = (event.clientY - clientY) * PER_PIXEL;
        this.project.edit(
          'black and white mix',
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
