import type { Size } from '@hazy-lens/core';
import type { DrawnType, DrawnWorker } from './canvas-encoder.worker';
import { WorkerClient } from './worker-client';

const worker = new WorkerClient<DrawnWorker>(
  () => new Worker(new URL('./canvas-encoder.worker', import.meta.url), { type: 'module' }),
  { isStateless: true },
);

/**
 * RGBA pixels as a file that the browser itself writes, which is quick; in a worker, for a page that stands still, or is
 * out of sight, puts such work off for a second each. The pixels are free again at once.
 * @param file size of the file where it is not that of the pixels: what stands over is cut off, as much at both sides.
 */
export function encodeOnCanvas(
  type: DrawnType,
  pixels: Uint8Array | Uint8ClampedArray,
  size: Size,
  quality: number,
  file: Size = size,
): Promise<Blob> {
  const own = Uint8ClampedArray.from(pixels);
  // Sizes may be part of more, which is not sent along.
  const [{ width, height }, { width: fileWidth, height: fileHeight }] = [size, file];
  return worker.call.drawn(type, own, { width, height }, quality, {
    width: fileWidth,
    height: fileHeight,
  });
}
