import type { Size, YuvFormat } from '@hazy-lens/core';
import {
  ALL_FORMATS,
  BlobSource,
  BufferTarget,
  EncodedPacketSink,
  EncodedVideoPacketSource,
  Input,
  Mp4OutputFormat,
  Output,
  StreamTarget,
  VideoSample,
  Quality,
  VideoSampleSource,
  WebMOutputFormat,
  canEncodeVideo,
} from 'mediabunny';
import { type EncoderKind, quantizerFor } from '../film-kinds';
import { soundTrack } from '../sound';
import type { FilmOptions, FilmWriter } from './film-writer';
import { scratchFile } from './scratch-file';

const KEY_FRAME_SECONDS = 2;
/** Parts begin with a key frame, as every so many seconds do. */
const PART_SECONDS = 2 * KEY_FRAME_SECONDS;
/** A film that is larger is put together on the disk. */
const MOST_IN_MEMORY = 256e6;

interface Part {
  output: Output<Mp4OutputFormat | WebMOutputFormat, BufferTarget>;
  source: VideoSampleSource;
  pictures: number;
  /** What was added last, when it is encoded. */
  encoded: Promise<void>;
}

/** Whether this browser writes films of a kind and size. */
export const canEncode = (kind: EncoderKind, { width, height, bitrate }: EncodedSize): Promise<boolean> =>
  canEncodeVideo(kind.codec, { width, height, bitrate, ...codecString(kind, { width, height }) });

type EncodedSize = Pick<FilmOptions, 'width' | 'height' | 'bitrate'>;

/**
 * Names the codec where a film has 10 bits: VP9 of profile 2 (“VP Codec ISO Media File Format Binding”), AV1's main
 * profile (“AV1 Codec ISO Media File Format Binding”), each with the highest level that its size of picture may have.
 */
function codecString({ codec, bits }: EncoderKind, { width, height }: Size): { fullCodecString?: string } {
  if (!bits) return {};
  const area = width * height;
  if (codec === 'vp9')
    return { fullCodecString: `vp09.02.${area <= 2_228_224 ? 41 : area <= 8_912_896 ? 52 : 62}.10` };
  return { fullCodecString: `av01.0.${area <= 2_359_296 ? '09' : area <= 8_912_896 ? 15 : 18}M.10` };
}

/** Clips as the browser's encoders write them. A part is a clip of its own; joined, its packets stay as they are. */
export class EncoderWriter implements FilmWriter {
  readonly format: YuvFormat;
  readonly partLength: number;
  private part: Part | null = null;
  /** Bytes of the packets that were written: key frames, and what lies between them. */
  private readonly sizes: Record<'key' | 'delta', number[]> = { key: [], delta: [] };
  private readonly type: string;

  constructor(
    private readonly kind: EncoderKind,
    private readonly options: FilmOptions,
    planes: YuvFormat,
  ) {
    const { bits } = kind;
    this.format = bits ? { ...planes, bits } : planes;
    this.partLength = Math.max(1, Math.round(PART_SECONDS * options.fps));
    this.type = `video/${kind.container}`;
  }

  private async begin(): Promise<Part> {
    const output = new Output({ format: this.container(true), target: new BufferTarget() });
    const source = new VideoSampleSource({
      codec: this.kind.codec,
      ...codecString(this.kind, this.options),
      bitrate: this.quality(),
      onEncodedPacket: ({ type, byteLength }) => this.sizes[type].push(byteLength),
      keyFrameInterval: KEY_FRAME_SECONDS,
      latencyMode: 'quality',
    });
    output.addVideoTrack(source, { frameRate: this.options.fps });
    await output.start();
    return { output, source, pictures: 0, encoded: Promise.resolve() };
  }

  /** Where the encoder cannot hold a quality, it holds the bit rate that fits it. */
  private quality(): Quality {
    const { holds, bitrate, quality } = this.options;
    if (holds === 'bitrate') return new Quality({ bitrate });
    return new Quality({ quantizer: quantizerFor(100 * quality, this.kind.codec), bitrate });
  }

