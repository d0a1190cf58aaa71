import { grain } from './grain/grain';
import type { FinishStep } from './step';
import { vignette } from './vignette/vignette';

/** The steps at the end of the line, in order. */
export const FINISH_STEPS: readonly FinishStep[] = [vignette, grain];
