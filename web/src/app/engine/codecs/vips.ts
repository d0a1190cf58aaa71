import {
  type FileKind,
  type Metadata,
  asPremultiplied,
  displayP3Profile,
  isSrgbProfile,
  linearSrgbProfile,
  profileName,
  sharedSamples,
  sizeProblem,
  splitAlpha,
  type ToDisplayP3,
  toDisplayP3,
} from '@hazy-lens/core';
import type Vips from 'wasm-vips';
import { takeBuffer } from '../buffer-pool';
import type { DecodedGamut, DecodedGrey, DecodedPicture, EncodeOptions, ImageInfo } from './messages';
import { FileError, decoderError, notOpened } from './errors';

/*
 * Pictures by libvips in WebAssembly: the same library, and so the same pixels, as the command line has through sharp.
 * Colours go to sRGB by the embedded profile.
 */

export type Library = typeof Vips;
type Image = Vips.Image;

/** Band formats of more than 8 bits; they are kept as 16. */
const DEEP = ['ushort', 'short', 'uint', 'int', 'float', 'double'];
const ICC = 'icc-profile-data';
/** What stands before an EXIF block: "Exif" and two zeros. */
const EXIF_MARK = [0x45, 0x78, 0x69, 0x66, 0, 0];

/** Runs what a decoder does and turns its errors into sentences. */
function orSentence<T>(name: string, kind: string, work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (error instanceof FileError) throw error;
    throw decoderError(name, kind, String((error as Error).message ?? error));
  }
}

/** Reads the file's header; the pixels come when they are asked for. */
function opened(vips: Library, bytes: Uint8Array, name: string): Image {
  const image = vips.Image.newFromBuffer(bytes, '', { fail_on: 'truncated', access: 'random' } as object);
  const problem = sizeProblem(image);
  if (problem) throw notOpened(name, problem);
  return image;
}

const bandFormat = (deep: boolean): Vips.BandFormat =>
  (deep ? 'ushort' : 'uchar') as unknown as Vips.BandFormat;

const has = (image: Image, field: string): boolean => image.getTypeof(field) !== 0;

/** Decodes a file to upright pixels, transparent parts on white. @param onProgress hears the share that is done, 0..1, or that it gets on. */
export function decodePicture(
  vips: Library,
  bytes: Uint8Array,
  name: string,
  kind: FileKind,
  onProgress: (done?: number) => void,
  free: SharedArrayBuffer[],
  gamut: DecodedGamut,
): DecodedPicture {
  return orSentence(name, kind, () => {
    const image = opened(vips, bytes, name);
    const profile = has(image, ICC) ? profileName(image.getBlob(ICC)) : null;
    const pages = has(image, 'n-pages') ? image.getInt('n-pages') : 1;
    const bits = has(image, 'bits-per-sample') ? image.getInt('bits-per-sample') : bitsOf(image);
    return pixelsOf(image, { type: kind, bits, profile, pages }, onProgress, free, gamut);
  });
}

/** Decoded pixels of another library, with the colour profile that came with them. */
export function decodeRaw(
  vips: Library,
  raw: { data: Uint8Array; width: number; height: number; profile: Uint8Array | null },
  about: ImageInfo,
  onProgress: (done?: number) => void,
  free: SharedArrayBuffer[],
  gamut: DecodedGamut,
): DecodedPicture {
  let image = vips.Image.newFromMemory(raw.data, raw.width, raw.height, 4, bandFormat(false)).copy({
    interpretation: 'srgb',
  });
  if (raw.profile) {
    image.setBlob(ICC, raw.profile);
    image = image.copy();
  }
  const profile = raw.profile && profileName(raw.profile);
  return pixelsOf(image, { ...about, profile }, onProgress, free, gamut);
}

function bitsOf(image: Image): number {
  return { uchar: 8, char: 8, ushort: 16, short: 16 }[image.format as string] ?? 32;
}

function pixelsOf(
  from: Image,
  about: ImageInfo,
  onProgress: (done?: number) => void,
  free: SharedArrayBuffer[],
  gamut: DecodedGamut,
): DecodedPicture {
  const deep = DEEP.includes(from.format as string);
  const isOfIntegers = !['float', 'double'].includes(from.format as string);
  const toP3 =
    gamut === 'own' && isOfIntegers && from.bands >= 3 && has(from, ICC)
      ? toDisplayP3(from.getBlob(ICC))
      : null;
  const primaries = toP3 ? 'display-p3' : 'srgb';
  let image = toP3 ? from.autorot().colourspace(deep ? 'rgb16' : 'srgb') : toSrgb(from.autorot(), deep);
  const parts = image.hasAlpha() ? partsOf(image, deep, free, toP3, onProgress) : null;
  if (image.hasAlpha()) image = image.flatten({ background: deep ? [65535, 65535, 65535] : [255, 255, 255] });
  image = image.bandjoin(deep ? 65535 : 255).cast(deep ? 'ushort' : 'uchar');
  image.onProgress = (percent) => onProgress(percent / 100);
  const samples = image.writeToMemory() as Uint8Array | Uint16Array;
  if (toP3) inParts(samples, toP3, onProgress);
  const pixels = shared(samples, free);
  const format = { channels: 4, bytes: deep ? 2 : 1 } as const;
  return { pixels, format, width: image.width, height: image.height, primaries, gain: 1, parts, about };
}

/** Samples of RGBA that are converted between two signs of life. */
const PART = 4 << 20;

function inParts(samples: Uint8Array | Uint16Array, toP3: ToDisplayP3, onProgress: () => void): void {
  for (let at = 0; at < samples.length; at += PART) {
    toP3(samples.subarray(at, at + PART), 4);
    onProgress();
  }
}

