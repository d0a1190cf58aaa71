export { ALIGN_LONG_EDGE_PX, alignDepth } from './align';
export {
  CUT_LONG_EDGE_PX,
  type RgbaImage,
  type CutRegion,
  cutOut,
  cutRegion,
  lumaOf,
  refineCut,
} from './cut-out';
export { type LoadedMatte, carriesMattes, keepMasksOf, standsAlone } from './combine';
export type { GreyImage } from './grey-image';
