import type { PointStep } from './step';
import { light } from './light';
import { saturation } from './saturation';

/** The steps that change each pixel by itself, in order. */
export const POINT_STEPS: readonly PointStep[] = [light, saturation];
