import {
  type ClipTimes,
  FootageMends,
  type FrameFormat,
  type FramePixels,
  type PlacedPatch,
  PART_FORMAT,
  type PixelFormat,
  type Recipe,
  Scratch,
  type Size,
  type Threads,
  renderCrop,
  frameBytes,
  isUncropped,
  compositePatch,
  mendPatch,
  mendSamples,
  mendsIn,
  cropOf,
} from '@hazy-lens/core';
import type { Frame, FrameSource } from '../footage/frame';
import { type Decoded, samplesOf } from './picture';

/** Pixels of what a recipe leaves of a picture, from those of the picture. */
export async function cropPixels(
  data: Uint8Array,
  size: Size,
  format: FrameFormat,
  to: PixelFormat,
  recipe: Recipe,
  threads: Threads,
): Promise<Uint8Array> {
  const sheet = cropOf(recipe, size);
  const pixels = new SharedArrayBuffer(data.byteLength);
  new Uint8Array(pixels).set(data);
  const { width, height } = sheet;
  const target = new Uint8Array(new SharedArrayBuffer(frameBytes(to, sheet)));
  const whole = { x: 0, y: 0, width, height, picture: { width, height } };
  await renderCrop(threads, { ...size, pixels, format }, sheet, whole, to, target);
  return target;
}

/** Carries out the mends of a recipe on a picture, in place. */
export async function mend(
  { width, height, format, data, parts }: Decoded,
  recipe: Recipe,
  threads: Threads,
): Promise<void> {
  const samples = {
    width,
    height,
    channels: format.channels,
    data: samplesOf(data, format),
    parts,
  };
  const scratch = new Scratch();
  for (const one of mendsIn(recipe)) await mendSamples(scratch, await threads.module, samples, one);
}

/** Frames of footage with the mends of a recipe on them, see `FootageMends`. */
export class MendedFrames {
  private readonly mends: FootageMends;
  private readonly scratch = new Scratch();

  constructor(
    private readonly frames: Pick<FrameSource, 'at'>,
    recipe: Recipe,
    times: ClipTimes,
    threads: Threads,
  ) {
    this.mends = new FootageMends(recipe, times, async (home, mend, before) => {
      const frame = laidOn(await this.frames.at(home), before);
      return mendPatch(this.scratch, await threads.module, pixelsOf(frame), mend);
    });
  }

  async at(index: number): Promise<Frame> {
    return laidOn(await this.frames.at(index), await this.mends.on(index));
  }
}

const pixelsOf = ({ width, height, format, data }: Frame): FramePixels => ({
  width,
  height,
  format,
  pixels: data,
});

/** A copy of a frame with patches on it; the frame itself where there are none. */
function laidOn(frame: Frame, laid: readonly PlacedPatch[]): Frame {
  if (laid.length === 0) return frame;
  const made = { ...frame, data: Buffer.from(Uint8Array.from(frame.data).buffer) };
  for (const { patch, carry } of laid) compositePatch(pixelsOf(made), patch, carry);
  return made;
}

/** What a recipe leaves of a picture, whose mends are made; the picture itself where that is all of it. */
export async function cropped(picture: Decoded, recipe: Recipe, threads: Threads): Promise<Decoded> {
  const sheet = cropOf(recipe, picture);
  if (isUncropped(sheet)) return picture;
  const { width, height, format, parts } = picture;
  const size = { width, height };
  const part = async (samples: Uint16Array): Promise<Uint16Array> => {
    const bytes = new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength);
    return new Uint16Array((await cropPixels(bytes, size, PART_FORMAT, PART_FORMAT, recipe, threads)).buffer);
  };
  const data = await cropPixels(picture.data, size, format, format, recipe, threads);
  return {
    ...picture,
    width: sheet.width,
    height: sheet.height,
    data: Buffer.from(data.buffer, data.byteOffset, data.byteLength),
    parts: parts && { premultiplied: await part(parts.premultiplied), alpha: await part(parts.alpha) },
  };
}
