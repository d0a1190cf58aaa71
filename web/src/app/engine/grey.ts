import { type RasterLevel, sharedSamples } from '@hazy-lens/core';
import { decode, encode } from 'fast-png';
import * as UTIF from 'utif2';

/** A grey picture as it was read, and what had to be done for that. */
export interface GreyPicture extends RasterLevel {
  /** Colours were taken as luminance. */
  fromColour: boolean;
}

/** Rec. 709 luminance weights; grey stays grey. */
const luminance = (r: number, g: number, b: number): number => 0.2126 * r + 0.7152 * g + 0.0722 * b;

/**
 * Decodes a depth map or a matte: PNG (1 to 16 bits, palettes, alpha on black), TIFF of 8 or 16 bits, and whatever
 * pictures the browser reads. @throws Error with a sentence that names the file.
 */
export async function decodeGrey(file: Blob, name: string): Promise<GreyPicture> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  if (bytes.length === 0) throw new Error(`“${name}” is empty (0 bytes). Nothing was changed.`);
  try {
    if (bytes[1] === 0x50 && bytes[2] === 0x4e && bytes[3] === 0x47) return greyOfPng(bytes);
    const start = String.fromCharCode(...bytes.subarray(0, 4));
    if (start === 'II*\0' || start === 'MM\0*') return greyOfTiff(bytes);
    return await greyOfBitmap(file);
  } catch {
    throw new Error(
      `“${name}” cannot be read as a grey picture: it is damaged, cut short or no picture. Nothing was changed.`,
    );
  }
}

function greyOfPng(bytes: Uint8Array): GreyPicture {
  const { width, height, data, depth, channels, palette } = decode(bytes);
  const out = sharedSamples(width * height);
  let fromColour = false;
  if (palette) {
    for (let i = 0; i < out.length; i++) {
      const [r = 0, g = 0, b = 0, a = 255] = palette[sampleBits(data, i, width, depth)] ?? [];
      if (r !== g || g !== b) fromColour = true;
      out[i] = Math.round((luminance(r, g, b) * a * 257) / 255);
    }
    return { width, height, samples: out, fromColour };
  }
  const top = 2 ** depth - 1;
  for (let i = 0; i < out.length; i++) {
    const at = i * channels;
    const value = (c: number): number => (depth < 8 ? sampleBits(data, i, width, depth) : data[at + c]!);
    const isColour = channels >= 3;
    const grey = isColour ? luminance(value(0), value(1), value(2)) : value(0);
    if (isColour && (value(0) !== value(1) || value(1) !== value(2))) fromColour = true;
    const alpha = channels === 2 || channels === 4 ? value(channels - 1) / top : 1;
    out[i] = Math.round((grey / top) * alpha * 65535);
  }
  return { width, height, samples: out, fromColour };
}

/** Sample i of a picture of less than 8 bits a sample; its rows begin on whole bytes. */
function sampleBits(data: ArrayLike<number>, i: number, width: number, depth: number): number {
  if (depth >= 8) return data[i]!;
  const [x, y] = [i % width, Math.floor(i / width)];
  const bit = x * depth;
  const byte = data[y * Math.ceil((width * depth) / 8) + (bit >> 3)]!;
  return (byte >> (8 - depth - (bit & 7))) & (2 ** depth - 1);
}

function greyOfTiff(bytes: Uint8Array): GreyPicture {
  const buffer = bytes.buffer as ArrayBuffer;
  const pages = UTIF.decode(buffer);
  const page = pages.find((one) => one['t256']) ?? pages[0]!;
  UTIF.decodeImage(buffer, page);
  const { width, height } = page;
  if (!(width > 0 && height > 0)) throw new RangeError();
  const channels = Number((page['t277'] as number[] | undefined)?.[0] ?? 1);
  const bits = Number((page['t258'] as number[] | undefined)?.[0] ?? 1);
  const out = sharedSamples(width * height);
  if (bits === 16 && channels === 1) {
    // Sixteen-bit samples come in the file's own byte order.
    const view = new DataView(page.data.buffer, page.data.byteOffset, page.data.byteLength);
    const isLittle = bytes[0] === 0x49;
    const isInverted = Number((page['t262'] as number[] | undefined)?.[0]) === 0;
    if (view.byteLength < out.length * 2) throw new RangeError();
    for (let i = 0; i < out.length; i++)
      out[i] = isInverted ? 65535 - view.getUint16(i * 2, isLittle) : view.getUint16(i * 2, isLittle);
    return { width, height, samples: out, fromColour: false };
  }
  return greyOfRgba(UTIF.toRGBA8(page), width, height);
}

async function greyOfBitmap(file: Blob): Promise<GreyPicture> {
  const bitmap = await createImageBitmap(file);
  const { width, height } = bitmap;
  const context = new OffscreenCanvas(width, height).getContext('2d')!;
  context.fillRect(0, 0, width, height);
  context.drawImage(bitmap, 0, 0);
  bitmap.close();
  return greyOfRgba(context.getImageData(0, 0, width, height).data, width, height);
}

function greyOfRgba(rgba: ArrayLike<number>, width: number, height: number): GreyPicture {
  const out = sharedSamples(width * height);
  if (rgba.length < out.length * 4) throw new RangeError();
  let fromColour = false;
  for (let i = 0; i < out.length; i++) {
    const [r, g, b] = [rgba[i * 4]!, rgba[i * 4 + 1]!, rgba[i * 4 + 2]!];
    if (Math.max(r, g, b) - Math.min(r, g, b) > 3) fromColour = true;
    out[i] = Math.round((luminance(r, g, b) * rgba[i * 4 + 3]! * 257) / 255);
  }
  return { width, height, samples: out, fromColour };
}

/** A grey PNG of 8 or 16 bits. */
export function encodeGrey({ width, height, samples }: RasterLevel, depth: 8 | 16): Blob {
  const data = depth === 16 ? new Uint16Array(samples.length) : new Uint8Array(samples.length);
  const step = depth === 16 ? 1 : 257;
  for (let i = 0; i < data.length; i++) data[i] = Math.round(samples[i]! / step);
  const file = encode({ width, height, data, depth, channels: 1 });
  return new Blob([file as Uint8Array<ArrayBuffer>], { type: 'image/png' });
}

/** The middle of a grey picture in another aspect: what stands over on two sides is cut off. */
export function cropToAspect(grey: RasterLevel, aspect: number): RasterLevel {
  const width = Math.max(1, Math.min(grey.width, Math.round(grey.height * aspect)));
  const height = Math.max(1, Math.min(grey.height, Math.round(grey.width / aspect)));
  const [left, top] = [(grey.width - width) >> 1, (grey.height - height) >> 1];
  const samples = sharedSamples(width * height);
  for (let y = 0; y < height; y++) {
    const start = (top + y) * grey.width + left;
    samples.set(grey.samples.subarray(start, start + width), y * width);
  }
  return { width, height, samples };
}
