import { createReadStream } from 'node:fs';
import { rename, rm, stat, writeFile } from 'node:fs/promises';
import sharp, { type Sharp } from 'sharp';
import {
  type AlphaSplit,
  type FileKind,
  type Metadata,
  type MetadataChoice,
  type PixelFormat,
  type Primaries,
  type StillFormat,
  displayP3Profile,
  exifTexts,
  exportedMetadata,
  foreignText,
  hasNoPixels,
  hasWrongChecksum,
  insertMetadata,
  isSrgbProfile,
  kindOf,
  readMetadata,
  shrunk,
  sizeProblem,
  splitAlpha,
  stillFormatFor,
  tagSrgb,
  tagTiff,
  toDisplayP3,
} from '@hazy-lens/core';
import { unzlibSync } from 'fflate';
import { heicAsPng } from './heic';
import { decodeRawFile } from './raw';

/** Something the person can mend; the message is one line that names the file. */
export class InputError extends Error {}

export interface Decoded {
  width: number;
  height: number;
  format: PixelFormat;
  data: Buffer;
  /** What its light is made of. */
  primaries: Primaries;
  /** Times how much light its samples are: that beyond white is kept so. */
  gain: number;
  /** The same with its transparent places; null where it has none. */
  parts: AlphaSplit<Uint16Array> | null;
  /** What the file says of it. */
  metadata: Metadata;
}

/** The format that a name asks for. @throws InputError for a name that none is written for. */
export function outputFormat(path: string): StillFormat {
  const format = stillFormatFor(path);
  if (!format) throw new InputError(`${path}: the name must end in .png, .jpg, .webp, .tif or .avif.`);
  return format;
}

/** Depths of more than 8 bits; they are kept as 16. */
const DEEP: unknown[] = ['ushort', 'short', 'uint', 'int', 'float', 'double'];

/** A file that is larger is no picture that can be read. */
const MAX_FILE_BYTES = 2_000_000_000;

/**
 * The bytes of a file, as many as come; what its directory says of its size is not relied on.
 * @throws InputError where it cannot be read, is no regular file, or holds more than `most` bytes.
 */
export async function readInputFile(path: string, most = MAX_FILE_BYTES): Promise<Buffer> {
  try {
    // Whoever opens a pipe that nobody writes to waits for ever.
    if (!(await stat(path)).isFile()) throw new InputError(`${path}: isn’t a regular file.`);
    const chunks: Buffer[] = [];
    let bytes = 0;
    for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 }) as AsyncIterable<Buffer>) {
      bytes += chunk.length;
      if (bytes > most)
        throw new InputError(`${path}: is too large: more than ${Math.floor(most / 1e6)} MB.`);
      chunks.push(chunk);
    }
    return Buffer.concat(chunks);
  } catch (error) {
    if (error instanceof InputError) throw error;
    const code = (error as NodeJS.ErrnoException).code;
    throw new InputError(`${path}: ${code === 'ENOENT' ? 'file not found' : `can’t be read (${code})`}.`);
  }
}

/** The colours that a picture is decoded to: sRGB up to white; or Display P3 where it has more, and light beyond white. */
export type DecodedGamut = 'srgb' | 'own';

/**
 * Decodes a picture to interleaved samples, upright, transparent parts on white; 16 bits where the file has more than 8.
 * @throws InputError that names the file.
 */
export async function decodePicture(path: string, gamut: DecodedGamut = 'srgb'): Promise<Decoded> {
  return decodeBytes(await readInputFile(path), path, gamut);
}

/** The same of a file's bytes. @param path names it in errors. */
export async function decodeBytes(
  file: Buffer,
  path: string,
  gamut: DecodedGamut = 'srgb',
): Promise<Decoded> {
  if (file.length === 0) throw new InputError(`${path}: the file is empty.`);
  const metadata = readMetadata(file, (packed) => unzlibSync(packed));
  const kind = knownKind(file, path);
  if (kind === 'tiff' && hasNoPixels(file)) throw new InputError(`${path}: the TIFF holds no pixels.`);
  if (kind === 'raw') return { ...(await decodeRawFile(file, path, gamut === 'own')), metadata };
  if (kind !== 'heic') return { ...(await decoded(file, path, gamut)), metadata };
  return { ...(await decoded(await heicAsPng(file, path), path, gamut)), metadata };
}

/** What kind of picture a file is, whatever it is called. @throws InputError where it is none that is read. */
export function knownKind(file: Buffer, path: string): FileKind {
  const kind = kindOf(file, path);
  if (!kind)
    throw new InputError(
      `${path}: can’t be read as a picture: it is no JPEG, PNG, WebP, AVIF, HEIC, TIFF, GIF or raw file.`,
    );
  if (kind === 'png' && hasWrongChecksum(file))
    throw new InputError(`${path}: can’t be read as a picture: the PNG is damaged (a checksum is wrong).`);
  return kind;
}

