export { type Noise, deviations, measureNoise } from './grain/noise';
export { noiseSpread } from './grain/noise-table';
export { vignetteAxes, vignetteReach } from './vignette/vignette';
export { sharpenForOutput, sharpeningAt } from './output-sharpening';
