import { deflateSync } from 'node:zlib';
import {
  type HeifImage,
  type HeifLibrary,
  type HeifPixels,
  insertPngChunk,
  profileInBoxes,
  sizeProblem,
} from '@hazy-lens/core';
import sharp from 'sharp';
import { InputError } from './picture';

/** The first picture of a HEIC file, upright, as a PNG of 8 bits that has its colour profile. @throws InputError that names the file. */
export async function heicAsPng(file: Buffer, path: string): Promise<Buffer> {
  // Loaded when there is a HEIC: the library is large.
  const { default: heif } = (await import('libheif-js/wasm-bundle.js' as string)) as { default: HeifLibrary };
  const unread = (reason: string): InputError =>
    new InputError(`${path}: can’t be read as HEIC (${reason}).`);
  let first: HeifImage | undefined;
  try {
    first = new heif.HeifDecoder().decode(file)[0];
  } catch (error) {
    throw unread((error as Error).message);
  }
  if (!first) throw unread('no picture can be found in it');
  const [width, height] = [first.get_width(), first.get_height()];
  const problem = sizeProblem({ width, height });
  if (problem) throw new InputError(`${path}: ${problem}`);
  const target = { data: new Uint8ClampedArray(width * height * 4), width, height };
  const filled = await new Promise<HeifPixels | null>((resolve) => first.display(target, resolve));
  if (!filled) throw unread('its picture can’t be decoded');
  const raw = { width, height, channels: 4 } as const;
  const png = await sharp(filled.data, { raw }).png({ compressionLevel: 0 }).toBuffer();
  const profile = profileInBoxes(file);
  return profile ? withProfile(png, profile) : png;
}

/** A PNG with a colour profile (PNG third edition, 11.3.2.3). */
function withProfile(png: Buffer, profile: Uint8Array): Buffer {
  const name = Buffer.from('profile\0\0', 'latin1');
  return Buffer.from(insertPngChunk(png, 'iCCP', Buffer.concat([name, deflateSync(profile)])));
}
