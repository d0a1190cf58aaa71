import {
  type FileKind,
  fromLinear,
  sharedSamples,
  sizeProblem,
  toDisplayP3,
  toLinear,
} from '@hazy-lens/core';
import { flattenOnWhite, partsOf } from '../straight-rgba';
import { notDecodedHere, notOpened } from './errors';
import type { HeicPixels } from './heic';
import type { DecodedGamut, DecodedGrey, DecodedPicture, ImageInfo } from './messages';

/*
 * Pictures as the browser itself reads them, 8 bits in sRGB: for where libvips, whose threads share memory, can’t run.
 */

/** Where a grey picture’s colour channels differ by more than this, a JPEG’s rounding isn’t why. */
const MAX_GREY_DIFFERENCE = 3;

/** Of linear light (IEC 61966-2-1). */
const luminance = (r: number, g: number, b: number): number => 0.2126 * r + 0.7152 * g + 0.0722 * b;

interface StraightRgba {
  pixels: SharedArrayBuffer;
  width: number;
  height: number;
}

/** @throws FileError with a sentence that names the file. */
export async function decodeOnCanvas(
  bytes: Uint8Array<ArrayBuffer>,
  name: string,
  kind: FileKind,
): Promise<DecodedPicture> {
  return pictureOf(await drawn(bytes, name, kind), { type: kind, bits: 8, profile: null, pages: 1 }, null);
}

/** A HEIC file’s pixels, which another library decoded. */
export function pictureOfHeic(
  { data, width, height, profile, pages }: HeicPixels,
  gamut: DecodedGamut,
): DecodedPicture {
  const pixels = new SharedArrayBuffer(data.length);
  new Uint8Array(pixels).set(data);
  const toP3 = gamut === 'own' && profile ? toDisplayP3(profile) : null;
  const about = { type: 'heic', bits: 8, profile: null, pages };
  return pictureOf({ pixels, width, height }, about, toP3);
}

/** A depth map or a matte: colours as luminance, transparent places on black. @throws FileError, as above. */
export async function decodeGreyOnCanvas(
  bytes: Uint8Array<ArrayBuffer>,
  name: string,
  kind: FileKind,
): Promise<DecodedGrey> {
  const { pixels, width, height } = await drawn(bytes, name, kind);
  const rgba = new Uint8Array(pixels);
  const samples = sharedSamples(width * height);
  let fromColour = false;
  for (let i = 0, at = 0; i < samples.length; i++, at += 4) {
    const [r, g, b, alpha] = [rgba[at]!, rgba[at + 1]!, rgba[at + 2]!, rgba[at + 3]!];
    fromColour ||= Math.max(Math.abs(r - g), Math.abs(g - b)) > MAX_GREY_DIFFERENCE;
    const grey =
      r === g && g === b
        ? r / 255
        : fromLinear(luminance(toLinear(r / 255), toLinear(g / 255), toLinear(b / 255)));
    samples[i] = Math.round((65535 * grey * alpha) / 255);
  }
  return { samples, width, height, fromColour };
}

function pictureOf(
  { pixels, width, height }: StraightRgba,
  about: ImageInfo,
  toP3: ReturnType<typeof toDisplayP3>,
): DecodedPicture {
  toP3?.(new Uint8Array(pixels), 4);
  const parts = partsOf(pixels);
  if (parts) flattenOnWhite(pixels);
  const primaries = toP3 ? 'display-p3' : 'srgb';
  return { pixels, format: { channels: 4, bytes: 1 }, width, height, primaries, gain: 1, parts, about };
}

/** The pixels as they are meant to be seen: upright, in sRGB. */
async function drawn(bytes: Uint8Array<ArrayBuffer>, name: string, kind: FileKind): Promise<StraightRgba> {
  const file = new Blob([bytes], { type: `image/${kind}` });
  const bitmap = await createImageBitmap(file, { premultiplyAlpha: 'none' }).catch(() => {
    throw notDecodedHere(name, kind);
  });
  try {
    const { width, height } = bitmap;
    const problem = sizeProblem({ width, height });
    if (problem) throw notOpened(name, problem);
    const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!;
    context.drawImage(bitmap, 0, 0);
    const { data } = context.getImageData(0, 0, width, height);
    const pixels = new SharedArrayBuffer(data.length);
    new Uint8Array(pixels).set(data);
    return { pixels, width, height };
  } finally {
    bitmap.close();
  }
}
