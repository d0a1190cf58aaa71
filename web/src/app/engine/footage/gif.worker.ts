import { expose } from 'comlink';
import { GIFEncoder, applyPalette, quantize } from 'gifenc';

const COLOURS = 256;
const encoder = GIFEncoder({ auto: false });

/** Writes an animated GIF frame by frame, each with its own palette. */
const worker = {
  /** @param delay in hundredths of a second. @param isFirst whether the file begins with it. */
  add(
    pixels: Uint8Array,
    { width, height }: { width: number; height: number },
    delay: number,
    isFirst: boolean,
  ): void {
    const palette = quantize(pixels, COLOURS);
    const index = applyPalette(pixels, palette);
    if (isFirst) encoder.writeHeader();
    encoder.writeFrame(index, width, height, { palette, delay: delay * 10, first: isFirst, repeat: 0 });
  },
  /** What was written since the last time. */
  take(): Uint8Array<ArrayBuffer> {
    const bytes = encoder.bytes() as Uint8Array<ArrayBuffer>;
    encoder.reset();
    return bytes;
  },
};

export type GifWorker = typeof worker;

expose(worker);
