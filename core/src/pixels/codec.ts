import { type FrameFormat, type Pixels, isYuv } from './format';
import { Interleaved } from './interleaved';
import { YuvPlanes } from './yuv-planes';

export function pixelsOf(format: FrameFormat): Pixels {
  return isYuv(format) ? new YuvPlanes(format) : new Interleaved(format);
}
