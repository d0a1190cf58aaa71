import type { Size } from '@hazy-lens/core';
import { expose } from 'comlink';

export type DrawnType = 'image/jpeg' | 'image/webp';

const worker = {
  /** @param pixels RGBA of the size. @param file size of the file: what stands over is cut off, as much at both sides. */
  async drawn(
    type: DrawnType,
    pixels: Uint8ClampedArray<ArrayBuffer>,
    { width, height }: Size,
    quality: number,
    file: Size,
  ): Promise<Blob> {
    const canvas = new OffscreenCanvas(file.width, file.height);
    const context = canvas.getContext('2d', { alpha: false, willReadFrequently: true })!;
    const [left, top] = [Math.round((file.width - width) / 2), Math.round((file.height - height) / 2)];
    context.putImageData(new ImageData(pixels, width, height), left, top);
    return canvas.convertToBlob({ type, quality });
  },
};

export type DrawnWorker = typeof worker;

expose(worker);
