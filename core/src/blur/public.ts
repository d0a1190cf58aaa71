export { type BlurKind, blurOf } from './index';
export { aperturePoints, discLight } from './lens/aperture';
