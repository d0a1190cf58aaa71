import {
  type FileKind,
  type AlphaSplit,
  type PixelFormat,
  type Size,
  evenTimes,
  kindOf,
  missingNumbers,
} from '@hazy-lens/core';
import { decodeFile } from '../codecs/codec';
import { logCause } from '../../model/causes';
import { flattenOnWhite, partsOf } from '../straight-rgba';
import { animatedTrack } from './detect-footage';
import type { FootageMetadata, FrameReader } from './reader';
import { filesWords } from '../../words/files';

const RGBA = { channels: 4, bytes: 1 } as const;
/** Browsers show shorter frames for this long. */
const MIN_SECONDS = 0.02;
const ASKED_TOO_LITTLE_SECONDS = 0.1;

/** Whether a frame has a channel for transparent places. */
const mayBeTransparent = ({ format }: VideoFrame): boolean => format === null || format.includes('A');

/** Straight RGBA of a frame, which is closed. */
async function rgbaOf(frame: VideoFrame, free: SharedArrayBuffer | null): Promise<SharedArrayBuffer> {
  const bytes = frame.displayWidth * frame.displayHeight * 4;
  const pixels = free?.byteLength === bytes ? free : new SharedArrayBuffer(bytes);
  try {
    await frame.copyTo(new Uint8Array(pixels), { format: 'RGBA' });
    return pixels;
  } finally {
    frame.close();
  }
}

/** A frame as it is shown. */
async function pixelsOf(frame: VideoFrame, free: SharedArrayBuffer | null): Promise<SharedArrayBuffer> {
  const isTransparent = mayBeTransparent(frame);
  const pixels = await rgbaOf(frame, free);
  if (isTransparent) flattenOnWhite(pixels);
  return pixels;
}

/** A picture among numbered ones, decoded. */
interface Still extends Size {
  pixels: SharedArrayBuffer;
  format: PixelFormat;
  isTransparent: boolean;
}

/** Kinds that the browser decodes by itself, which is quick; the others are read as single pictures are. */
const QUICK: readonly (FileKind | null)[] = ['jpeg', 'png', 'webp'];

async function decodeStill(file: Blob, name: string, free: SharedArrayBuffer | null): Promise<Still> {
  const kind = await quickKind(file);
  if (kind)
    return quickly(file, name, kind, async (image) => {
      const { displayWidth: width, displayHeight: height } = image;
      const isTransparent = mayBeTransparent(image);
      return { width, height, format: RGBA, isTransparent, pixels: await pixelsOf(image, free) };
    });
  const decoded = await decodeFile(file, name);
  return { ...decoded, isTransparent: decoded.parts !== null };
}

async function stillParts(file: Blob, name: string): Promise<AlphaSplit<SharedArrayBuffer> | null> {
  const kind = await quickKind(file);
  if (!kind) return (await decodeFile(file, name)).parts;
  return quickly(file, name, kind, async (image) =>
    mayBeTransparent(image) ? partsOf(await rgbaOf(image, null)) : null,
  );
}

/** The kind of a picture that the browser decodes, where it decodes any; null for another. */
async function quickKind(file: Blob): Promise<FileKind | null> {
  if (typeof ImageDecoder === 'undefined') return null;
  const kind = kindOf(new Uint8Array(await file.slice(0, 64).arrayBuffer()));
  return QUICK.includes(kind) ? kind : null;
}

/** Has the browser decode a picture for a moment. */
async function quickly<T>(
  file: Blob,
  name: string,
  kind: FileKind,
  use: (image: VideoFrame) => Promise<T>,
): Promise<T> {
  const decoder = new ImageDecoder({ data: await file.arrayBuffer(), type: `image/${kind}` });
  try {
    return await use((await decoder.decode()).image);
  } catch (error) {
    logCause(error);
    throw new Error(filesWords.cantBeDecodedItMayNamed(name));
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

  async open(): Promise<FootageMetadata> {
    const { width, height, format, isTransparent } = await this.decode(0, null);
    this.first = { width, height, format, isTransparent };
    const missing = missingNumbers(this.files.map(({ name }) => name));
    return {
      width,
      height,
      format,
      times: evenTimes(this.files.length, this.fps),
      codec: filesWords.numberedPictures(this.files.length),
      sound: null,
      isTransparent,
      missingFrom: null,
      notes: missing ? [filesWords.missingFramesLaterFramesMoveUp(missing)] : [],
    };
  }

  async read(index: number, free: SharedArrayBuffer | null): Promise<SharedArrayBuffer> {
    const { width, height, format, pixels } = await this.decode(index, free);
    const { first } = this;
    const { name } = this.files[index]!;
    if (width !== first.width || height !== first.height)
      throw new Error(filesWords.isPxNotAsTheFirst(name, width, height, first.width, first.height));
    if (format.bytes !== first.format.bytes)
      throw new Error(filesWords.hasBitsPerChannel(name, 8 * format.bytes, 8 * first.format.bytes));
    return pixels;
  }

  parts(index: number): Promise<AlphaSplit<SharedArrayBuffer> | null> {
    const { name, file } = this.files[index]!;
    return stillParts(file, name);
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

  async open(): Promise<FootageMetadata> {
    this.decoder = new ImageDecoder({ data: await this.file.arrayBuffer(), type: this.type });
    try {
      const { frameCount } = (await animatedTrack(this.decoder))!;
      const starts = new Float64Array(frameCount);
      let time = 0;
      let size = { width: 0, height: 0 };
      let isTransparent = false;
      for (let i = 0; i < frameCount; i++) {
        const { image } = await this.decoder.decode({ frameIndex: i });
        starts[i] = time;
        const seconds = (image.duration ?? 0) / 1e6;
        time += seconds < MIN_SECONDS ? ASKED_TOO_LITTLE_SECONDS : seconds;
        isTransparent ||= mayBeTransparent(image);
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
        isTransparent,
        missingFrom: null,
        notes: [],
      };
    } catch (error) {
      logCause(error);
      throw new Error(filesWords.cantBeReadItMay(this.name));
    }
  }

  async read(index: number, free: SharedArrayBuffer | null): Promise<SharedArrayBuffer> {
    return pixelsOf((await this.decoder.decode({ frameIndex: index })).image, free);
  }

  async parts(index: number): Promise<AlphaSplit<SharedArrayBuffer> | null> {
    const { image } = await this.decoder.decode({ frameIndex: index });
    return partsOf(await rgbaOf(image, null));
  }
}
