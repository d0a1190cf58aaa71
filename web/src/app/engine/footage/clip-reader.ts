import { type YuvFormat, frameBytes, isYuv } from '@hazy-lens/core';
import {
  ALL_FORMATS,
  BlobSource,
  EncodedPacketSink,
  Input,
  type InputVideoTrack,
  LogLevel,
  Logging,
  type VideoSample,
  VideoSampleSink,
} from 'mediabunny';
import { logCause } from '../../model/causes';
import type { FootageMetadata, FrameReader } from './reader';
import { filesWords } from '../../words/files';

// What is wrong with a file is said in a sentence to who opened it, not on the console.
Logging.level = LogLevel.Silent;

const CODECS: Record<string, string> = {
  avc: 'H.264',
  hevc: 'H.265',
  vp8: 'VP8',
  vp9: 'VP9',
  av1: 'AV1',
  aac: 'AAC',
  opus: filesWords.opus,
  mp3: 'MP3',
  vorbis: filesWords.vorbis,
  flac: 'FLAC',
};
const called = (codec: string | null): string =>
  (codec && CODECS[codec]) ?? codec ?? filesWords.anUnknownCodec;

/** Frames that are decoded and left out rather than sought. */
const MAX_AHEAD = 24;
/** Frames that do not all come at about the same rate are told of. */
const UNEVEN = 1.5;

/** What most browsers decode, but for one of them. */
const othersThan = (codec: string): string =>
  new Intl.ListFormat('en-GB', { type: 'disjunction' }).format(
    ['H.264', 'VP9', 'AV1'].filter((one) => one !== codec),
  );

/** Reads the frames of a clip as they are asked for: in order without seeking, else from the key frame before. */
export class ClipReader implements FrameReader {
  private sink!: VideoSampleSink;
  private facts!: FootageMetadata;
  /** Where the times of the file begin. */
  private origin = 0;
  private running: { next: number; frames: AsyncGenerator<VideoSample, void> } | null = null;

  constructor(
    private readonly file: Blob,
    private readonly name: string,
  ) {}

  async open(): Promise<FootageMetadata> {
    const input = new Input({ source: new BlobSource(this.file), formats: ALL_FORMATS });
    const problem = (text: string): Error => new Error(`“${this.name}” ${text}`);
    let track: InputVideoTrack | null = null;
    let cause: unknown = null;
    try {
      track = await input.getPrimaryVideoTrack();
    } catch (error) {
      logCause((cause = error));
    }
    if (!track && (await isWithoutIndex(this.file))) throw problem(filesWords.isCutShortItsIndex);
    if (cause) throw problem(filesWords.cantBeRead);
    if (!track) throw problem(filesWords.hasNoPictures);
    if (!(await track.canDecode()))
      throw problem(filesWords.isInWhichThisBrowser(called(track.codec), othersThan(called(track.codec))));
    const stored = await storedTimes(track);
    const starts = [...stored].sort((a, b) => a - b);
    if (starts.length === 0) throw problem(filesWords.hasNoFrames);
    this.origin = starts[0]!;
    this.sink = new VideoSampleSink(track);
    const first = await this.sink.getSample(this.origin).catch((error: Error) => {
      logCause(error);
      throw problem(filesWords.cantBeDecodedItMay);
    });
    if (!first) throw problem(filesWords.hasNoFrameThatCan);
    const cut = await firstMissing(track, stored);
    const end = cut === null ? starts.length : starts.indexOf(Math.min(...stored.slice(cut)));
    const audio = await input.getPrimaryAudioTrack();
    const even = starts.map((start) => start - this.origin);
    const spans = even.slice(1).map((start, i) => start - even[i]!);
    const middle = [...spans].sort((a, b) => a - b)[spans.length >> 1] ?? 1 / 30;
    this.facts = {
      ...sizeOf(first),
      format: formatOf(first),
      times: { starts: Float64Array.from(even), end: even.at(-1)! + middle },
      codec: called(track.codec),
      sound: audio ? called(audio.codec) : null,
      isTransparent: false,
      missingFrom: cut === null ? null : end,
      notes: [
        ...(cut === null ? [] : [filesWords.theFileIsCutShort(end + 1, starts.length)]),
        ...(Math.max(...spans, middle) > UNEVEN * middle
          ? ['Frame rate varies; each frame keeps its duration.']
          : []),
      ],
    };
    first.close();
    return this.facts;
  }

  async read(index: number, free: SharedArrayBuffer | null): Promise<SharedArrayBuffer> {
    const sample = await this.sampleAt(index);
    if (!sample) throw new Error(filesWords.frameOfCantBeRead(index + 1, this.name));
    try {
      return await this.pixelsOf(sample, free);
    } finally {
      sample.close();
    }
  }

  private async sampleAt(index: number): Promise<VideoSample | null> {
    const ahead = this.running ? index - this.running.next : -1;
    // A little ahead it is quicker to decode what lies between than to begin anew at a key frame.
    if (ahead < 0 || ahead > MAX_AHEAD) await this.begin(index);
    const { frames } = this.running!;
    for (; this.running!.next < index; this.running!.next++) (await frames.next()).value?.close();
    this.running!.next++;
    const sample = (await frames.next()).value ?? null;
    if (sample && this.isOf(sample, index)) return sample;
    sample?.close();
    this.running = null;
    return null;
  }

  /** Where frames are missing, the one before comes in their place. */
  private isOf(sample: VideoSample, index: number): boolean {
    const { starts } = this.facts.times;
    const span = index > 0 ? starts[index]! - starts[index - 1]! : (starts[1] ?? 1);
    return Math.abs(sample.timestamp - this.origin - starts[index]!) < span / 2;
  }

