import type { Size } from '../geometry/size';
import type { Run, KernelContext } from '../memory';
import type { BlurLook } from '../blur/blur';
import type { Recipe } from '../recipe/schema';

/** Where a run stands, and what is known around it. */
export interface RunContext {
  /** Address of the run's haze, one float a pixel. */
  haze: number;
  /** The first pixel's place in the whole picture, which has this size. */
  px: number;
  py: number;
  picture: Size;
  /** Pixels of the picture in hand for one of the full-size picture. */
  scale: number;
  /** Number of the frame: what is random differs from frame to frame. */
  frame: number;
  /** Address of the source's noise, as it is to be put back, see `noiseTable`; and of room for three rows of it. */
  noise: number;
  noiseRoom: number;
}

/** What finish steps read of the settings of a render. */
export interface FinishSettings {
  finish: Recipe['finish'];
  blur: BlurLook;
}

/** A step at the end of the line: it may look at the haze and at the place. To add one, add it to the list in `finish/index.ts`. */
export interface FinishStep {
  /** Equal for settings that give the same result; '' where it changes nothing. */
  key(look: FinishSettings): string;
  /** It must know the source's own noise. */
  needsNoise(look: Pick<FinishSettings, 'finish'>): boolean;
  /** Changes a run in place; called only where the key is not ''. */
  apply(use: KernelContext, look: FinishSettings, run: Run, place: RunContext): void;
}
