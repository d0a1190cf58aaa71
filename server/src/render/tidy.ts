import {
  type ClipTimes,
  type ExportSize,
  FootageMends,
  type FrameFormat,
  type FramePixels,
  type PlacedPatch,
  PART_FORMAT,
  type PixelFormat,
  type Recipe,
  Scratch,
  type SharedImage,
  type Size,
  type Threads,
  exportSize,
  halvingsOf,
  levelFor,
  renderCrop,
  renderScaled,
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

/** Pixels of what a recipe leaves of a picture, at a size, from those of the picture. */
export async function cropPixels(
  data: Uint8Array,
  size: Size,
  format: FrameFormat,
  to: PixelFormat,
  recipe: Recipe,
  threads: Threads,
  { width, height }: Size,
): Promise<Uint8Array> {
  return cutFrom([sharedImage(data, size, format)], recipe, { width, height }, to, threads);
}

function sharedImage(data: Uint8Array, { width, height }: Size, format: FrameFormat): SharedImage {
  const pixels = new SharedArrayBuffer(data.byteLength);
  new Uint8Array(pixels).set(data);
  return { width, height, pixels, format };
}

/** What a recipe leaves of a picture at a size, out of the level of it that has the detail. @param levels the largest first. */
async function cutFrom(
  levels: readonly SharedImage[],
  recipe: Recipe,
  size: Size,
  to: PixelFormat,
  threads: Threads,
): Promise<Uint8Array> {
  const [full] = levels as [SharedImage];
  const sheet = cropOf(recipe, full);
  const target = new Uint8Array(new SharedArrayBuffer(frameBytes(to, size)));
  const whole = { x: 0, y: 0, ...size, picture: size };
  const scale = size.width / sheet.width;
  const level = levelFor(levels, { width: full.width * scale, height: full.height * scale });
  if (isUncropped(sheet)) await renderScaled(threads, levelFor(levels, size), whole, to, target);
  else await renderCrop(threads, level, sheet, whole, to, target);
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
  return new SizedPicture(picture, recipe, threads).at({ by: 'full' });
}

/** What a recipe leaves of a picture, whose mends are made, at one size after the other. */
export class SizedPicture {
  private levels: Promise<SharedImage[]> | null = null;

  constructor(
    private readonly picture: Decoded,
    private readonly recipe: Recipe,
    private readonly threads: Threads,
  ) {}

  /** The picture at a size; itself where that is all of it. */
  async at(size: ExportSize): Promise<Decoded> {
    const { picture, recipe, threads } = this;
    const sheet = cropOf(recipe, picture);
    const { width, height } = exportSize(sheet, size);
    if (isUncropped(sheet) && width === sheet.width && height === sheet.height) return picture;
    const { format, parts } = picture;
    const part = async (samples: Uint16Array): Promise<Uint16Array> => {
      const bytes = new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength);
      const levels = [sharedImage(bytes, picture, PART_FORMAT)];
      return new Uint16Array((await cutFrom(levels, recipe, { width, height }, PART_FORMAT, threads)).buffer);
    };
    // A smaller size is made out of the halvings that the application makes of each picture.
    const levels = await (width < sheet.width ? (this.levels ??= this.halved()) : [this.full()]);
    const data = await cutFrom(levels, recipe, { width, height }, format, threads);
    return {
      ...picture,
      width,
      height,
      data: Buffer.from(data.buffer, data.byteOffset, data.byteLength),
      parts: parts && { premultiplied: await part(parts.premultiplied), alpha: await part(parts.alpha) },
    };
  }

  private full(): SharedImage {
    const { width, height, data, format } = this.picture;
    return sharedImage(data, { width, height }, format);
  }

  private async halved(): Promise<SharedImage[]> {
    const full = this.full();
    return [full, ...(await halvingsOf(this.threads, full, this.picture.format))];
  }
}
