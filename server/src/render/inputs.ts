import { readdir, stat } from 'node:fs/promises';
import { basename, join, posix } from 'node:path';
import { inNaturalOrder } from '@hazy-lens/core';
import { unzipSync } from 'fflate';
import { InputError, readFileOr } from './picture';

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
    .map(({ name }) => ({ name, bytes: () => readFileOr(join(path, name)) }));
}

async function inZip(path: string): Promise<InputPicture[]> {
  const file = await readFileOr(path);
  const others: InputPicture[] = [];
  try {
    const entries = unzipSync(file, {
      filter: ({ name }) => {
        if (PICTURE_NAME.test(name) && !isHidden(name)) return true;
        if (!name.endsWith('/')) others.push({ name, bytes: async () => Buffer.alloc(0) });
        return false;
      },
    });
    const pictures = Object.entries(entries).map(([name, bytes]) => ({
      name,
      bytes: async () => Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength),
    }));
    return [...pictures, ...others];
  } catch (error) {
    throw new InputError(`${path}: cannot be read as a zip (${(error as Error).message}).`);
  }
}

function inOrder(path: string, all: readonly InputPicture[]): Inputs {
  const seen = all.filter(({ name }) => !isHidden(name));
  const pictures = seen.filter(({ name }) => PICTURE_NAME.test(name));
  if (pictures.length === 0) throw new InputError(`${path}: there are no pictures in it.`);
  const leftOut = seen.filter(({ name }) => !PICTURE_NAME.test(name)).map(({ name }) => name);
  // Frames are numbered by their own names, wherever they lie.
  const named = pictures.map((picture) => ({ name: basename(picture.name), picture }));
  return { pictures: inNaturalOrder(named).map(({ picture }) => picture), leftOut };
}

/** What a picture of a folder or a zip is called, without its ending. */
export const stemOf = (name: string): string => posix.basename(name, posix.extname(name));