async function decoded(file: Buffer, path: string, gamut: DecodedGamut): Promise<Omit<Decoded, 'metadata'>> {
  try {
    const meta = await sharp(file, { limitInputPixels: false }).metadata();
    const problem = sizeProblem({ width: meta.width, height: meta.height });
    if (problem) throw new InputError(`${path}: ${problem}`);
    const deep = DEEP.includes(meta.depth);
    const isOfIntegers = !['float', 'double'].includes(meta.depth ?? '');
    const toP3 =
      gamut === 'own' && isOfIntegers && meta.channels >= 3 && meta.icc ? toDisplayP3(meta.icc) : null;
    const ignoreIcc = toP3 !== null || (meta.icc !== undefined && isSrgbProfile(meta.icc));
    let image = sharp(file, { limitInputPixels: false, failOn: 'truncated', ignoreIcc }).autoOrient();
    // Of a picture of 16 bits the profile is only looked at where one is wanted for the output.
    if (deep && meta.icc && !ignoreIcc) image = image.withIccProfile('srgb');
    image = image.toColourspace(deep ? 'rgb16' : 'srgb');
    const rawOf = (one: Sharp) =>
      one.raw({ depth: deep ? 'ushort' : 'uchar' }).toBuffer({ resolveWithObject: true });
    const flat = meta.hasAlpha ? image.clone().flatten({ background: '#ffffff' }) : image;
    const { data, info } = await rawOf(flat);
    const format = { channels: 3, bytes: deep ? 2 : 1 } as const;
    toP3?.(samplesOf(data, format), 3);
    const straight = async (): Promise<Uint8Array | Uint16Array> => {
      const samples = samplesOf((await rawOf(image)).data, format);
      toP3?.(samples, 4);
      return samples;
    };
    return {
      width: info.width,
      height: info.height,
      format,
      data,
      primaries: toP3 ? 'display-p3' : 'srgb',
      gain: 1,
      parts: meta.hasAlpha ? splitAlpha(await straight(), deep ? 65535 : 255) : null,
    };
  } catch (error) {
    if (error instanceof InputError) throw error;
    throw new InputError(`${path}: can’t be read as a picture (${reasonOf(error)}).`);
  }
}

/** What a library says of what went wrong, in one line. */
export const reasonOf = (error: unknown): string => foreignText((error as Error).message.split('\n')[0]!);

/** Bytes as samples of one or two bytes. */
export const samplesOf = (data: Buffer, { bytes }: Pick<PixelFormat, 'bytes'>): Uint8Array | Uint16Array =>
  bytes === 2 ? new Uint16Array(data.buffer, data.byteOffset, data.length / 2) : data;

/** True where a kind of file keeps transparent places. */
export const keepsTransparent = (path: string): boolean => outputFormat(path).keepsAlpha;

/** Longest edge of the small picture in an EXIF block. */
const THUMBNAIL_EDGE = 160;

/** What goes along with a picture, with a small picture of the result. */
async function metadataFor(picture: Omit<Decoded, 'parts'>, choice: MetadataChoice): Promise<Metadata> {
  const { metadata, data, format, width, height } = picture;
  if (!metadata.exif && metadata.xmp === null) return metadata;
  const small = shrunk(data, format, picture, THUMBNAIL_EDGE);
  const raw = { width: small.width, height: small.height, channels: 4 } as const;
  const thumbnail = await sharp(small.data, { raw }).removeAlpha().jpeg({ quality: 80 }).toBuffer();
  return exportedMetadata(metadata, { width, height, thumbnail }, choice);
}

/** Names of texts in EXIF as sharp takes them, by their tags: those that people read. */
const TEXTS = {
  IFD0: {
    0x010e: 'ImageDescription',
    0x010f: 'Make',
    0x0110: 'Model',
    0x0132: 'DateTime',
    0x013b: 'Artist',
    0x8298: 'Copyright',
  },
  IFD2: { 0x9003: 'DateTimeOriginal', 0xa434: 'LensModel' },
} as const;

/** An AVIF keeps metadata among its pictures, where only its encoder can put it: texts and XMP. */
function withTexts(image: Sharp, { exif, xmp }: Metadata): Sharp {
  const texts = exif ? exifTexts(exif) : new Map<number, string>();
  const named = (names: Readonly<Record<number, string>>): Record<string, string> =>
    Object.fromEntries(
      Object.entries(names).flatMap(([tag, name]) => {
        const text = texts.get(Number(tag));
        return text ? [[name, text]] : [];
      }),
    );
  const marked =
    texts.size > 0 ? image.withExif({ IFD0: named(TEXTS.IFD0), IFD2: named(TEXTS.IFD2) }) : image;
  return xmp === null ? marked : marked.withXmp(xmp);
}

