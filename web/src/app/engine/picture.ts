import {
  type FrameFormat,
  PART_FORMAT,
  type AlphaSplit,
  type PixelFormat,
  type Primaries,
  type SharedImage,
  type Region,
  type Size,
  type Threads,
  halvingsOf,
  levelFor,
  renderScaled,
  isYuv,
} from '@hazy-lens/core';
import { RegionReader } from './region-reader';
import type { DecodedPicture } from './codecs/messages';
import { BufferPool } from './buffer-pool';

interface Level extends Size {
  pixels: SharedArrayBuffer;
}

const RGBA: PixelFormat = { channels: 4, bytes: 1 };

/** A decoded picture and its halvings, from which any part can be had at any smaller size quickly. */
export class Picture extends RegionReader {
  readonly width: number;
  readonly height: number;
  /** How its pixels lie, and how those that are cut out of it do. */
  readonly format: FrameFormat;
  readonly readFormat: PixelFormat;
  readonly primaries: Primaries;
  readonly gain: number;
  /** The same with its transparent places, for files that keep them; null where it has none. */
  readonly parts: AlphaSplit<Picture> | null;
  private readonly levels: Level[];
  private cuts = 0;

  /** @param id the same for the same pixels. */
  private constructor(
    full: Level & { format: FrameFormat },
    readonly id: string,
    parts: AlphaSplit<SharedArrayBuffer> | null = null,
    { primaries, gain }: Pick<DecodedPicture, 'primaries' | 'gain'> = { primaries: 'srgb', gain: 1 },
  ) {
    super();
    this.primaries = primaries;
    this.gain = gain;
    this.width = full.width;
    this.height = full.height;
    this.format = full.format;
    this.readFormat = isYuv(full.format) ? RGBA : full.format;
    this.levels = [full];
    const part = (pixels: SharedArrayBuffer): Picture =>
      new Picture({ ...full, pixels, format: PART_FORMAT }, id, null, { primaries, gain });
    this.parts = parts && { premultiplied: part(parts.premultiplied), alpha: part(parts.alpha) };
  }

  /** All pixels as they lie, in its own format. */
  get rawPixels(): SharedArrayBuffer {
    return this.levels[0]!.pixels;
  }

  /** A frame of footage: it is shown for a moment, which its halvings are not worth. */
  static ofFrame(full: Level & { format: FrameFormat }, id: string): Picture {
    return new Picture(full, id);
  }

  /** @param free memory that its halvings may lie in. */
  static async from(
    full: Omit<DecodedPicture, 'about'>,
    threads: Threads,
    free = new BufferPool(),
  ): Promise<Picture> {
    const picture = new Picture(full, crypto.randomUUID(), full.parts, full);
    const { format, readFormat } = picture;
    const take = (bytes: number): SharedArrayBuffer => free.take(bytes);
    picture.levels.push(...(await halvingsOf(threads, { ...full, format }, readFormat, take)));
    return picture;
  }

  /** The same picture with other pixels of the same format. */
  withPixels(
    pixels: SharedArrayBuffer,
    parts: AlphaSplit<SharedArrayBuffer> | null,
    threads: Threads,
  ): Promise<Picture> {
    if (isYuv(this.format)) throw new Error('Frames of planes take no other pixels.');
    const { width, height, format, primaries, gain } = this;
    return Picture.from({ pixels, width, height, format, primaries, gain, parts }, threads);
  }

  /** Gives its memory away: nobody may read it any more. What is being cut just now keeps it. */
  releaseTo(free: BufferPool): void {
    if (this.cuts > 0) return;
    this.parts?.premultiplied.releaseTo(free);
    this.parts?.alpha.releaseTo(free);
    free.give(...this.levels.map(({ pixels }) => pixels));
  }

  readRegion(threads: Threads, region: Region, target: Uint8Array): Promise<void> {
    return this.cutting(region.picture, (level) =>
      renderScaled(threads, level, region, this.readFormat, target),
    );
  }

  /** Cuts out of the smallest of its halvings that has all the detail of a size. */
  async cutting(size: Size, cut: (level: SharedImage) => Promise<void>): Promise<void> {
    this.cuts++;
    try {
      await cut({ ...levelFor(this.levels, size), format: this.format });
    } finally {
      this.cuts--;
    }
  }
}