/** A picture's light and how much there is of it, where it has transparent places. */
function partsOf(
  image: Image,
  deep: boolean,
  free: SharedArrayBuffer[],
  toP3: ToDisplayP3 | null,
  onProgress: () => void,
): DecodedPicture['parts'] {
  const rgba = image.cast(deep ? 'ushort' : 'uchar').writeToMemory() as Uint8Array | Uint16Array;
  if (toP3) inParts(rgba, toP3, onProgress);
  const parts = splitAlpha(rgba, deep ? 65535 : 255);
  return parts && { premultiplied: shared(parts.premultiplied, free), alpha: shared(parts.alpha, free) };
}

/** The bytes of samples in memory that needs no copy to be sent. */
function shared(
  { buffer, byteOffset, byteLength }: ArrayBufferView,
  free: SharedArrayBuffer[],
): SharedArrayBuffer {
  const bytes = takeBuffer(free, byteLength) ?? new SharedArrayBuffer(byteLength);
  new Uint8Array(bytes).set(new Uint8Array(buffer, byteOffset, byteLength));
  return bytes;
}

/** To sRGB as sharp does it: by the embedded profile, else by what the colours are said to be. */
function toSrgb(image: Image, deep: boolean): Image {
  const depth = deep ? 16 : 8;
  const space = deep ? 'rgb16' : 'srgb';
  if (['float', 'double'].includes(image.format as string)) return ofFloats(image).colourspace('rgb16');
  const isCmyk = image.interpretation === 'cmyk';
  const isForeign = has(image, ICC) && !isSrgbProfile(image.getBlob(ICC));
  if (isForeign || isCmyk) {
    try {
      const fallback = isCmyk ? { input_profile: 'cmyk' } : {};
      image = image.iccTransform('srgb', { embedded: true, depth, intent: 'perceptual', ...fallback });
    } catch {
      // A profile that does not fit its picture is as good as none.
    }
  }
  return image.colourspace(space);
}

/** Floats are linear light from 0 to 1, whatever the file calls them. */
function ofFloats(image: Image): Image {
  const three =
    image.bands < 3 ? image.extractBand(0).bandjoin([image.extractBand(0), image.extractBand(0)]) : image;
  return three.copy({ interpretation: 'scrgb' });
}

/** Decodes a grey picture; colours as luminance, transparent parts on black. */
export function decodeGrey(
  vips: Library,
  bytes: Uint8Array,
  name: string,
  kind: FileKind,
  onProgress: () => void,
): DecodedGrey {
  return orSentence(name, kind, () => {
    let image = opened(vips, bytes, name).autorot();
    if (['float', 'double'].includes(image.format as string)) image = ofFloats(image).colourspace('rgb16');
    if (image.hasAlpha()) image = image.flatten({ background: [0, 0, 0] });
    const fromColour = image.bands >= 3 && hasColour(image);
    image = image.colourspace('grey16').extractBand(0).cast('ushort');
    image.onProgress = () => onProgress();
    const grey = image.writeToMemory();
    const samples = sharedSamples(grey.length);
    samples.set(grey as Uint16Array);
    return { width: image.width, height: image.height, samples, fromColour };
  });
}

/** True where channels differ by more than a JPEG's rounding. */
function hasColour(image: Image): boolean {
  const top = image.format === 'uchar' ? 255 : 65535;
  const apart = (a: number, b: number): number =>
    image.extractBand(a).subtract(image.extractBand(b)).abs().max();
  return Math.max(apart(0, 1), apart(1, 2)) > top * 0.012;
}

/** Encodes pixels as a file that says what colours they are of. */
export function encodeByVips(
  vips: Library,
  pixels: Uint8Array,
  options: EncodeOptions,
  metadata: Metadata,
  onProgress: (done: number) => void,
): Uint8Array {
  const { width, height, format, type, quality } = options;
  const deep = format.bytes === 2;
  const samples = deep ? new Uint16Array(pixels.buffer, pixels.byteOffset, pixels.length / 2) : pixels;
  const image = vips.Image.newFromMemory(samples, width, height, format.channels, bandFormat(deep))
    .copy({ interpretation: deep ? 'rgb16' : 'srgb' })
    .extractBand(0, { n: options.isTransparent ? 4 : 3 });
  image.onProgress = (percent) => onProgress(percent / 100);
  const { space } = options;
  // The profile that an image has is written as it is.
  if (space !== 'srgb') image.setBlob(ICC, space === 'linear' ? linearSrgbProfile() : displayP3Profile());
  const tag = space === 'srgb' ? { profile: 'srgb' } : {};
  const Q = Math.round(quality * 100);
  switch (type) {
    case 'image/tiff': {
      const file = image.writeToBuffer('.tif', { compression: 'lzw', predictor: 'horizontal', ...tag });
      return space === 'linear' ? asPremultiplied(file) : file;
    }
    case 'image/avif':
      if (metadata.exif) image.setBlob('exif-data', joined(EXIF_MARK, metadata.exif));
      if (metadata.xmp !== null) image.setBlob('xmp-data', new TextEncoder().encode(metadata.xmp));
      return image.writeToBuffer('.avif', { Q, effort: 2, ...tag });
    case 'image/png':
      return image.writeToBuffer('.png', { compression: 6, bitdepth: deep ? 16 : 8, ...tag });
    case 'image/jpeg':
      return image.writeToBuffer('.jpg', {
        Q,
        subsample_mode: options.chroma === '444' ? 'off' : 'on',
        optimize_coding: true,
        ...tag,
      });
    case 'image/webp':
      return image.writeToBuffer('.webp', { Q, ...tag });
  }
}

function joined(head: readonly number[], tail: Uint8Array): Uint8Array {
  const all = new Uint8Array(head.length + tail.length);
  all.set(head);
  all.set(tail, head.length);
  return all;
}
