import type { Blur, BlurLook } from './blur';
import { type GaussianPlan, gaussian } from './gaussian/gaussian';

/** The kinds of blur and the plan of each. */
export interface BlurPlans {
  gaussian: GaussianPlan;
}

export const BLURS: { readonly [K in keyof BlurPlans]: Blur<BlurPlans[K]> } = { gaussian };

/** The blur of a look. */
export function blurOf(look: Pick<BlurLook, 'kind'>): Blur<BlurPlans[typeof look.kind]> {
  return BLURS[look.kind];
}