  /** Decodes from a frame on. */
  private async begin(index: number): Promise<void> {
    await this.running?.frames.return();
    const { starts } = this.facts.times;
    // Half a span late: times in files are rounded, and the first that comes is the one shown at that time.
    const next = starts[index + 1] ?? starts[index]! + 0.002;
    this.running = { next: index, frames: this.sink.samples(this.origin + (starts[index]! + next) / 2) };
  }

  private async pixelsOf(sample: VideoSample, free: SharedArrayBuffer | null): Promise<SharedArrayBuffer> {
    const { format, width, height } = this.facts;
    const pixels = free ?? new SharedArrayBuffer(frameBytes(format, { width, height }));
    const bytes = new Uint8Array(pixels);
    if (!isYuv(format)) bytes.set(drawn(sample, width, height));
    else if (sample.format === 'NV12') await copyInterleavedChroma(sample, bytes, width, height);
    else await sample.copyTo(bytes, { layout: planar(width, height) });
    return pixels;
  }
}

/** When each frame is shown, in the order in which they are stored, which is that in which they are decoded. */
async function storedTimes(track: InputVideoTrack): Promise<number[]> {
  const times: number[] = [];
  for await (const packet of new EncodedPacketSink(track).packets(undefined, undefined, {
    metadataOnly: true,
  }))
    times.push(packet.timestamp);
  return times;
}

/** The first of the times, as they are stored, whose frame lies beyond the end of the file; null where all are there. */
async function firstMissing(track: InputVideoTrack, stored: readonly number[]): Promise<number | null> {
  const sink = new EncodedPacketSink(track);
  const isThere = async (i: number): Promise<boolean> => {
    try {
      return ((await sink.getPacket(stored[i]!))?.data.byteLength ?? 0) > 0;
    } catch {
      return false;
    }
  };
  if (await isThere(stored.length - 1)) return null;
  let [good, bad] = [-1, stored.length - 1];
  while (bad - good > 1) {
    const middle = (good + bad) >> 1;
    if (await isThere(middle)) good = middle;
    else bad = middle;
  }
  return bad;
}

/** True for an MP4 or MOV that ends before its index (`moov`, ISO/IEC 14496-12) is whole. */
async function isWithoutIndex(file: Blob): Promise<boolean> {
  for (let at = 0; at + 8 <= file.size;) {
    const head = new DataView(await file.slice(at, at + 16).arrayBuffer());
    const kind = String.fromCharCode(...new Uint8Array(head.buffer, 4, 4));
    if (!/^[\w ]{4}$/.test(kind)) return false;
    const short = head.getUint32(0);
    const size = short === 1 && head.byteLength === 16 ? Number(head.getBigUint64(8)) : short;
    if (kind === 'moov') return at + size > file.size;
    // The last one may say that it goes to the end.
    if (size < 8) return size === 0;
    at += size;
  }
  return true;
}

/** True where the planes of a frame can be taken as they are. */
function isPlain(sample: VideoSample): boolean {
  const { format, rotation, flip, colorSpace, codedWidth, squarePixelWidth, codedHeight, squarePixelHeight } =
    sample;
  const isHdr = ['pq', 'hlg'].includes(colorSpace.transfer as string);
  return (
    (format === 'I420' || format === 'NV12') &&
    rotation === 0 &&
    !flip &&
    !isHdr &&
    colorSpace.matrix !== 'rgb' &&
    codedWidth === squarePixelWidth &&
    codedHeight === squarePixelHeight
  );
}

function sizeOf(sample: VideoSample): { width: number; height: number } {
  if (isPlain(sample)) return { width: sample.visibleRect.width, height: sample.visibleRect.height };
  return { width: Math.round(sample.displayWidth), height: Math.round(sample.displayHeight) };
}

function formatOf(sample: VideoSample): FootageMetadata['format'] {
  if (!isPlain(sample)) return { channels: 4, bytes: 1 };
  const { matrix, fullRange } = sample.colorSpace;
  // Where a file does not say, size decides, as displays do.
  const isSmall = sample.codedWidth < 1280 && sample.codedHeight <= 576;
  const known: Partial<Record<string, YuvFormat['matrix']>> = {
    bt709: 'bt709',
    smpte170m: 'bt601',
    bt470bg: 'bt601',
    'bt2020-ncl': 'bt2020',
  };
  return {
    matrix: (matrix && known[matrix]) || (isSmall ? 'bt601' : 'bt709'),
    range: fullRange ? 'full' : 'limited',
  };
}

function planar(width: number, height: number): PlaneLayout[] {
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  return [
    { offset: 0, stride: width },
    { offset: width * height, stride: w },
    { offset: width * height + w * h, stride: w },
  ];
}

async function copyInterleavedChroma(
  sample: VideoSample,
  bytes: Uint8Array,
  width: number,
  height: number,
): Promise<void> {
  const [w, h] = [Math.ceil(width / 2), Math.ceil(height / 2)];
  const both = new Uint8Array(width * height + 2 * w * h);
  await sample.copyTo(both, {
    layout: [
      { offset: 0, stride: width },
      { offset: width * height, stride: 2 * w },
    ],
  });
  bytes.set(both.subarray(0, width * height));
  const [u, v] = [width * height, width * height + w * h];
  for (let i = 0; i < w * h; i++) {
    bytes[u + i] = both[width * height + 2 * i]!;
    bytes[v + i] = both[width * height + 2 * i + 1]!;
  }
}

let canvas: OffscreenCanvas | null = null;

/** A frame as people see it: turned upright, its pixels square, in sRGB. */
function drawn(sample: VideoSample, width: number, height: number): Uint8ClampedArray {
  canvas ??= new OffscreenCanvas(width, height);
  if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  sample.draw(context, 0, 0, width, height);
  return context.getImageData(0, 0, width, height).data;
}
