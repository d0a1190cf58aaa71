import { Injectable, computed, inject } from '@angular/core';
import { neutralRecipe } from '@hazy-lens/core';
import { StageRenderLoop } from '../../engine/stage-render-loop';
import { measuresOf } from '../../engine/measures-of';

const { colour, finish } = neutralRecipe();
const MATCHED = { colour, finish: { ...finish, grain: { ...finish.grain, match: 1 } } };

/** How noisy the open picture came, by brightness; null while there is none. */
@Injectable()
export class NoiseOfPicture {
  private readonly renderLoop = inject(StageRenderLoop);
  readonly noise = computed(() => {
    const picture = this.renderLoop.picture();
    return picture && measuresOf(picture, MATCHED)!.noise;
  });
}
