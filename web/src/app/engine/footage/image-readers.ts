import {
  type FileKind,
  type PixelFormat,
  type Size,
  evenTimes,
  kindOf,
  missingNumbers,
} from '@hazy-lens/core';
import { decodeFile } from '../codecs/codec';
import { logCause } from '../../model/causes';
import { animatedTrack } from './kinds';
import type { FootageFacts, FrameReader } from './reader';

const RGBA = { channels: 4, bytes: 1 } as const;
/** A browser shows a frame of an animation that asks for less as long as this. */
const LEAST_SECONDS = 0.02;
const ASKED_TOO_LITTLE_SECONDS = 0.1;

async function pixelsOf(frame: VideoFrame, free: SharedArrayBuffer | null): Promise<SharedArrayBuffer> {
  const bytes = frame.displayWidth * frame.displayHeight * 4;
  const pixels = free?.byteLength === bytes ? free : new SharedArrayBuffer(bytes);
  try {
    await frame.copyTo(new Uint8Array(pixels), { format: 'RGBA' });
    return pixels;
  } finally {
    frame.close();
  }
}

/** A picture among numbered ones, decoded. */
interface Still extends Size {
  pixels: SharedArrayBuffer;
  format: PixelFormat;
}

/** Kinds that the browser decodes by itself, which is quick; the others are read as single pictures are. */
const QUICK: readonly (FileKind | null)[] = ['jpeg', 'png', 'webp'];

async function decodeStill(file: Blob, name: string, free: SharedArrayBuffer | null): Promise<Still> {
  const kind = kindOf(new Uint8Array(await file.slice(0, 64).arrayBuffer()));
  if (!QUICK.includes(kind)) return decodeFile(file, name);
  const decoder = new ImageDecoder({ data: await file.arrayBuffer(), type: `image/${kind}` });
  try {
    const { image } = await decoder.decode();
    const { displayWidth: width, displayHeight: height } = image;
    return { width, height, format: RGBA, pixels: await pixelsOf(image, free) };
  } catch (error) {
    logCause(error);
    throw new Error(`“${name}” cannot be decoded. It may be damaged.`);
  } finally {
    decoder.close();
  }
}

/** Numbered pictures, each a frame; all of the size of the first, and as deep. */
export class StillsReader implements FrameReader {
  private first!: Omit<Still, 'pixels'>;

  constructor(
    private readonly files: readonly { name: string; file: Blob }[],
    private readonly fps: number,
  ) {}

  async open(): Promise<FootageFacts> {
    const { width, height, format } = await this.decode(0, null);
    this.first = { width, height, format };
    const missing = missingNumbers(this.files.map(({ name }) => name));
    return {
      width,
      height,
      format,
      times: evenTimes(this.files.length, this.fps),
      codec: `${this.files.length} numbered pictures`,
      sound: null,
      missingFrom: null,
      notes: missing ? [`Missing among the numbers: ${missing}. What comes after them moves up.`] : [],
    };
  }

  async read(index: number, free: SharedArrayBuffer | null): Promise<SharedArrayBuffer> {
    const { width, height, format, pixels } = await this.decode(index, free);
    const { first } = this;
    const { name } = this.files[index]!;
    if (width !== first.width || height !== first.height)
      throw new Error(
        `“${name}” is ${width} × ${height} px, not ${first.width} × ${first.height} as the first.`,
      );
    if (format.bytes !== first.format.bytes)
      throw new Error(
        `“${name}” has ${8 * format.bytes} bits a channel, not ${8 * first.format.bytes} as the first.`,
      );
    return pixels;
  }

  private decode(index: number, free: SharedArrayBuffer | null): Promise<Still> {
    const { name, file } = this.files[index]!;
    return decodeStill(file, name, free);
  }
}

const CODECS: Record<string, string> = { 'image/gif': 'GIF', 'image/webp': 'WebP', 'image/avif': 'AVIF' };

/** A GIF, WebP or AVIF that moves. */
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
      const { frameCount } = (await animatedTrack(this.decoder))!;
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
      const codec = CODECS[this.type] ?? this.type;
      return {
        ...size,
        format: RGBA,
        times: { starts, end: time },
        codec,
        sound: null,
        missingFrom: null,
        notes: [],
      };
    } catch (error) {
      logCause(error);
      throw new Error(`“${this.name}” cannot be read. It may be cut short or damaged.`);
    }
  }

  async read(index: number, free: SharedArrayBuffer | null): Promise<SharedArrayBuffer> {
    return pixelsOf((await this.decoder.decode({ frameIndex: index })).image, free);
  }
}
