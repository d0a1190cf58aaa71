export { shownBytes, fromLinear, toLinear } from './transfer';
export { type FrameFormat, type PixelFormat, type YuvFormat, frameBytes, isYuv } from './format';
export { BLEND_FORMAT } from './blend';
export { shrunk } from './shrunk';
export { PART_FORMAT } from './covered';
export { type AlphaSplit, splitAlpha } from './alpha-split';
