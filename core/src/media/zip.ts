import { crc32, viewOf } from './bytes';

/** A zip, or something in it, that cannot be read; the message is a sentence. */
export class ZipError extends Error {
  override readonly name = 'ZipError';
}

/** A file in a zip, still packed. */
export interface ZipEntry {
  name: string;
  /** Bytes that it says it unpacks to. */
  size: number;
  crc: number;
  isEncrypted: boolean;
  /** 0: stored, 8: deflated; others are not read. */
  method: number;
  packed: Uint8Array;
}

/** Unpacks a raw deflate stream. @throws where it is damaged, or gives more than `most` bytes. */
export type Inflate = (packed: Uint8Array, most: number) => Uint8Array<ArrayBuffer>;

const DAMAGED = 'The zip is damaged or cut short.';
const END = 0x06054b50;
const HEADER = 0x02014b50;
const LOCAL = 0x04034b50;
/** What may follow the end's 22 bytes is a comment of up to 65535. */
const END_BYTES = 22;
const MAX_COMMENT = 65535;

/** The files that a zip's directory lists (APPNOTE 6.3.9, sections 4.3.12 and 4.3.16). @throws ZipError */
export function zipEntries(bytes: Uint8Array): ZipEntry[] {
  const view = viewOf(bytes);
  let end = bytes.length - END_BYTES;
  while (end >= 0 && end >= bytes.length - END_BYTES - MAX_COMMENT && view.getUint32(end, true) !== END)
    end--;
  if (end < 0 || view.getUint32(end, true) !== END) throw new ZipError(DAMAGED);
  const count = view.getUint16(end + 10, true);
  let at = view.getUint32(end + 16, true);
  if (count === 0xffff || at === 0xffffffff)
    throw new ZipError('The zip is of a kind for very many or very large files, which isn’t read.');
  const entries: ZipEntry[] = [];
  let held = 0;
  for (let i = 0; i < count; i++) {
    if (at + 46 > end || view.getUint32(at, true) !== HEADER) throw new ZipError(DAMAGED);
    const flags = view.getUint16(at + 8, true);
    const packedSize = view.getUint32(at + 20, true);
    const [nameSize, extraSize, commentSize] = [28, 30, 32].map((by) => view.getUint16(at + by, true)) as [
      number,
      number,
      number,
    ];
    const local = view.getUint32(at + 42, true);
    if (local + 30 > end || view.getUint32(local, true) !== LOCAL) throw new ZipError(DAMAGED);
    const start = local + 30 + view.getUint16(local + 26, true) + view.getUint16(local + 28, true);
    held += packedSize;
    // What overlaps would unpack the same bytes again and again.
    if (start + packedSize > end || held > bytes.length) throw new ZipError(DAMAGED);
    entries.push({
      name: nameOf(bytes.subarray(at + 46, at + 46 + nameSize)),
      size: view.getUint32(at + 24, true),
      crc: view.getUint32(at + 16, true),
      isEncrypted: (flags & 1) === 1,
      method: view.getUint16(at + 10, true),
      packed: bytes.subarray(start, start + packedSize),
    });
    at += 46 + nameSize + extraSize + commentSize;
  }
  return entries;
}

/** Names are UTF-8 nowadays, whether they are marked so or not; others keep their bytes. */
function nameOf(bytes: Uint8Array): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('latin1').decode(bytes);
  }
}

/** The bytes of a file in a zip: as many as it says, and those that its checksum is of. @throws ZipError */
export function unpacked(entry: ZipEntry, inflate: Inflate): Uint8Array<ArrayBuffer> {
  const { packed, size, method, crc } = entry;
  if (entry.isEncrypted) throw new ZipError('It is encrypted: unpack the zip with its password first.');
  if (method !== 0 && method !== 8)
    throw new ZipError(`It is compressed in a way that isn’t read (method ${method}).`);
  let file: Uint8Array<ArrayBuffer>;
  try {
    file = method === 0 ? Uint8Array.from(packed) : inflate(packed, size);
  } catch {
    throw new ZipError(DAMAGED);
  }
  if (file.length !== size || crc32(file) !== crc) throw new ZipError(DAMAGED);
  return file;
}
