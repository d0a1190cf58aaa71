import type { PointStep } from './step';

/** All light times a factor: brightness that is evened out over footage. */
export const light: PointStep = {
  key: ({ light }) => (light === 1 ? '' : `${light}`),
  apply: ({ kernels }, { light }, run) => kernels.multiplyRow(run.at, run.planeBytes, run.n, light),
};
