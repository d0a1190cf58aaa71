import { readdir, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { inNaturalOrder } from '@hazy-lens/core';
import { unzipSync } from 'fflate';
import { InputError, readFileOr } from './picture';

/** One picture of many. */
export interface InputPicture {
  name: string;
  bytes(): Promise<Buffer>;
}

const PICTURE_NAME = /\.(png|jpe?g|webp|tiff?|avif)$/i;

/** The pictures of a folder or a zip in natural order; null for a picture. @throws InputError that names the path. */
export async function picturesIn(path: string): Promise<InputPicture[] | null> {
  const about = await stat(path).catch(() => null);
  if (about?.isDirectory()) return inOrder(path, await inFolder(path));
  if (!/\.zip$/i.test(path)) return null;
  return inOrder(path, await inZip(path));
}

async function inFolder(path: string): Promise<InputPicture[]> {
  const names = await readdir(path);
  return names.map((name) => ({ name, bytes: () => readFileOr(join(path, name)) }));
}

async function inZip(path: string): Promise<InputPicture[]> {
  const file = await readFileOr(path);
  try {
    const entries = unzipSync(file, { filter: ({ name }) => PICTURE_NAME.test(name) });
    return Object.entries(entries).map(([name, bytes]) => ({
      name: basename(name),
      bytes: async () => Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength),
    }));
  } catch (error) {
    throw new InputError(`${path}: cannot be read as a zip (${(error as Error).message}).`);
  }
}

function inOrder(path: string, all: readonly InputPicture[]): InputPicture[] {
  const pictures = all.filter(({ name }) => PICTURE_NAME.test(name) && !name.startsWith('.'));
  if (pictures.length === 0) throw new InputError(`${path}: there are no pictures in it.`);
  return inNaturalOrder(pictures);
}
