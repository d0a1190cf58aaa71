import { expose } from 'comlink';
import { GIFEncoder, applyPalette, quantize } from 'gifenc';

const COLOURS = 256;
const encoder = GIFEncoder();
let isFirst = true;

/** Writes an animated GIF frame by frame, each with its own palette. */
const worker = {
  /** @param delay in hundredths of a second. */
  add(pixels: Uint8Array, { width, height }: { width: number; height: number }, delay: number): void {
    const palette = quantize(pixels, COLOURS);
    const index = applyPalette(pixels, palette);
    encoder.writeFrame(index, width, height, { palette, delay: delay * 10, ...(isFirst && { repeat: 0 }) });
    isFirst = false;
  },
  finish(): Uint8Array<ArrayBuffer> {
    encoder.finish();
    return encoder.bytes() as Uint8Array<ArrayBuffer>;
  },
};

export type GifWorker = typeof worker;

expose(worker);
