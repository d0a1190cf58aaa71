import { grade } from './grade';
import type { PointStep } from './step';
import { convert, light } from './gain';

/** The steps that change each pixel by itself, in order. */
export const POINT_STEPS: readonly PointStep[] = [light, convert, grade];
