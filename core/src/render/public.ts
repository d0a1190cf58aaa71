export { halvingsOf, levelFor } from './halvings';
export { layerSamples, linearisePremultiplied, withLayerSheet } from './layer-samples';
export {
  IN_SRGB,
  type RecipeAssets,
  type Content,
  type RenderSettings,
  NO_ASSETS,
  hasDepth,
  settingsKey,
  layeredLook,
  resolveRecipe,
} from './settings';
export { hazeRamp } from './haze-map';
export { type Measured, SourceMeasures, needsMeasures, needsNoise, noiseIn } from './measured';
export { renderTransparent } from './transparent';
export type { View } from './plan';
export { SharedRenderer, type TaskRunner, type Threads, wholeView } from './renderer';
export { type RenderTask, RenderWorker } from './worker';
export { type SharedImage, renderScaled, renderCrop } from './crop-pixels';
export { cropLook, resolveTidiedRecipe } from './crop-settings';
