import { readdir, stat } from 'node:fs/promises';
import { basename, join, posix } from 'node:path';
import { inflateRawSync } from 'node:zlib';
import {
  RAW_NAME,
  type ZipEntry,
  foreignText,
  inNaturalOrder,
  safeName,
  unpacked,
  zipEntries,
} from '@hazy-lens/core';
import { InputError, readInputFile, reasonOf } from './picture';

/** One picture of many. */
export interface InputPicture {
  name: string;
  bytes(): Promise<Buffer>;
}

/** The pictures of a folder or a zip, and the files beside them that are none. */
export interface Inputs {
  pictures: InputPicture[];
  leftOut: string[];
}

const PICTURE_NAME = /\.(png|jpe?g|webp|tiff?|avif|gif|heic|heif)$/i;
const isPictureName = (name: string): boolean => PICTURE_NAME.test(name) || RAW_NAME.test(name);
/** What systems and archivers leave lying about: nobody means those. */
const isHidden = (path: string): boolean => path.split('/').some((part) => /^\.|^__MACOSX$/.test(part));

/** The pictures of a folder or a zip in natural order; null for a picture. @throws InputError that names the path. */
export async function picturesIn(path: string): Promise<Inputs | null> {
  const about = await stat(path).catch(() => null);
  if (about?.isDirectory()) return inOrder(path, await inFolder(path));
  if (!/\.zip$/i.test(path)) return null;
  return inOrder(path, await inZip(path));
}

async function inFolder(path: string): Promise<InputPicture[]> {
  const entries = await readdir(path, { withFileTypes: true });
  return entries
    .filter((entry) => !entry.isDirectory())
    .map(({ name }) => ({ name, bytes: () => readInputFile(join(path, name)) }));
}

/** What a picture in a zip may unpack to. */
const MAX_PICTURE_BYTES = 1_000_000_000;

/** One is unpacked when it is its turn: all of them together may be far more than there is memory for. */
async function inZip(path: string): Promise<InputPicture[]> {
  const file = await readInputFile(path);
  let entries;
  try {
    entries = zipEntries(file);
  } catch (error) {
    throw new InputError(`${path}: can’t be read as a zip (${reasonOf(error)}).`);
  }
  return entries
    .filter(({ name }) => !name.endsWith('/'))
    .map((entry) => ({ name: entry.name, bytes: async () => unpackedPicture(entry) }));
}

function unpackedPicture(entry: ZipEntry): Buffer {
  const name = foreignText(entry.name);
  if (entry.size > MAX_PICTURE_BYTES)
    throw new InputError(`${name}: unpacks to ${Math.round(entry.size / 1e6)} MB, far more than a picture.`);
  try {
    const { buffer, byteOffset, length } = unpacked(entry, (packed, most) =>
      Uint8Array.from(inflateRawSync(packed, { maxOutputLength: Math.max(1, most) })),
    );
    return Buffer.from(buffer, byteOffset, length);
  } catch (error) {
    throw new InputError(`${name}: can’t be unpacked. ${(error as Error).message}`);
  }
}

function inOrder(path: string, all: readonly InputPicture[]): Inputs {
  const seen = all.filter(({ name }) => !isHidden(name));
  const pictures = seen.filter(({ name }) => isPictureName(name));
  if (pictures.length === 0) throw new InputError(`${path}: no pictures found.`);
  const leftOut = seen.filter(({ name }) => !isPictureName(name)).map(({ name }) => name);
  // Frames are numbered by their own names, wherever they lie.
  const named = pictures.map((picture) => ({ name: basename(picture.name), picture }));
  return { pictures: inNaturalOrder(named).map(({ picture }) => picture), leftOut };
}

/** What a picture of a folder or a zip is called, without its ending; a name that says nothing, or that no disk takes, gets another. */
export const stemOf = (name: string): string => safeName(posix.basename(name, posix.extname(name)));
