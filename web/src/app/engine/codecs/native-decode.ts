import {
  type FileKind,
  isSrgbProfile,
  jpegSegments,
  readOrientation,
  profileName,
  readExif,
  sizeProblem,
} from '@hazy-lens/core';
import { takeBuffer } from '../buffer-pool';
import type { DecodedPicture } from './messages';
import { filesWords } from '../../words/files';

/** What a plain picture says of itself ahead of its pixels. */
export interface PlainPicture {
  type: 'jpeg' | 'png';
  width: number;
  height: number;
  /** Name of its colour profile, which is one of sRGB; null where it has none. */
  profile: string | null;
  /** Its pixels do not lie as they are meant to be seen. */
  isTurned: boolean;
}

// Markers of ITU-T T.81, table B.1.
const BASELINE = 0xc0;
const PROGRESSIVE = 0xc2;
const HUFFMAN_TABLE = 0xc4;
const ARITHMETIC_CONDITIONS = 0xcc;
const END = 0xd9;
/** Where colour profiles lie, in chunks (ICC.1:2022, B.4). */
const APP2 = 0xe2;
const PROFILE_MARK = 'ICC_PROFILE\0';
/** Chunks of a PNG that change what its pixels are: profiles and curves, transparency, turning, frames (PNG third edition). */
const NOT_PLAIN = ['iCCP', 'cICP', 'mDCV', 'cLLI', 'tRNS', 'eXIf', 'acTL'];
/** The chunk that a PNG ends with, its length and checksum too. */
const PNG_END = [0, 0, 0, 0, 0x49, 0x45, 0x4e, 0x44, 0xae, 0x42, 0x60, 0x82];
const [GREY, COLOUR] = [0, 2];
/** Browsers report no progress of decoding: report a heartbeat at this interval, this many times at most. */
const BEAT_MS = 3000;
const MAX_BEATS = 20;

const ascii = (bytes: Uint8Array, from: number, to: number): string =>
  String.fromCharCode(...bytes.subarray(from, to));

/**
 * Reads the head of a JPEG or PNG that browsers and libvips decode to the same pixels: of 8 bits, grey or of three
 * channels, in sRGB, with its end in place. Null for any other, cut and damaged ones among them.
 */
export function readSimpleHeader(bytes: Uint8Array, kind: FileKind): PlainPicture | null {
  const plain = kind === 'jpeg' ? plainJpeg(bytes) : kind === 'png' ? plainPng(bytes) : null;
  return plain && !sizeProblem(plain) ? plain : null;
}

function plainPng(bytes: Uint8Array): PlainPicture | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 57 || PNG_END.some((byte, i) => bytes.at(i - PNG_END.length) !== byte)) return null;
  const [bits, channels] = bytes.subarray(24);
  if (ascii(bytes, 12, 16) !== 'IHDR' || bits !== 8 || (channels !== GREY && channels !== COLOUR))
    return null;
  for (let at = 33; at + 12 <= bytes.length; at += 12 + view.getUint32(at)) {
    const chunk = ascii(bytes, at + 4, at + 8);
    if (chunk === 'IDAT') break;
    if (NOT_PLAIN.includes(chunk)) return null;
  }
  return {
    type: 'png',
    width: view.getUint32(16),
    height: view.getUint32(20),
    profile: null,
    isTurned: false,
  };
}

function plainJpeg(bytes: Uint8Array): PlainPicture | null {
  if (bytes.at(-2) !== 0xff || bytes.at(-1) !== END) return null;
  const chunks: Uint8Array[] = [];
  let size: { width: number; height: number } | null = null;
  for (const { marker, body } of jpegSegments(bytes)) {
    if (marker === APP2 && ascii(body, 0, PROFILE_MARK.length) === PROFILE_MARK)
      chunks[body[PROFILE_MARK.length]! - 1] = body.subarray(PROFILE_MARK.length + 2);
    const isFrame = marker >= BASELINE && marker < 0xd0;
    if (!isFrame || marker === HUFFMAN_TABLE || marker === ARITHMETIC_CONDITIONS) continue;
    // Bits, height and width of two bytes each, channels.
    const [bits, h1, h0, w1, w0, channels] = body;
    const isPlain = marker <= PROGRESSIVE && bits === 8 && (channels === 1 || channels === 3);
    if (!isPlain) return null;
    size = { height: 256 * h1! + h0!, width: 256 * w1! + w0! };
  }
  if (!size) return null;
  const profile = chunks.length > 0 ? new Uint8Array(chunks.flatMap((chunk) => [...chunk])) : null;
  if (profile && !isSrgbProfile(profile)) return null;
  const exif = readExif(bytes);
  const isTurned = exif !== null && readOrientation(exif) !== 1;
  return { type: 'jpeg', ...size, profile: profile && profileName(profile), isTurned };
}

/** Whether frames give their pixels in the order that is asked for: WebKit leaves blue ahead of red. */
const givesRgba = ((): (() => Promise<boolean>) => {
  let known: Promise<boolean> | null = null;
  const tried = async (): Promise<boolean> => {
    const canvas = new OffscreenCanvas(1, 1);
    const context = canvas.getContext('2d', { alpha: false })!;
    context.fillStyle = '#f00';
    context.fillRect(0, 0, 1, 1);
    const frame = new VideoFrame(canvas, { timestamp: 0 });
    const pixel = new Uint8Array(4);
    await frame.copyTo(pixel, { format: 'RGBA' }).finally(() => frame.close());
    return pixel[0]! > pixel[2]!;
  };
  return () => (known ??= tried());
})();

/**
 * Decodes a plain picture by the browser, upright: in half the time that libvips takes in WebAssembly, and without having
 * to start that.
 * @param onProgress is called now and then. @param free memory that the pixels may lie in, see `takeFrom`.
 * @throws where the browser cannot.
 */
export async function decodeByBrowser(
  bytes: Uint8Array<ArrayBuffer>,
  { type, profile, isTurned }: PlainPicture,
  onProgress: () => void,
  free: SharedArrayBuffer[],
): Promise<DecodedPicture> {
  if (!(await givesRgba())) throw new Error(filesWords.framesOfThisBrowserCant);
  const file = new Blob([bytes], { type: `image/${type}` });
  let beats = 0;
  const beat = setInterval(() => beats++ < MAX_BEATS && onProgress(), BEAT_MS);
  const bitmap = await createImageBitmap(file, { colorSpaceConversion: 'none' }).finally(() =>
    clearInterval(beat),
  );
  const { width, height } = bitmap;
  // A frame gives its pixels in one copy, a canvas in three; but what a bitmap is turned by, frames do not know.
  const frame = new VideoFrame(isTurned ? drawn(bitmap) : bitmap, { timestamp: 0 });
  try {
    const length = width * height * 4;
    const pixels = takeBuffer(free, length) ?? new SharedArrayBuffer(length);
    await frame.copyTo(new Uint8Array(pixels), { format: 'RGBA' });
    const about = { type, bits: 8, profile, pages: 1 };
    return {
      pixels,
      format: { channels: 4, bytes: 1 },
      width,
      height,
      primaries: 'srgb',
      gain: 1,
      parts: null,
      about,
    };
  } finally {
    frame.close();
    bitmap.close();
  }
}

function drawn(bitmap: ImageBitmap): OffscreenCanvas {
  const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
  canvas.getContext('2d', { alpha: false })!.drawImage(bitmap, 0, 0);
  return canvas;
}
