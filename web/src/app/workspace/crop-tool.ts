import { Injectable, computed, inject } from '@angular/core';
import { patchState, signalState } from '@ngrx/signals';
import { type Crop, insideCrop } from '@hazy-lens/core';
import { OpenProject } from '../project/session/open-project';

/** Forms that a crop can be held to, by the names that people know them by. */
export const FORMS = ['Free', 'Original', '1:1', '3:2', '4:3', '5:4', '16:9', 'Custom'] as const;
export type Form = (typeof FORMS)[number];

interface CropState {
  form: Form;
  /** The form stands on its short side. */
  isUpright: boolean;
  /** The form of one's own: so wide to so high. */
  own: readonly [number, number];
  /** The next line that is drawn on the picture becomes level, or upright. */
  levels: boolean;
  /** A hand turns the crop just now. */
  turning: boolean;
}

/** How the hand crops: nothing of this is saved with the project. */
@Injectable()
export class CropTool {
  private readonly project = inject(OpenProject);
  private readonly state = signalState<CropState>({
    form: 'Free',
    isUpright: false,
    own: [2, 1],
    levels: false,
    turning: false,
  });
  readonly form = this.state.form;
  readonly isUpright = this.state.isUpright;
  readonly own = this.state.own;
  readonly levels = this.state.levels;
  readonly turning = this.state.turning;

  /** Width to height that the crop is held to; null where it is free. */
  readonly ratio = computed(() => {
    const form = this.form();
    if (form === 'Free') return null;
    const { width, height } = this.project.size();
    const [a, b] =
      form === 'Original' ? [width, height] : form === 'Custom' ? this.own() : form.split(':').map(Number);
    const wide = Math.max(a! / b!, b! / a!);
    return this.isUpright() ? 1 / wide : wide;
  });

  /** The crop as it takes effect, as the lines on the picture show it. */
  readonly crop = computed(() => insideCrop(this.project.seenRecipe().tidy.crop, this.project.size()));

  /** The crop as it takes effect. */
  get current(): Crop {
    return insideCrop(this.project.recipe().tidy.crop, this.project.size());
  }

  set(change: Partial<CropState>): void {
    patchState(this.state, change);
  }

  edit(label: string, crop: Crop, gesture: string | null = null): void {
    this.project.edit(label, ({ tidy }) => void (tidy.crop = crop), gesture);
  }
}
