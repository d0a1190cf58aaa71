import { type ZipEntry, ZipError, foreignText, unpacked, zipEntries } from '@hazy-lens/core';
import { Inflate } from 'fflate';
import type { UnzipOptions } from './messages';
import { FileError } from './errors';
import { filesWords } from '../../words/files';

/** Bytes that are inflated at a time: what they give is looked at before more is. */
const PIECE = 1 << 16;

/** Unpacks a raw deflate stream, see the core's `Inflate`. */
function inflate(packed: Uint8Array, most: number): Uint8Array<ArrayBuffer> {
  const file = new Uint8Array(most);
  let bytes = 0;
  const stream = new Inflate((piece) => {
    if (bytes + piece.length > most) throw new ZipError('There is more in it than it says.');
    file.set(piece, bytes);
    bytes += piece.length;
  });
  for (let at = 0; at < packed.length; at += PIECE)
    stream.push(packed.subarray(at, at + PIECE), at + PIECE >= packed.length);
  return file.subarray(0, bytes);
}

/** The files in a zip by their names. @throws FileError before anything is unpacked that would be too much. */
export function unzip(
  bytes: Uint8Array,
  { mostBytes, tooMuch, only }: UnzipOptions,
  onProgress: () => void,
): Map<string, Uint8Array<ArrayBuffer>> {
  const entries = inWords(() => zipEntries(bytes)).filter(
    ({ name }) => !name.endsWith('/') && (!only || only.test(name)),
  );
  if (entries.reduce((sum, { size }) => sum + size, 0) > mostBytes) throw new FileError(tooMuch);
  return new Map(
    entries.map((entry) => {
      onProgress();
      return [entry.name, inWords(() => unpacked(entry, inflate), entry)];
    }),
  );
}

function inWords<T>(read: () => T, entry?: ZipEntry): T {
  try {
    return read();
  } catch (error) {
    if (!(error instanceof ZipError)) throw error;
    throw new FileError(
      entry ? filesWords.cantBeUnpacked(foreignText(entry.name), error.message) : error.message,
    );
  }
}
