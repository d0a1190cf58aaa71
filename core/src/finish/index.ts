import { grain } from './grain/grain';
import type { FinishStep } from './step';

/** The steps at the end of the line, in order. */
export const FINISH_STEPS: readonly FinishStep[] = [grain];
