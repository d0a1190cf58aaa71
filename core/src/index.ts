export * from './recipe/schema';
export * from './recipe/parse';
export { type Ease, type Key } from './recipe/keys-schema';
export { type Pace } from './recipe/pace-schema';
export * from './recipe/focus-schema';
export { type Element, type ElementFocus, MAX_ELEMENTS, elementSchema } from './recipe/element-schema';
export { type Quantity, type NumberMeta } from './recipe/number-meta';
export {
  NUMBERS,
  type NumberRange,
  type NumberSpec,
  type RecipePath,
  numberSpecAt,
  numberSpec,
  displayRange,
  valueAt,
} from './recipe/numbers';
export { type StrokePoint, simplified } from './recipe/stroke-points';
export { normaliseRecipe, clampToSchema, repairRecipe } from './recipe/normalise';
export { type Kernels, instantiateKernels } from './kernels';
export { withPlainMemory } from './kernels/plain-memory';
export type { FieldFunction } from './focus/field-function';
export { type Axes, rotatedAxes } from './geometry/axes';
export { type Region, type Size, diagonal, reflect, scaledSize, sizeWithin } from './geometry/size';
export { bandField } from './focus/bands';
export { planarDistance, planarFrame, planarProfile } from './focus/bands/planar';
export { startEndHaze, linearGradient, linearProfile } from './focus/bands/linear';
export { ellipticalDistance, innerOuterHaze, ringProfile } from './focus/bands/elliptical';
export { irisFalloff, irisOutline, irisPolar, irisRim } from './focus/bands/iris';
export { type ProfilePiece, profileAt, profilePieces } from './focus/profile';
export {
  type ResolvedFocus,
  type FocusPictures,
  NO_PICTURES,
  resolveFocus,
  focusField,
  protectsAreas,
  fieldOf,
} from './focus/field';
export { IDENTITY_CARRY, toCurrentFrame, carriedRaster, toOriginFrame, isIdentityCarry } from './focus/carry';
export { type KeepMask, footOf, keepMaskFrom } from './focus/keep-mask';
export { depthProfile } from './focus/depth-map';
export { FieldRows, fieldKey, planField } from './focus/field-rows';
export { FieldPreview, PREVIEW_MARGIN, previewSize } from './focus/field-preview';
export {
  type Raster,
  type RasterLevel,
  makeRaster,
  rasterBounds,
  rasterFoot,
  rasterBytes,
  sampleRaster,
  sharedSamples,
} from './geometry/raster';
export {
  type FieldGrid,
  type BlurEdge,
  type EdgeHardness,
  CUT_RISE,
  FIRM_RISE,
  edgeHardness,
  steepestBlurEdge,
} from './focus/blur-edge';
export { type PackedStroke, packedStrokeOf, packStroke, newStrokeId } from './focus/strokes';
export { shownBytes, fromLinear, toLinear } from './pixels/transfer';
export { type FrameFormat, type PixelFormat, type YuvFormat, frameBytes, isYuv } from './pixels/format';
export { BLEND_FORMAT, type BlendTask, blendRows, blendScratchBytes } from './pixels/blend';
export { type ScaleTask, scaleRows, scratchBytes } from './pixels/scale';
export { Scratch } from './memory';
export { type BlurKind, blurOf } from './blur';
export { type Aperture, aperturePoints, discLight } from './blur/lens/aperture';
export { type Noise, deviations, measureNoise } from './finish/grain/noise';
export { noiseSpread, tapsFor } from './finish/grain/noise-table';
export { soundingField } from './focus/soundings';
export { TONE_BINS, type ToneHistogram, toneHistogram } from './colour/histogram';
export { CUBE_SIZE, type ColourLut, identityLut, formatCube, parseCube, lutBytes } from './colour/cube';
export { LOOK_NAMES, LOOKS, type LookName, type LookSettings, lookColour } from './recipe/looks';
export { type CaptionContrast, MIN_TEXT_CONTRAST, captionContrast } from './suit/caption-contrast';
export { vignetteAxes, vignetteReach } from './finish/vignette/vignette';
export { MIX_HUES, type Grade, type MixHue, gradeFloats, huesOf, stagesOf } from './colour/grade';
export { fromOklab } from './colour/oklab';
export { type Primaries, isInSrgb } from './colour/primaries';
export { whiteBalanceFrom, whiteBalanceMatrix } from './colour/white-balance';
export { crc32 } from './media/bytes';
export type { HeifDecoded, HeifError, HeifHandle, HeifImage, HeifLibrary, HeifPixels } from './media/heif';
export {
  type Metadata,
  NO_METADATA,
  hasWrongChecksum,
  insertMetadata,
  insertPngChunk,
  jpegSegments,
  readExif,
  readMetadata,
  tagSrgb,
  asPremultiplied,
  tagTiff,
} from './media/containers';
export { type MetadataChoice, exifTexts, readOrientation } from './media/exif';
export { exportedMetadata } from './media/metadata';
export {
  type NamedSource,
  PATTERN_WORDS,
  distinctNames,
  nameByPattern,
  namesByPattern,
  safeName,
  withoutEnding,
} from './media/names';
export {
  type ClipSettings,
  clipSettingsSchema,
  type ExportPreset,
  type ExportSettings,
  type ExportSize,
  defaultExportSettings,
  exportPresetSchema,
  exportSettingsSchema,
  exportSize,
  parsePresets,
  presetsText,
} from './media/export-preset';
export {
  CLIP_FORMATS,
  type ClipFormat,
  type EncoderKind,
  bitrateFor,
  clipFormatOf,
  clipSize,
  holdsAlpha,
  quantizerFor,
} from './media/clip-formats';
export { sharpenForOutput, sharpeningAt } from './finish/output-sharpening';
export { halvingsOf, levelFor } from './render/halvings';
export { referencedFiles, renameReferences, usedFiles } from './recipe/named-files';
export { foreignText, messageLine, textOf } from './recipe/foreign-text';
export { type Inflate, ZipError, type ZipEntry, unpacked, zipEntries } from './media/zip';
export { shrunk } from './pixels/shrunk';
export { ALL_PARTS, LOOK_PARTS, RECIPE_PARTS, type RecipePart, withParts } from './recipe/parts';
export {
  type DevelopedRaw,
  type RawLibrary,
  type RawOptions,
  type RawPreview,
  RAW_EXTENSIONS,
  RAW_NAME,
  rawReason,
  developRaw,
} from './media/raw';
export { type FileKind, hasNoPixels, isTiffCut, kindOf, profileInBoxes } from './media/kinds';
export {
  STILL_FORMATS,
  type StillFormat,
  type StillFormatId,
  stillFormatFor,
  stillFormatOf,
} from './media/still-formats';
export { isSrgbName, isSrgbProfile, profileName } from './media/icc-profile';
export { greyTiff } from './media/grey-tiff';
export { displayP3Profile, linearSrgbProfile } from './media/profiles';
export { type ToDisplayP3, isP3Profile, toDisplayP3 } from './media/rgb-profile';
export { layerSamples, linearisePremultiplied, withLayerSheet } from './render/layer-samples';
export type { LayerSheet } from './render/layer-sheets';
export { IN_SRGB } from './render/settings';
export { LIMITS, sizeProblem } from './media/limits';
export { hazeRamp } from './render/haze-map';
export { Arena, Heap, type KernelContext, createMemory, rowAddress, threadsShareMemory } from './memory';
export { type Measured, SourceMeasures, needsMeasures, needsNoise, noiseIn } from './render/measured';
export { depthInBoxes } from './media/depth-boxes';
export { type DepthInside, depthInside, nearerBrighter } from './media/depth-inside';
export { PART_FORMAT } from './pixels/covered';
export { type LayerImage, type LayerSamples, layerBytes, layerImage } from './layers/image';
export { type LayerPlace, layerBounds, layerCorners } from './layers/placing';
export { elementField, elementLayers, elementPlace, elementSize } from './layers/elements';
export { type LayerLook } from './layers/layer';
export { type LiftedSubject, liftSubject, liftedBytes } from './layers/lifted';
export { type AlphaSplit, splitAlpha } from './pixels/alpha-split';
export { renderTransparent } from './render/transparent';
export {
  type RecipeAssets,
  type Content,
  type Job,
  type RenderSettings,
  NO_ASSETS,
  hasDepth,
  settingsKey,
  layeredLook,
  resolveRecipe,
} from './render/settings';
export { type RenderPlan, type View, planRender } from './render/plan';
export {
  type RenderOptions,
  type Renderer,
  SharedRenderer,
  type TaskRunner,
  type Threads,
  wholeView,
} from './render/renderer';
export { type RenderTask, RenderWorker } from './render/worker';
export { ALIGN_LONG_EDGE_PX, alignDepth } from './matte/align';
export {
  CUT_LONG_EDGE_PX,
  type RgbaImage,
  type CutRegion,
  cutOut,
  cutRegion,
  lumaOf,
  refineCut,
} from './matte/cut-out';
export { type LoadedMatte, carriesMattes, combineMattes, keepMasksOf, standsAlone } from './matte/combine';
export { feather, offsetOutline, rasterToGrey } from './matte/edge';
export { applyGuided, guidedCoefficients } from './matte/guided-filter';
export { GridCut, NEIGHBOURS } from './matte/min-cut';
export { type GreyImage, boxMean, resizeGrey } from './matte/grey-image';
export {
  type ClipTimes,
  endOf,
  evenTimes,
  frameAt,
  frameRate,
  meantRate,
  nearestFrame,
} from './footage/clip-times';
export {
  type FrameWeight,
  type LitWeights,
  type Timeline,
  soundSpeed,
  litWeights,
  timelineOf,
  trimOf,
} from './footage/pace';
export {
  type KeyValue,
  type Track,
  canHaveKeys,
  isSameTime,
  storeEditInKeys,
  keyPath,
  resolveKeyPath,
  recipeAt,
  strongestBlur,
  trackValue,
  tracksOf,
  withKey,
  withoutKey,
} from './recipe/keys';
export { monotoneCubic } from './geometry/monotone';
export { retimed } from './footage/retime';
export { FootageNoise, meanNoise, noiseFrames } from './footage/noise-over-time';
export { FLICKER_GRID, brightnessOf, evenBrightness, flickerGains, lightGrid } from './footage/deflicker';
export { MotionTracker, type Step as FollowStep, type Subject } from './footage/tracking/motion-tracker';
export { bandOutline, discOutline, outlineBox } from './footage/tracking/outline';
export {
  type Motion,
  rebaseCarryKeys,
  carryPath,
  trackedKeys,
  trackedNumbers,
  transformableNumbers,
} from './footage/tracking/tracked-keys';
export { type Grey, greyOf, halved } from './footage/tracking/pyramid';
export {
  IDENTITY,
  type Similarity,
  compose,
  invert,
  transformPoint,
  scaleOf,
  rotationDeg,
} from './geometry/similarity';
export { frameLuma } from './footage/luma';
export type { Carry } from './recipe/carry-schema';
export { type Crop, MEND_LIMITS, type Mend, type Tidy } from './recipe/tidy-schema';
export { fillBytes, inpaint } from './tidy/mend/inpaint';
export { interpolateHole } from './tidy/mend/membrane';
export { mendSamples, mendsIn } from './tidy/mend';
export { type MendPatch, compositePatch, mendPatch } from './tidy/mend/on-footage';
export { FootageMends, type PlacedPatch } from './footage/footage-mends';
export { type FramePixels } from './tidy/mend/frame-colours';
export { type Samples } from './tidy/mend/window';
export {
  type CropGeometry,
  type Vector,
  cropGeometry,
  insideCrop,
  isUncropped,
  cropKey,
  toPicture,
  toCrop,
  fullCrop,
} from './tidy/crop';
export { type SharedImage, renderScaled, renderCrop } from './render/crop-pixels';
export {
  ASSUMED_HORIZON,
  TOP_DOWN_DEG,
  SCENE_LONG_EDGE_PX,
  type SceneReading,
  type Upright,
  readScene,
  uprightsAcrossFocus,
} from './suit/scene-reading';
export {
  MODEL_SCALES,
  SCALE_RANGE,
  type ScaleReading,
  type ScaleView,
  blurForScale,
  readScale,
} from './suit/scale';
export { suggestBand } from './suit/suited-band';
export { cropField, cropLook } from './render/crop-settings';
export { cropOf } from './tidy/crop';
export { resolveTidiedRecipe } from './render/crop-settings';
export { areNumbered, inNaturalOrder, missingNumbers } from './footage/sequence-names';
