export * from './recipe/schema';
export * from './recipe/focus-schema';
export * from './kernels';
export {
  type FieldFunction,
  type Frame,
  type Region,
  type Size,
  diagonal,
  turnedFrame,
} from './focus/geometry';
export { bandField } from './focus/bands';
export { planarDistance, planarFrame, planarProfile } from './focus/bands/planar';
export { linearEnds, linearGradient, linearProfile } from './focus/bands/linear';
export { ellipticalDistance, ringEnds, ringProfile } from './focus/bands/elliptical';
export { irisFalloff, irisPolar, irisRim } from './focus/bands/iris';
export { type ProfilePiece, profileAt, profilePieces } from './focus/profile';
export {
  type FieldLook,
  type FocusPictures,
  NO_PICTURES,
  fieldLook,
  hazeField,
  lookField,
} from './focus/field';
export { depthProfile } from './focus/depth-map';
export { type FieldPlan, FieldRows, planField } from './focus/field-rows';
export { type Raster, type RasterLevel, makeRaster, sampleRaster, sharedSamples } from './focus/raster';
export {
  type FieldGrid,
  type Seam,
  type SeamGrade,
  CUT_RISE,
  FIRM_RISE,
  seamGrade,
  steepestRise,
} from './focus/seam';
export { type Ink, inkOf, makeInk, newInkId } from './focus/strokes';
export { fromLinear, toLinear } from './colour/transfer';
export { FIRST_VARIANCE, REACH_SIGMAS, levelOf, levelVariance } from './optics/levels';
export { insertExif, normaliseExif, readExif } from './media/exif';
export { LIMITS, sizeProblem } from './media/limits';
export { hazeRamp } from './render/haze-map';
export { type Look, recipeLook } from './render/look';
export { type PixelFormat, type RenderPlan, fullSigma, planRender } from './render/plan';
export { type StripContent, StripRenderer } from './render/strip';
export { type ScaleTask, scaleRows, scratchBytes } from './render/scale';
export { type RenderTask, RenderWorker } from './render/worker';
export { type Render, type TaskRunner, buildOctaves, openRender, renderStrips } from './render/render';
export { ALIGN_EDGE, alignDepth } from './matte/align';
export { CUT_EDGE, type Pixels, type Window, cutOut, cutWindow, lumaOf, refineCut } from './matte/cut-out';
export { type MattePicture, combineMattes, feathered, grown, planeOf } from './matte/edge';
export { alongGuide, guidedLines } from './matte/guided-filter';
export { GridCut, NEIGHBOURS } from './matte/min-cut';
export { type Plane, boxMean, resizePlane } from './matte/plane';
