import { primariesMatrix } from './primaries';
import type { PointStep } from './step';

/** All light times a factor: brightness that is evened out over footage. */
export const light: PointStep = {
  key: ({ light }) => (light === 1 ? '' : `${light}`),
  apply: ({ kernels }, { light }, run) => kernels.multiplyRow(run.at, run.planeBytes, run.n, light),
};

/** Light of the source’s primaries becomes light of the result’s; what lies outside of their gamut is below 0 or above 1. */
export const convert: PointStep = {
  key: ({ primaries: { source, output } }) => (source === output ? '' : `${source} ${output}`),
  apply: ({ kernels, heap }, { primaries: { source, output } }, run, { floats }) => {
    heap.setFloats(floats, primariesMatrix(source, output)!);
    kernels.matrixRow(run.at, run.planeBytes, run.n, floats);
  },
};
