export type { Lens, Recipe } from './schema';
export { RecipeError, parseRecipe, readRecipe, neutralRecipe } from './parse';
export type { Ease, Key } from './keys-schema';
export type { Pace } from './pace-schema';
export {
  planarBandSchema,
  bandSchema,
  depthMapSchema,
  type Focus,
  type Band,
  type BandKind,
  type PlanarBand,
  type LinearBand,
  type EllipticalBand,
  type IrisBand,
  type BandSide,
  type Profile,
  type DepthMap,
  type Stroke,
  type Scribble,
  type Matte,
  type Point,
} from './focus-schema';
export { type Element, type ElementFocus, MAX_ELEMENTS } from './element-schema';
export {
  type NumberRange,
  type RecipePath,
  numberSpecAt,
  numberSpec,
  displayRange,
  valueAt,
} from './numbers';
export { type StrokePoint, simplified } from './stroke-points';
export { normaliseRecipe, repairRecipe } from './normalise';
export { LOOK_NAMES, type LookName } from './looks';
export { referencedFiles, renameReferences, usedFiles } from './named-files';
export { foreignText, messageLine, textOf } from './foreign-text';
export { ALL_PARTS, LOOK_PARTS, RECIPE_PARTS, type RecipePart, withParts } from './parts';
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
} from './keys';
export type { Carry } from './carry-schema';
export { type Crop, MEND_LIMITS, type Mend } from './tidy-schema';
