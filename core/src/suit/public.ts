export { type CaptionContrast, MIN_TEXT_CONTRAST, captionContrast } from './caption-contrast';
export {
  ASSUMED_HORIZON,
  TOP_DOWN_DEG,
  SCENE_LONG_EDGE_PX,
  type SceneReading,
  readScene,
  uprightsAcrossFocus,
} from './scene-reading';
export { MODEL_SCALES, SCALE_RANGE, type ScaleView, blurForScale, readScale } from './scale';
export { suggestBand } from './suited-band';
