import { type FrameFormat, type Size, type YuvFormat } from '@hazy-lens/core';
import { wrap } from 'comlink';
import { Zip, ZipPassThrough } from 'fflate';
import {
  BufferTarget,
  Mp4OutputFormat,
  Output,
  VideoSample,
  VideoSampleSource,
  WebMOutputFormat,
  canEncodeVideo,
} from 'mediabunny';
import { encodePixels } from '../codecs/codec';
import type { FilmKind } from './film-kinds';
import type { GifWorker } from './gif.worker';
import { type Sound, type SoundTrack, soundTrack } from './sound';
import { animationFrame, animationHead } from './webp-animation';

export interface FilmOptions extends Size {
  fps: number;
  frames: number;
  /** Bits a second, for kinds that an encoder writes. */
  bitrate: number;
  /** 0..1, for pictures that lose something. */
  quality: number;
  /** Begins the names of single pictures. */
  name: string;
  /** Goes along, where the kind of file can hold one; null for none. */
  sound: Sound | null;
}

/** Takes the pictures of a film one by one, and gives the file. */
export interface FilmWriter {
  /** How the pixels are wanted. */
  readonly format: FrameFormat;
  /** Takes a picture; its bytes are free again when this ends. */
  add(bytes: Uint8Array, index: number): Promise<void>;
  finish(): Promise<Blob>;
  /** Lets go of everything where no file is wanted any more. */
  cancel(): Promise<void>;
}

const RGBA: FrameFormat = { channels: 4, bytes: 1 };

/** @param planes how an encoder gets its frames. @throws Error with a sentence where the browser cannot write the kind. */
export async function filmWriter(
  kind: FilmKind,
  options: FilmOptions,
  planes: YuvFormat,
): Promise<FilmWriter> {
  const { writer } = kind;
  switch (writer.by) {
    case 'encoder':
      if (!(await canEncodeVideo(writer.codec, { ...options, quality: undefined })))
        throw new Error(
          `This browser does not write ${kind.label} at ${options.width} × ${options.height}. Please choose another kind.`,
        );
      return EncoderWriter.start(writer, options, planes);
    case 'gif':
      return new GifWriter(options);
    case 'webp':
      return new WebpWriter(options);
    case 'frames':
      return new FramesWriter(writer.type, options);
  }
}

const KEY_FRAME_SECONDS = 2;

class EncoderWriter implements FilmWriter {
  private encoding: Promise<void> = Promise.resolve();

  private constructor(
    readonly format: YuvFormat,
    private readonly options: FilmOptions,
    private readonly output: Output<Mp4OutputFormat | WebMOutputFormat, BufferTarget>,
    private readonly source: VideoSampleSource,
    private readonly sound: SoundTrack | null,
  ) {}

  static async start(
    { container, codec }: { container: 'mp4' | 'webm'; codec: 'avc' | 'av1' | 'vp9' },
    options: FilmOptions,
    format: YuvFormat,
  ): Promise<EncoderWriter> {
    const output = new Output({
      format: container === 'mp4' ? new Mp4OutputFormat({ fastStart: 'in-memory' }) : new WebMOutputFormat(),
      target: new BufferTarget(),
    });
    const source = new VideoSampleSource({
      codec,
      bitrate: options.bitrate,
      keyFrameInterval: KEY_FRAME_SECONDS,
      latencyMode: 'quality',
    });
    output.addVideoTrack(source, { frameRate: options.fps });
    const sound = options.sound && (await soundTrack(output, options.sound));
    await output.start();
    return new EncoderWriter(format, options, output, source, sound);
  }

  async add(bytes: Uint8Array, index: number): Promise<void> {
    const { width, height, fps } = this.options;
    const { matrix, range } = this.format;
    // The frame has a copy of the bytes: the next can be rendered while this one is encoded.
    const frame = new VideoFrame(bytes as Uint8Array<ArrayBuffer>, {
      format: 'I420',
      codedWidth: width,
      codedHeight: height,
      timestamp: Math.round((index * 1e6) / fps),
      duration: Math.round(1e6 / fps),
      colorSpace: {
        matrix: matrix === 'bt601' ? 'smpte170m' : 'bt709',
        primaries: matrix === 'bt601' ? 'smpte170m' : 'bt709',
        transfer: matrix === 'bt601' ? 'smpte170m' : 'bt709',
        fullRange: range === 'full',
      },
    });
    await this.encoding;
    const sample = new VideoSample(frame, { timestamp: index / fps, duration: 1 / fps });
    this.encoding = this.source.add(sample).finally(() => sample.close());
    this.encoding.catch(() => undefined);
  }

