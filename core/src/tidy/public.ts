export { mendSamples, mendsIn } from './mend';
export { type MendPatch, compositePatch, mendPatch } from './mend/on-footage';
export type { FramePixels } from './mend/frame-colours';
export type { Samples } from './mend/window';
export {
  type CropGeometry,
  cropGeometry,
  insideCrop,
  isUncropped,
  cropKey,
  toPicture,
  toCrop,
  fullCrop,
  cropOf,
} from './crop';
