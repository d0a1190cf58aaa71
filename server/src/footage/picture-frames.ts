import { type ClipTimes, type PixelFormat, evenTimes, foreignText, meantRate } from '@hazy-lens/core';
import type { InputPicture } from '../render/inputs';
import { type Decoded, InputError, decodeBytes } from '../render/picture';
import type { FrameSource } from './frame';

/** Frames a second of numbered pictures where nothing is said. */
const DEFAULT_FPS = 30;
/** Decoded frames that are kept: neighbours share them. */
const MAX_KEPT = 12;

/** Numbered pictures as footage; the frames used last are kept. */
export class PictureFrames implements FrameSource {
  private readonly kept = new Map<number, Promise<Decoded>>();

  private constructor(
    private readonly pictures: readonly InputPicture[],
    readonly first: Decoded,
    readonly times: ClipTimes,
  ) {}

  /** @param fps frames a second; null where nothing is said. @throws InputError where the first cannot be read. */
  static async open(pictures: readonly InputPicture[], fps: number | null): Promise<PictureFrames> {
    const { name, bytes } = pictures[0]!;
    const first = await decodeBytes(await bytes(), foreignText(name));
    return new PictureFrames(pictures, first, evenTimes(pictures.length, meantRate(fps ?? DEFAULT_FPS)));
  }

  get width(): number {
    return this.first.width;
  }

  get height(): number {
    return this.first.height;
  }

  get format(): PixelFormat {
    return this.first.format;
  }

  at(index: number): Promise<Decoded> {
    const frame = this.kept.get(index) ?? this.decode(index);
    this.kept.delete(index);
    this.kept.set(index, frame);
    if (this.kept.size > MAX_KEPT) this.kept.delete(this.kept.keys().next().value!);
    return frame;
  }

  private async decode(index: number): Promise<Decoded> {
    const { first } = this;
    if (index === 0) return first;
    const { name, bytes } = this.pictures[index]!;
    const frame = await decodeBytes(await bytes(), foreignText(name));
    const { width, height, format } = frame;
    if (width !== first.width || height !== first.height || format.bytes !== first.format.bytes)
      throw new InputError(
        `${name}: ${width} x ${height}, ${8 * format.bytes}-bit, doesn’t match the first frame.`,
      );
    return frame;
  }

  async close(): Promise<void> {
    this.kept.clear();
  }
}
