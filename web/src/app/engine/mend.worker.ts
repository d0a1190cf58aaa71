import { type Mend, type PixelFormat, Scratch, type Size, mendSamples } from '@hazy-lens/core';
import { expose } from 'comlink';

const scratch = new Scratch();

/** Carries out mends on the pixels of a picture. */
const worker = {
  /** In place, one after the other; `told` hears how far all of them are, 0..1. */
  async mend(
    module: WebAssembly.Module,
    pixels: SharedArrayBuffer,
    format: PixelFormat,
    { width, height }: Size,
    mends: readonly Mend[],
    told: (done: number) => void,
  ): Promise<void> {
    const data = format.bytes === 2 ? new Uint16Array(pixels) : new Uint8Array(pixels);
    const samples = { width, height, data, channels: format.channels };
    for (const [i, mend] of mends.entries())
      await mendSamples(scratch, module, samples, mend, (done) => told((i + done) / mends.length));
  },
};

export type MendWorker = typeof worker;

expose(worker);
