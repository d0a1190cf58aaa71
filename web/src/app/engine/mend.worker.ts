import './memory-stand-in';
import {
  type FrameFormat,
  type PlacedPatch,
  type LiftedSubject,
  type Mend,
  type MendPatch,
  type AlphaSplit,
  type PixelFormat,
  type Raster,
  type Samples,
  Scratch,
  type Size,
  compositePatch,
  liftSubject,
  mendPatch,
  mendSamples,
} from '@hazy-lens/core';
import { expose } from 'comlink';
import { getsOn } from './worker-client';

const scratch = new Scratch();

/** Carries out mends on the pixels of pictures and frames. */
const worker = {
  /**
   * One after the other, in place where memory is shared; `told` hears how far all of them are, 0..1, `drafted` how a
   * large one will look.
   * @returns the pixels and their parts, mended.
   */
  async mend(
    module: WebAssembly.Module,
    pixels: SharedArrayBuffer,
    parts: AlphaSplit<SharedArrayBuffer> | null,
    format: PixelFormat,
    { width, height }: Size,
    mends: readonly Mend[],
    told: (done: number) => void,
    drafted: (pixels: SharedArrayBuffer) => void,
  ): Promise<{ pixels: SharedArrayBuffer; parts: AlphaSplit<SharedArrayBuffer> | null }> {
    const samplesIn = (of: SharedArrayBuffer): Samples => {
      const data = format.bytes === 2 ? new Uint16Array(of) : new Uint8Array(of);
      return { width, height, data, channels: format.channels };
    };
    const transparent = parts && {
      premultiplied: new Uint16Array(parts.premultiplied),
      alpha: new Uint16Array(parts.alpha),
    };
    for (const [i, mend] of mends.entries())
      await mendSamples(
        scratch,
        module,
        { ...samplesIn(pixels), parts: transparent },
        mend,
        (done) => {
          getsOn();
          told((i + done) / mends.length);
        },
        (put) => {
          const copy = new SharedArrayBuffer(pixels.byteLength);
          new Uint8Array(copy).set(new Uint8Array(pixels));
          put(samplesIn(copy));
          drafted(copy);
        },
      );
    return { pixels, parts };
  },

  /** Makes a mend on a frame of footage, to be laid on any; null where it lies outside. */
  patch(
    module: WebAssembly.Module,
    pixels: SharedArrayBuffer,
    format: FrameFormat,
    { width, height }: Size,
    mend: Mend,
  ): Promise<MendPatch | null> {
    return mendPatch(scratch, module, { pixels: new Uint8Array(pixels), format, width, height }, mend);
  },

  /** Takes a subject out of a picture, see `liftSubject`. */
  lift(
    module: WebAssembly.Module,
    pixels: SharedArrayBuffer,
    format: PixelFormat,
    { width, height }: Size,
    matte: Raster,
    id: string,
  ): Promise<LiftedSubject | null> {
    const data = format.bytes === 2 ? new Uint16Array(pixels) : new Uint8Array(pixels);
    const samples = { width, height, data, channels: format.channels };
    return liftSubject(scratch, module, samples, matte, id, getsOn);
  },

  /** A copy of a frame with patches on it, one after the other. */
  lay(
    pixels: SharedArrayBuffer,
    format: FrameFormat,
    { width, height }: Size,
    laid: readonly PlacedPatch[],
  ): SharedArrayBuffer {
    const made = new SharedArrayBuffer(pixels.byteLength);
    const frame = { pixels: new Uint8Array(made), format, width, height };
    frame.pixels.set(new Uint8Array(pixels));
    for (const { patch, carry } of laid) compositePatch(frame, patch, carry);
    return made;
  },
};

export type MendWorker = typeof worker;

expose(worker);
