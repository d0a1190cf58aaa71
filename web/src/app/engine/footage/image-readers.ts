import { evenTimes, missingNumbers } from '@hazy-lens/core';
import { kindOf } from '../codecs/kinds';
import type { FootageFacts, FrameReader } from './reader';

const RGBA = { channels: 4, bytes: 1 } as const;
/** A browser shows a frame of an animation that asks for less as long as this. */
const LEAST_SECONDS = 0.02;
const ASKED_TOO_LITTLE_SECONDS = 0.1;

async function pixelsOf(frame: VideoFrame): Promise<SharedArrayBuffer> {
  const pixels = new SharedArrayBuffer(frame.displayWidth * frame.displayHeight * 4);
  try {
    await frame.copyTo(new Uint8Array(pixels), { format: 'RGBA' });
    return pixels;
  } finally {
    frame.close();
  }
}

/** Type of a picture that the browser decodes by its first bytes, or null. */
async function typeOf(file: Blob): Promise<string | null> {
  const kind = kindOf(new Uint8Array(await file.slice(0, 64).arrayBuffer()));
  return kind && ['jpeg', 'png', 'webp'].includes(kind) ? `image/${kind}` : null;
}

/** Numbered pictures, each a frame; all of the size of the first. */
export class StillsReader implements FrameReader {
  private size = { width: 0, height: 0 };

  constructor(
    private readonly files: readonly { name: string; file: Blob }[],
    private readonly fps: number,
  ) {}

  async open(): Promise<FootageFacts> {
    const first = await this.decode(0);
    this.size = { width: first.displayWidth, height: first.displayHeight };
    first.close();
    const missing = missingNumbers(this.files.map(({ name }) => name));
    return {
      ...this.size,
      format: RGBA,
      times: evenTimes(this.files.length, this.fps),
      codec: `${this.files.length} numbered pictures`,
      sound: null,
      notes: missing ? [`Missing among the numbers: ${missing}. What comes after them moves up.`] : [],
    };
  }

  async read(index: number): Promise<SharedArrayBuffer> {
    const frame = await this.decode(index);
    const { displayWidth, displayHeight } = frame;
    if (displayWidth === this.size.width && displayHeight === this.size.height) return pixelsOf(frame);
    frame.close();
    throw new Error(
      `“${this.files[index]!.name}” is ${displayWidth} × ${displayHeight} px, not ${this.size.width} × ${this.size.height} as the first.`,
    );
  }

  private async decode(index: number): Promise<VideoFrame> {
    const { name, file } = this.files[index]!;
    const type = await typeOf(file);
    if (!type) throw new Error(`“${name}” is no JPEG, PNG or WebP.`);
    const decoder = new ImageDecoder({ data: await file.arrayBuffer(), type });
    try {
      const { image } = await decoder.decode();
      return image;
    } catch (error) {
      throw new Error(`“${name}” cannot be decoded (${(error as Error).message}).`, { cause: error });
    } finally {
      decoder.close();
    }
  }
}

/** A GIF or WebP that moves. */
export class AnimationReader implements FrameReader {
  private decoder!: ImageDecoder;

  constructor(
    private readonly file: Blob,
    private readonly name: string,
    private readonly type: string,
  ) {}

  async open(): Promise<FootageFacts> {
    this.decoder = new ImageDecoder({ data: await this.file.arrayBuffer(), type: this.type });
    try {
      await this.decoder.completed;
      const { frameCount } = this.decoder.tracks.selectedTrack!;
      const starts = new Float64Array(frameCount);
      let time = 0;
      let size = { width: 0, height: 0 };
      for (let i = 0; i < frameCount; i++) {
        const { image } = await this.decoder.decode({ frameIndex: i });
        starts[i] = time;
        const seconds = (image.duration ?? 0) / 1e6;
        time += seconds < LEAST_SECONDS ? ASKED_TOO_LITTLE_SECONDS : seconds;
        if (i === 0) size = { width: image.displayWidth, height: image.displayHeight };
        image.close();
      }
      const codec = this.type === 'image/gif' ? 'GIF' : 'WebP';
      return { ...size, format: RGBA, times: { starts, end: time }, codec, sound: null, notes: [] };
    } catch (error) {
      throw new Error(
        `“${this.name}” cannot be read (${(error as Error).message}). It may be cut short or damaged.`,
        {
          cause: error,
        },
      );
    }
  }

  async read(index: number): Promise<SharedArrayBuffer> {
    return pixelsOf((await this.decoder.decode({ frameIndex: index })).image);
  }
}
