import {
  type Size,
  type YuvFormat,
  frameBytes,
  type EncoderKind,
  holdsAlpha,
  quantizerFor,
} from '@hazy-lens/core';
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
  type VideoEncodingConfig,
  VideoSampleSource,
  WebMOutputFormat,
  canEncodeVideo,
} from 'mediabunny';
import { soundTrack } from '../sound';
import type { FilmOptions, FilmWriter } from './clip-writer';
import { scratchFile } from './scratch-file';

const KEY_FRAME_SECONDS = 2;
/** Parts begin with a key frame, as every so many seconds do. */
const PART_SECONDS = 2 * KEY_FRAME_SECONDS;
/** A film that is larger is put together on the disk. */
const MAX_IN_MEMORY = 256e6;

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

type Clip = Mp4OutputFormat | WebMOutputFormat;

/** Encodes frames in order to a clip of their own. */
class ClipEncoder {
  private pictures = 0;
  /** What was added last, when it is encoded. */
  private encoded: Promise<void> = Promise.resolve();

  private constructor(
    private readonly output: Output<Clip, BufferTarget>,
    private readonly source: VideoSampleSource,
    private readonly fps: number,
  ) {}

  static async begin(config: VideoEncodingConfig, format: Clip, fps: number): Promise<ClipEncoder> {
    const output = new Output({ format, target: new BufferTarget() });
    const source = new VideoSampleSource(config);
    output.addVideoTrack(source, { frameRate: fps });
    await output.start();
    return new ClipEncoder(output, source, fps);
  }

  /** The bytes are free again when this ends. */
  async add(bytes: Uint8Array, how: Omit<VideoFrameBufferInit, 'timestamp'>): Promise<void> {
    const { fps } = this;
    const index = this.pictures++;
    // The frame has a copy of the bytes: the next can be rendered while this one is encoded.
    const frame = new VideoFrame(bytes as Uint8Array<ArrayBuffer>, {
      ...how,
      timestamp: Math.round((index * 1e6) / fps),
      duration: Math.round(1e6 / fps),
    });
    await this.encoded;
    const sample = new VideoSample(frame, { timestamp: index / fps, duration: 1 / fps });
    this.encoded = this.source.add(sample).finally(() => sample.close());
    this.encoded.catch(() => undefined);
  }

  async end(): Promise<Blob> {
    await this.encoded;
    await this.output.finalize();
    return new Blob([this.output.target.buffer!]);
  }

  async cancel(): Promise<void> {
    await this.encoded.catch(() => undefined);
    if (this.output.state === 'started') await this.output.cancel();
  }
}

