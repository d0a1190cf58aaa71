import { type RasterLevel, sharedSamples } from '@hazy-lens/core';
import { encode } from 'fast-png';

/** A grey PNG of 8 or 16 bits. */
export function encodeGrey({ width, height, samples }: RasterLevel, depth: 8 | 16): Blob {
  const data = depth === 16 ? new Uint16Array(samples.length) : new Uint8Array(samples.length);
  const step = depth === 16 ? 1 : 257;
  for (let i = 0; i < data.length; i++) data[i] = Math.round(samples[i]! / step);
  const file = encode({ width, height, data, depth, channels: 1 });
  return new Blob([file as Uint8Array<ArrayBuffer>], { type: 'image/png' });
}

/** The middle of a grey picture in another aspect: what stands over on two sides is cut off. */
export function cropToAspect(grey: RasterLevel, aspect: number): RasterLevel {
  const width = Math.max(1, Math.min(grey.width, Math.round(grey.height * aspect)));
  const height = Math.max(1, Math.min(grey.height, Math.round(grey.width / aspect)));
  const [left, top] = [(grey.width - width) >> 1, (grey.height - height) >> 1];
  const samples = sharedSamples(width * height);
  for (let y = 0; y < height; y++) {
    const start = (top + y) * grey.width + left;
    samples.set(grey.samples.subarray(start, start + width), y * width);
  }
  return { width, height, samples };
}
