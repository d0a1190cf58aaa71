import {
  type FrameFormat,
  PART_FORMAT,
  type Parts,
  type PixelFormat,
  type Pixels,
  type Region,
  type ScaleTask,
  type Size,
  type Threads,
  type Window,
  isYuv,
} from '@hazy-lens/core';
import type { DecodedPicture } from './codecs/messages';

interface Level extends Size {
  pixels: SharedArrayBuffer;
}

const SMALLEST = 1400;
const RGBA: PixelFormat = { channels: 4, bytes: 1 };

/** A decoded picture and its halvings, from which any part can be had at any smaller size quickly. */
export class Picture implements Size {
  readonly width: number;
  readonly height: number;
  /** How its pixels lie, and how those that are cut out of it do. */
  readonly format: FrameFormat;
  readonly cutFormat: PixelFormat;
  /** The same with its transparent places, for files that keep them; null where it has none. */
  readonly parts: Parts<Picture> | null;
  private readonly levels: Level[];

  /** @param id the same for the same pixels. */
  private constructor(
    full: Level & { format: FrameFormat },
    readonly id: string,
    parts: Parts<SharedArrayBuffer> | null = null,
  ) {
    this.width = full.width;
    this.height = full.height;
    this.format = full.format;
    this.cutFormat = isYuv(full.format) ? RGBA : full.format;
    this.levels = [full];
    const part = (pixels: SharedArrayBuffer): Picture =>
      new Picture({ ...full, pixels, format: PART_FORMAT }, id);
    this.parts = parts && { lit: part(parts.lit), cover: part(parts.cover) };
  }

  private get pixelBytes(): number {
    return this.cutFormat.channels * this.cutFormat.bytes;
  }

  /** All pixels as they lie, in its own format. */
  get pixelsAsTheyLie(): SharedArrayBuffer {
    return this.levels[0]!.pixels;
  }

  /** A frame of footage: it is shown for a moment, which its halvings are not worth. */
  static ofFrame(full: Level & { format: FrameFormat }, id: string): Picture {
    return new Picture(full, id);
  }

  static async from(full: DecodedPicture, threads: Threads): Promise<Picture> {
    const picture = new Picture(full, crypto.randomUUID(), full.parts);
    for (let last: Level = full; Math.max(last.width, last.height) > SMALLEST;) {
      const size = { width: Math.ceil(last.width / 2), height: Math.ceil(last.height / 2) };
      const bytes = size.width * size.height * picture.pixelBytes;
      const next: Level = { ...size, pixels: new SharedArrayBuffer(bytes) };
      await picture.scale(threads, last, { x: 0, y: 0, ...size, picture: size }, new Uint8Array(next.pixels));
      picture.levels.push(next);
      last = next;
    }
    return picture;
  }

  /** A window of the picture as 8-bit pixels, at most `longEdge` long, never larger than it is. */
  async pixels(threads: Threads, window: Window, longEdge: number): Promise<Pixels> {
    const own = { width: window.width * this.width, height: window.height * this.height };
    const scale = Math.min(1, longEdge / Math.max(own.width, own.height));
    const size = {
      width: Math.max(1, Math.round(this.width * scale)),
      height: Math.max(1, Math.round(this.height * scale)),
    };
    const x = Math.floor(window.x * size.width);
    const y = Math.floor(window.y * size.height);
    const width = Math.max(1, Math.min(size.width - x, Math.round(window.width * size.width)));
    const height = Math.max(1, Math.min(size.height - y, Math.round(window.height * size.height)));
    const data = new Uint8Array(new SharedArrayBuffer(width * height * this.pixelBytes));
    await this.cut(threads, { x, y, width, height, picture: size }, data);
    return { width, height, data: this.cutFormat.bytes === 2 ? highBytes(data) : data };
  }

  /** Writes a region of the picture, scaled to `region.picture`, into shared memory, as `cutFormat`. */
  async cut(threads: Threads, region: Region, target: Uint8Array): Promise<void> {
    const enough = this.levels.filter(
      (level) => level.width >= region.picture.width && level.height >= region.picture.height,
    );
    await this.scale(threads, enough.at(-1) ?? this.levels[0]!, region, target);
  }

  private async scale(threads: Threads, from: Level, region: Region, target: Uint8Array): Promise<void> {
    const module = await threads.module;
    const { runners } = threads;
    const bound = (i: number): number => Math.round((region.height * i) / runners.length);
    await Promise.all(
      runners.map((run, i) => {
        const scale: ScaleTask = {
          from: this.format,
          to: this.cutFormat,
          source: from.pixels,
          sourceSize: { width: from.width, height: from.height },
          region,
          target: target.buffer as SharedArrayBuffer,
          offset: target.byteOffset,
          rows: [bound(i), bound(i + 1)],
        };
        return bound(i) < bound(i + 1) ? run({ kind: 'scale', module, scale }) : Promise.resolve();
      }),
    );
  }
}

/** 16-bit samples as 8 bits each. */
export function highBytes(samples: Uint8Array): Uint8Array {
  const deep = new Uint16Array(samples.buffer, samples.byteOffset, samples.length / 2);
  return Uint8Array.from(deep, (value) => Math.round(value / 257));
}