/** Clips as the browser's encoders write them. A part is a clip of its own; joined, its packets stay as they are. */
export class EncoderWriter implements FilmWriter {
  readonly format: YuvFormat;
  readonly hasAlpha: boolean;
  readonly partLength: number;
  /** Encoders of the part that is under way: of its colours, and of its coverage where that is kept. */
  private part: ClipEncoder[] = [];
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
    this.hasAlpha = options.isTransparent && holdsAlpha({ writer: kind });
    this.partLength = Math.max(1, Math.round(PART_SECONDS * options.fps));
    this.type = `video/${kind.container}`;
  }

  private begin(): Promise<ClipEncoder> {
    const config: VideoEncodingConfig = {
      codec: this.kind.codec,
      ...codecString(this.kind, this.options),
      bitrate: this.quality(),
      onEncodedPacket: ({ type, byteLength }) => this.sizes[type].push(byteLength),
      keyFrameInterval: KEY_FRAME_SECONDS,
      latencyMode: 'quality',
    };
    return ClipEncoder.begin(config, this.container(true), this.options.fps);
  }

  /** Where the encoder cannot hold a quality, it holds the bit rate that fits it. */
  private quality(): Quality {
    const { holds, bitrate, quality } = this.options;
    if (holds === 'bitrate') return new Quality({ bitrate });
    return new Quality({ quantizer: quantizerFor(100 * quality, this.kind), bitrate });
  }

  expectedBytes(pictures: number): number {
    const mean = (sizes: readonly number[]): number =>
      sizes.reduce((sum, size) => sum + size, 0) / Math.max(1, sizes.length);
    const keys = Math.ceil(pictures / Math.round(KEY_FRAME_SECONDS * this.options.fps));
    const bytes = keys * mean(this.sizes.key) + (pictures - keys) * mean(this.sizes.delta);
    return this.hasAlpha ? 2 * bytes : bytes;
  }

  private container(inMemory: boolean): Clip {
    if (this.kind.container === 'webm') return new WebMOutputFormat();
    return new Mp4OutputFormat({ fastStart: inMemory ? 'in-memory' : false });
  }

  async add(bytes: Uint8Array): Promise<void> {
    const { width, height } = this.options;
    const size = { codedWidth: width, codedHeight: height };
    if (this.part.length === 0) this.part.push(await this.begin());
    // The types of the language do not know deep planes yet.
    const format = (this.kind.bits ? 'I420P10' : 'I420') as VideoPixelFormat;
    const planes = frameBytes(this.format, { width, height });
    await this.part[0]!.add(bytes.subarray(0, planes), { ...size, format, colorSpace: this.colorSpace });
    if (!this.hasAlpha) return;
    if (this.part.length === 1) this.part.push(await this.begin());
    // Coverage is coded as the luma of grey.
    const grey = new Uint8Array(planes).fill(128);
    grey.set(bytes.subarray(planes));
    await this.part[1]!.add(grey, { ...size, format: 'I420' });
  }

  private get colorSpace(): VideoColorSpaceInit {
    const { matrix, range } = this.format;
    const name = matrix === 'bt601' ? 'smpte170m' : 'bt709';
    return { matrix: name, primaries: name, transfer: name, fullRange: range === 'full' };
  }

  async endPart(): Promise<Blob> {
    const encoders = this.part;
    this.part = [];
    const [colours, cover] = await Promise.all(encoders.map((encoder) => encoder.end()));
    return cover ? this.covered(colours!, cover) : new Blob([colours!], { type: this.type });
  }

  /** A clip of colours with the packets of another, of their coverage, beside its own. */
  private async covered(colours: Blob, cover: Blob): Promise<Blob> {
    const target = new BufferTarget();
    const output = new Output({ format: this.container(true), target });
    const source = new EncodedVideoPacketSource(this.kind.codec);
    output.addVideoTrack(source, { frameRate: this.options.fps });
    await output.start();
    const [own, other] = await Promise.all([packetsOf(colours), packetsOf(cover)]);
    for await (const packet of own.packets) {
      const { data } = (await other.packets.next()).value!;
      const sideData = { alpha: data, alphaByteLength: data.byteLength };
      await source.add(packet.clone({ sideData }), { decoderConfig: own.decoderConfig });
    }
    await output.finalize();
    return new Blob([target.buffer!], { type: this.type });
  }

  async join(parts: readonly Blob[]): Promise<Blob> {
    const bytes = parts.reduce((sum, { size }) => sum + size, 0);
    const scratch = bytes > MAX_IN_MEMORY ? await scratchFile() : null;
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
    const { packets, decoderConfig } = await packetsOf(part);
    let next = index;
    for await (const packet of packets)
      await source.add(packet.clone({ timestamp: next++ / fps, duration: 1 / fps }), { decoderConfig });
    return next;
  }

  async cancel(): Promise<void> {
    const encoders = this.part;
    this.part = [];
    await Promise.all(encoders.map((encoder) => encoder.cancel()));
  }
}

/** The coded frames of a clip in order, and what a decoder has to know. */
async function packetsOf(clip: Blob) {
  const input = new Input({ source: new BlobSource(clip), formats: ALL_FORMATS });
  const track = (await input.getPrimaryVideoTrack())!;
  const decoderConfig = (await track.getDecoderConfig())!;
  return { packets: new EncodedPacketSink(track).packets(), decoderConfig };
}