/** How a kind of file is written that leaves a choice. */
export interface Encoding {
  /** Bits a channel, where the kind can have 16; null for as many as the source has. */
  bits: 8 | 16 | null;
  /** How finely a JPEG keeps colour beside brightness. */
  chroma: '4:2:0' | '4:4:4';
  /** 1..100, for kinds that lose something; null for what suits each. */
  quality: number | null;
  /** Primaries of the file. */
  space: Primaries;
}
export const AS_SOURCE: Encoding = { bits: null, chroma: '4:4:4', quality: null, space: 'srgb' };

/** Bytes of a sample that is rendered for a file of a name. */
export const bytesFor = (path: string, { bytes }: PixelFormat, { bits }: Encoding): 1 | 2 => {
  if (bits === null) return bytes;
  return bits === 16 && outputFormat(path).has16Bit ? 2 : 1;
};

/** The profile of sRGB, as libvips has it. */
let srgbProfile: Promise<Buffer> | null = null;
const profileOfSrgb = (): Promise<Buffer> =>
  (srgbProfile ??= sharp({ create: { width: 1, height: 1, channels: 3, background: '#000' } })
    .withIccProfile('srgb')
    .png()
    .toBuffer()
    .then((file) => sharp(file).metadata())
    .then(({ icc }) => icc!));

/** The same, which says that it is of sRGB. */
async function markedAsSrgb(file: Buffer, kind: StillFormat['id']): Promise<Uint8Array> {
  return tagSrgb(kind === 'tiff' ? tagTiff(file, await profileOfSrgb()) : file);
}

/** An image of Display P3 that keeps its profile and its samples: those of a file with that profile are taken as they are. */
async function ofP3(image: Sharp, isDeep: boolean): Promise<Sharp> {
  const plain = await image.tiff({ compression: 'none' }).toBuffer();
  const tagged = sharp(tagTiff(plain, displayP3Profile()), { limitInputPixels: false }).keepIccProfile();
  return isDeep ? tagged.toColourspace('rgb16') : tagged;
}

/** Writes a picture whole or not at all. @param choice what of its source's metadata goes along. */
export async function writePicture(
  path: string,
  picture: Omit<Decoded, 'parts'>,
  choice: MetadataChoice,
  { chroma, quality }: Encoding = AS_SOURCE,
): Promise<void> {
  const { width, height, format, data } = picture;
  const { id: kind, has16Bit } = outputFormat(path);
  const deep = format.bytes === 2;
  const samples = samplesOf(data, format);
  let image = sharp(samples, { raw: { width, height, channels: format.channels } });
  const staysDeep = deep && has16Bit;
  if (staysDeep) image = image.toColourspace('rgb16');
  else if (deep) image = image.toColourspace('srgb');
  if (picture.primaries === 'display-p3') image = await ofP3(image, staysDeep);
  const options = {
    png: {},
    jpeg: { quality: quality ?? 92, chromaSubsampling: chroma },
    webp: { quality: quality ?? 92 },
    tiff: { compression: 'lzw' as const },
    avif: { quality: quality ?? 70 },
  };
  // A profile would have sharp convert 16-bit samples by way of 8 bits: they are marked in the file itself.
  const metadata = await metadataFor(picture, choice);
  const isTagged = staysDeep || picture.primaries === 'display-p3';
  const tagged = isTagged ? image : image.withIccProfile('srgb');
  const noted = kind === 'avif' ? withTexts(tagged, metadata) : tagged;
  const file = await noted.toFormat(kind, options[kind]).toBuffer();
  const marked = picture.primaries === 'srgb' && staysDeep ? await markedAsSrgb(file, kind) : file;
  await writeAtomically(path, kind === 'avif' ? marked : insertMetadata(marked, metadata));
}

/** Writes the haze field as a 16-bit grey PNG. */
export async function writeHazeMap(
  path: string,
  width: number,
  height: number,
  samples: Uint16Array,
): Promise<void> {
  const encoded = await sharp(samples, { raw: { width, height, channels: 1 } })
    .toColourspace('grey16')
    .png()
    .toBuffer();
  await writeAtomically(path, encoded);
}

async function writeAtomically(path: string, bytes: Uint8Array): Promise<void> {
  const part = `${path}.part-${process.pid}`;
  try {
    await writeFile(part, bytes);
    await rename(part, path);
  } catch (error) {
    await rm(part, { force: true });
    throw new InputError(`${path}: can’t be written (${(error as NodeJS.ErrnoException).code}).`);
  }
}