  expectedBytes(pictures: number): number {
    const mean = (sizes: readonly number[]): number =>
      sizes.reduce((sum, size) => sum + size, 0) / Math.max(1, sizes.length);
    const keys = Math.ceil(pictures / Math.round(KEY_FRAME_SECONDS * this.options.fps));
    return keys * mean(this.sizes.key) + (pictures - keys) * mean(this.sizes.delta);
  }

  private container(inMemory: boolean): Mp4OutputFormat | WebMOutputFormat {
    if (this.kind.container === 'webm') return new WebMOutputFormat();
    return new Mp4OutputFormat({ fastStart: inMemory ? 'in-memory' : false });
  }

  async add(bytes: Uint8Array): Promise<void> {
    const part = (this.part ??= await this.begin());
    const { width, height, fps } = this.options;
    const { matrix, range } = this.format;
    const inPart = part.pictures++;
    // The frame has a copy of the bytes: the next can be rendered while this one is encoded.
    const frame = new VideoFrame(bytes as Uint8Array<ArrayBuffer>, {
      // The types of the language do not know deep planes yet.
      format: (this.kind.bits ? 'I420P10' : 'I420') as VideoPixelFormat,
      codedWidth: width,
      codedHeight: height,
      timestamp: Math.round((inPart * 1e6) / fps),
      duration: Math.round(1e6 / fps),
      colorSpace: {
        matrix: matrix === 'bt601' ? 'smpte170m' : 'bt709',
        primaries: matrix === 'bt601' ? 'smpte170m' : 'bt709',
        transfer: matrix === 'bt601' ? 'smpte170m' : 'bt709',
        fullRange: range === 'full',
      },
    });
    await part.encoded;
    const sample = new VideoSample(frame, { timestamp: inPart / fps, duration: 1 / fps });
    part.encoded = part.source.add(sample).finally(() => sample.close());
    part.encoded.catch(() => undefined);
  }

  async endPart(): Promise<Blob> {
    const { output, encoded } = this.part!;
    this.part = null;
    await encoded;
    await output.finalize();
    return new Blob([output.target.buffer!], { type: this.type });
  }

  async join(parts: readonly Blob[]): Promise<Blob> {
    const bytes = parts.reduce((sum, { size }) => sum + size, 0);
    const scratch = bytes > MOST_IN_MEMORY ? await scratchFile() : null;
    const memory = new BufferTarget();
    const output = new Output({
      format: this.container(scratch === null),
      target: scratch ? new StreamTarget(scratch.stream, { chunked: true }) : memory,
    });
    try {
      const source = new EncodedVideoPacketSource(this.kind.codec);
      output.addVideoTrack(source, { frameRate: this.options.fps });
      const { sound } = this.options;
      const track = sound && (await soundTrack(output, sound));
      await output.start();
      let index = 0;
      for (const part of parts) index = await this.copyPackets(part, source, index);
      source.close();
      await track?.write(index / this.options.fps);
      await output.finalize();
    } catch (error) {
      if (output.state === 'started') await output.cancel();
      throw error;
    }
    return scratch ? scratch.file(this.type) : new Blob([memory.buffer!], { type: this.type });
  }

  /** Adds the packets of a part behind those before it. @param index of its first picture. @returns that of the next part. */
  private async copyPackets(part: Blob, source: EncodedVideoPacketSource, index: number): Promise<number> {
    const { fps } = this.options;
    const input = new Input({ source: new BlobSource(part), formats: ALL_FORMATS });
    const track = (await input.getPrimaryVideoTrack())!;
    const decoderConfig = (await track.getDecoderConfig())!;
    let next = index;
    for await (const packet of new EncodedPacketSink(track).packets())
      await source.add(packet.clone({ timestamp: next++ / fps, duration: 1 / fps }), { decoderConfig });
    return next;
  }

  async cancel(): Promise<void> {
    const { part } = this;
    this.part = null;
    await part?.encoded.catch(() => undefined);
    if (part?.output.state === 'started') await part.output.cancel();
  }
}
