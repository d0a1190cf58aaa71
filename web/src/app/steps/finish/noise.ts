import { Injectable, computed, inject } from '@angular/core';
import { neutralRecipe, noiseIn } from '@hazy-lens/core';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { measuresOf } from '../../engine/measures-of';
import { Footage } from '../../project/footage/footage';

const { colour, finish } = neutralRecipe();
const MATCHED = { colour, finish: { ...finish, grain: { ...finish.grain, match: 1 } } };

/** How noisy the open picture came, by brightness; null while there is none. */
@Injectable()
export class NoiseOfPicture {
  private readonly renderLoop = inject(StageRenderLoop);
  private readonly footage = inject(Footage);
  readonly noise = computed(() => {
    const picture = this.renderLoop.picture();
    return picture && noiseIn(measuresOf(picture, MATCHED, this.footage.noise())!);
  });
}
