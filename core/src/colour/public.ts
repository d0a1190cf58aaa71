export { TONE_BINS, type ToneHistogram, toneHistogram } from './histogram';
export { CUBE_SIZE, type ColourLut, identityLut, formatCube, parseCube, lutBytes } from './cube';
export { MIX_HUES, huesOf } from './grade';
export { fromOklab } from './oklab';
export { type Primaries, isInSrgb } from './primaries';
export { whiteBalanceFrom } from './white-balance';
