import { readFile, rename, rm, writeFile } from 'node:fs/promises';
import { extname } from 'node:path';
import sharp, { type Sharp } from 'sharp';
import {
  type Parts,
  type PixelFormat,
  insertExif,
  isSrgbProfile,
  normaliseExif,
  readExif,
  sizeProblem,
  splitTransparent,
  tagSrgb,
} from '@hazy-lens/core';

/** Something the person can mend; the message is one line that names the file. */
export class InputError extends Error {}

export interface Decoded {
  width: number;
  height: number;
  format: PixelFormat;
  data: Buffer;
  /** The same with its transparent places; null where it has none. */
  parts: Parts<Uint16Array> | null;
  exif: Uint8Array | null;
}

const OUTPUT_KINDS = {
  '.png': 'png',
  '.jpg': 'jpeg',
  '.jpeg': 'jpeg',
  '.webp': 'webp',
  '.tif': 'tiff',
  '.tiff': 'tiff',
  '.avif': 'avif',
} as const;
type OutputKind = (typeof OUTPUT_KINDS)[keyof typeof OUTPUT_KINDS];

/** The kind of file that a name asks for. @throws InputError for a name that none is written for. */
export function outputKind(path: string): OutputKind {
  const kind = OUTPUT_KINDS[extname(path).toLowerCase() as keyof typeof OUTPUT_KINDS];
  if (!kind) throw new InputError(`${path}: the name must end in .png, .jpg, .webp, .tif or .avif.`);
  return kind;
}

/** Depths of more than 8 bits; they are kept as 16. */
const DEEP: unknown[] = ['ushort', 'short', 'uint', 'int', 'float', 'double'];

export async function readFileOr(path: string): Promise<Buffer> {
  try {
    return await readFile(path);
  } catch (error) {
    const code = (error as NodeJS.ErrnoException).code;
    throw new InputError(
      `${path}: ${code === 'ENOENT' ? 'there is no such file' : `cannot be read (${code})`}.`,
    );
  }
}

/**
 * Decodes a picture to interleaved sRGB, upright, transparent parts on white; 16 bits where the file has more than 8.
 * @throws InputError that names the file.
 */
export async function decodePicture(path: string): Promise<Decoded> {
  return decodeBytes(await readFileOr(path), path);
}

/** The same of a file's bytes. @param path names it in errors. */
export async function decodeBytes(file: Buffer, path: string): Promise<Decoded> {
  if (file.length === 0) throw new InputError(`${path}: the file is empty.`);
  try {
    const meta = await sharp(file, { limitInputPixels: false }).metadata();
    const problem = sizeProblem({ width: meta.width, height: meta.height });
    if (problem) throw new InputError(`${path}: ${problem}`);
    const deep = DEEP.includes(meta.depth);
    const ignoreIcc = meta.icc !== undefined && isSrgbProfile(meta.icc);
    let image = sharp(file, { limitInputPixels: false, failOn: 'truncated', ignoreIcc }).autoOrient();
    // Of a picture of 16 bits the profile is only looked at where one is wanted for the output.
    if (deep && meta.icc && !ignoreIcc) image = image.withIccProfile('srgb');
    image = image.toColourspace(deep ? 'rgb16' : 'srgb');
    const rawOf = (one: Sharp) =>
      one.raw({ depth: deep ? 'ushort' : 'uchar' }).toBuffer({ resolveWithObject: true });
    const flat = meta.hasAlpha ? image.clone().flatten({ background: '#ffffff' }) : image;
    const { data, info } = await rawOf(flat);
    const format = { channels: 3, bytes: deep ? 2 : 1 } as const;
    return {
      width: info.width,
      height: info.height,
      format,
      data,
      parts: meta.hasAlpha
        ? splitTransparent(samplesOf((await rawOf(image)).data, format), deep ? 65535 : 255)
        : null,
      exif: readExif(file),
    };
  } catch (error) {
    if (error instanceof InputError) throw error;
    const reason = (error as Error).message.split('\n')[0]!;
    throw new InputError(`${path}: cannot be read as a picture (${reason}).`);
  }
}

/** Bytes as samples of one or two bytes. */
export const samplesOf = (data: Buffer, { bytes }: Pick<PixelFormat, 'bytes'>): Uint8Array | Uint16Array =>
  bytes === 2 ? new Uint16Array(data.buffer, data.byteOffset, data.length / 2) : data;

/** True where a kind of file keeps transparent places. */
export const keepsTransparent = (path: string): boolean => ['png', 'webp', 'tiff'].includes(outputKind(path));

/** Writes a picture whole or not at all. */
export async function encodePicture(path: string, picture: Omit<Decoded, 'parts'>): Promise<void> {
  const { width, height, format, data } = picture;
  const kind = outputKind(path);
  const deep = format.bytes === 2;
  const samples = samplesOf(data, format);
  let image = sharp(samples, { raw: { width, height, channels: format.channels } });
  if (deep && (kind === 'png' || kind === 'tiff')) image = image.toColourspace('rgb16');
  else if (deep) image = image.toColourspace('srgb');
  const options = {
    png: {},
    jpeg: { quality: 92, chromaSubsampling: '4:4:4' },
    webp: { quality: 92 },
    tiff: { compression: 'lzw' as const },
    avif: { quality: 70 },
  };
  // A profile would have sharp convert 16-bit samples by way of 8 bits: they are marked in the file itself, or not at all.
  const staysDeep = deep && (kind === 'png' || kind === 'tiff');
  const file = await (staysDeep ? image : image.withIccProfile('srgb'))
    .toFormat(kind, options[kind])
    .toBuffer();
  const marked = staysDeep ? tagSrgb(file) : file;
  const block = picture.exif && normaliseExif(picture.exif, picture);
  await writeWhole(path, block ? insertExif(marked, block) : marked);
}

/** Writes the haze field as a 16-bit grey PNG. */
export async function encodeMap(
  path: string,
  width: number,
  height: number,
  samples: Uint16Array,
): Promise<void> {
  const encoded = await sharp(samples, { raw: { width, height, channels: 1 } })
    .toColourspace('grey16')
    .png()
    .toBuffer();
  await writeWhole(path, encoded);
}

async function writeWhole(path: string, bytes: Uint8Array): Promise<void> {
  const part = `${path}.part-${process.pid}`;
  try {
    await writeFile(part, bytes);
    await rename(part, path);
  } catch (error) {
    await rm(part, { force: true });
    throw new InputError(`${path}: cannot be written (${(error as NodeJS.ErrnoException).code}).`);
  }
}
