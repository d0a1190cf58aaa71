import type { PointStep } from './step';

/** Oklab chroma x (1 + saturation), at the same hue and lightness; see the kernel `saturateRow`. */
export const saturation: PointStep = {
  key: ({ colour }) => (colour.on && colour.saturation !== 0 ? `${colour.saturation}` : ''),
  apply: ({ kernels }, { colour }, run) => kernels.saturateRow(run.at, run.plane, run.n, colour.saturation),
};