  async finish(): Promise<Blob> {
    await this.encoding;
    await this.sound?.write();
    await this.output.finalize();
    const type = this.output.format instanceof Mp4OutputFormat ? 'video/mp4' : 'video/webm';
    return new Blob([this.output.target.buffer!], { type });
  }

  async cancel(): Promise<void> {
    await this.encoding.catch(() => undefined);
    if (this.output.state === 'started') await this.output.cancel();
  }
}

class GifWriter implements FilmWriter {
  readonly format = RGBA;
  private readonly worker = new Worker(new URL('./gif.worker', import.meta.url), { type: 'module' });
  private readonly remote = wrap<GifWorker>(this.worker);

  constructor(private readonly options: FilmOptions) {}

  async add(bytes: Uint8Array, index: number): Promise<void> {
    const { width, height, fps } = this.options;
    // Delays are hundredths of a second: what one is rounded by, the next makes good.
    const hundredths = (i: number): number => Math.round((i * 100) / fps);
    await this.remote.add(
      new Uint8Array(bytes),
      { width, height },
      hundredths(index + 1) - hundredths(index),
    );
  }

  async finish(): Promise<Blob> {
    const bytes = await this.remote.finish();
    this.worker.terminate();
    return new Blob([bytes], { type: 'image/gif' });
  }

  async cancel(): Promise<void> {
    this.worker.terminate();
  }
}

/** A picture that moves, of pictures that the browser writes. */
class WebpWriter implements FilmWriter {
  readonly format = RGBA;
  private readonly frames: Blob[] = [];
  private bytes = 0;

  constructor(private readonly options: FilmOptions) {}

  async add(bytes: Uint8Array, index: number): Promise<void> {
    const { fps, quality } = this.options;
    const ms = (i: number): number => Math.round((i * 1000) / fps);
    const file = await drawnAs('image/webp', bytes, this.options, quality);
    const frame = animationFrame(file, this.options, ms(index + 1) - ms(index));
    this.bytes += frame.length;
    this.frames.push(new Blob([frame]));
  }

  async finish(): Promise<Blob> {
    return new Blob([animationHead(this.options, this.bytes), ...this.frames], { type: 'image/webp' });
  }

  async cancel(): Promise<void> {
    this.frames.length = 0;
  }
}

/** A picture as the browser itself writes it: quick. */
async function drawnAs(
  type: 'image/jpeg' | 'image/webp',
  bytes: Uint8Array,
  { width, height }: Size,
  quality: number,
): Promise<Uint8Array> {
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { alpha: false })!;
  context.putImageData(new ImageData(Uint8ClampedArray.from(bytes), width, height), 0, 0);
  const blob = await canvas.convertToBlob({ type, quality });
  return new Uint8Array(await blob.arrayBuffer());
}

class FramesWriter implements FilmWriter {
  readonly format = RGBA;
  private readonly parts: Blob[] = [];
  private failure: Error | null = null;
  private readonly zip = new Zip((error, chunk) => {
    this.failure ??= error;
    this.parts.push(new Blob([chunk as Uint8Array<ArrayBuffer>]));
  });

  constructor(
    private readonly type: 'image/jpeg' | 'image/png',
    private readonly options: FilmOptions,
  ) {}

  async add(bytes: Uint8Array, index: number): Promise<void> {
    const { width, height, quality, name, frames } = this.options;
    const number = String(index + 1).padStart(Math.max(4, String(frames).length), '0');
    const entry = new ZipPassThrough(`${name}-${number}${this.type === 'image/png' ? '.png' : '.jpg'}`);
    this.zip.add(entry);
    entry.push(await this.encode(bytes, { width, height }, quality), true);
    if (this.failure) throw this.failure;
  }

  /** The browser's own JPEG is quick; PNG is written as for stills, so that its bytes are the same. */
  private async encode(bytes: Uint8Array, { width, height }: Size, quality: number): Promise<Uint8Array> {
    if (this.type === 'image/png') {
      const blob = await encodePixels(bytes, {
        width,
        height,
        quality,
        type: this.type,
        format: { channels: 4, bytes: 1 },
        isTransparent: false,
        exif: null,
      });
      return new Uint8Array(await blob.arrayBuffer());
    }
    return drawnAs(this.type, bytes, { width, height }, quality);
  }

  async finish(): Promise<Blob> {
    this.zip.end();
    if (this.failure) throw this.failure;
    return new Blob(this.parts, { type: 'application/zip' });
  }

  async cancel(): Promise<void> {
    this.parts.length = 0;
  }
}
