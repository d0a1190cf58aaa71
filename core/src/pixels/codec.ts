import { type FrameFormat, type PixelCodec, isYuv } from './format';
import { Interleaved } from './interleaved';
import { YuvPlanes } from './yuv-planes';

export function codecFor(format: FrameFormat): PixelCodec {
  return isYuv(format) ? new YuvPlanes(format) : new Interleaved(format);
}
