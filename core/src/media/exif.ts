/*
 * The EXIF block (a small TIFF file) of JPEG, PNG and WebP files: found, put in order, put into another file.
 * Sources: Exif 2.32; PNG third edition (eXIf); WebP container specification.
 */

const ORIENTATION = 0x0112;
const EXIF_POINTER = 0x8769;
const PIXEL_WIDTH = 0xa002;
const PIXEL_HEIGHT = 0xa003;

/** The EXIF block of a file, from its byte-order mark on; null where it has none or is none of the three kinds. */
export function readExif(file: Uint8Array): Uint8Array | null {
  try {
    const found = isJpeg(file)
      ? jpegExif(file)
      : isPng(file)
        ? chunkData(file, pngChunks(file), 'eXIf')
        : isWebp(file)
          ? chunkData(file, webpChunks(file), 'EXIF')
          : null;
    if (!found) return null;
    const block = ascii(found, 0, 4) === 'Exif' ? found.subarray(6) : found;
    return block.length > 14 && /^(II|MM)$/.test(ascii(block, 0, 2)) ? block.slice() : null;
  } catch (error) {
    // A block cut short is as good as none.
    if (error instanceof RangeError) return null;
    throw error;
  }
}

/** Visits the entries of a directory of a block. @returns where it ends. @throws RangeError where the block is cut short. */
function eachEntry(
  view: DataView,
  little: boolean,
  directory: number,
  visit: (tag: number, entry: number) => void,
): number {
  const count = view.getUint16(directory, little);
  for (let i = 0; i < count; i++)
    visit(view.getUint16(directory + 2 + i * 12, little), directory + 2 + i * 12);
  return directory + 2 + count * 12;
}

/** How a block says that its picture is to be turned or flipped: 1 as it lies, 2 to 8 otherwise (Exif 2.32, 4.6.4 A). */
export function orientationIn(block: Uint8Array): number {
  const view = viewOf(block);
  const little = ascii(block, 0, 2) === 'II';
  let orientation = 1;
  try {
    eachEntry(view, little, view.getUint32(4, little), (tag, entry) => {
      if (tag === ORIENTATION) orientation = view.getUint16(entry + 8, little);
    });
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
  }
  return orientation;
}

/** A copy that fits the exported picture: upright, of its size, without the embedded thumbnail of the original. */
export function normaliseExif(block: Uint8Array, size: { width: number; height: number }): Uint8Array {
  const copy = block.slice();
  const view = new DataView(copy.buffer);
  const little = ascii(copy, 0, 2) === 'II';
  const set = (entry: number, value: number): void => {
    if (view.getUint16(entry + 2, little) === 3) view.setUint16(entry + 8, value, little);
    else view.setUint32(entry + 8, value, little);
  };
  try {
    const end = eachEntry(view, little, view.getUint32(4, little), (tag, entry) => {
      if (tag === ORIENTATION) set(entry, 1);
      if (tag !== EXIF_POINTER) return;
      eachEntry(view, little, view.getUint32(entry + 8, little), (inner, at) => {
        if (inner === PIXEL_WIDTH) set(at, size.width);
        if (inner === PIXEL_HEIGHT) set(at, size.height);
      });
    });
    view.setUint32(end, 0, little);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
  }
  return copy;
}

/** The file with the EXIF block put in; a file of another kind, or a block too large for JPEG, comes back as it was. */
export function insertExif(file: Uint8Array, block: Uint8Array): Uint8Array {
  if (isJpeg(file)) return insertIntoJpeg(file, block);
  if (isPng(file)) return insertIntoPng(file, block);
  if (isWebp(file)) return insertIntoWebp(file, block);
  return file;
}

interface Chunk {
  type: string;
  start: number;
  length: number;
}

const ascii = (bytes: Uint8Array, from: number, count: number): string =>
  String.fromCharCode(...bytes.subarray(from, from + count));
const bytesOf = (text: string): Uint8Array => Uint8Array.from(text, (c) => c.charCodeAt(0));
const viewOf = (bytes: Uint8Array): DataView =>
  new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
const isJpeg = (file: Uint8Array): boolean => file[0] === 0xff && file[1] === 0xd8;
const isPng = (file: Uint8Array): boolean => ascii(file, 1, 3) === 'PNG';
const isWebp = (file: Uint8Array): boolean => ascii(file, 0, 4) === 'RIFF' && ascii(file, 8, 4) === 'WEBP';

function join(...parts: Uint8Array[]): Uint8Array {
  const out = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

function chunkData(file: Uint8Array, chunks: Chunk[], type: string): Uint8Array | null {
  const chunk = chunks.find((one) => one.type === type);
  return chunk ? file.subarray(chunk.start, chunk.start + chunk.length) : null;
}

/** The segments of a JPEG ahead of its picture: their markers, and what is in them (ITU-T T.81, B.1.1). */
export function* jpegSegments(file: Uint8Array): Generator<{ marker: number; body: Uint8Array }> {
  const view = viewOf(file);
  for (let at = 2; at + 4 <= file.length && file[at] === 0xff && file[at + 1] !== 0xda;) {
    const body = file.subarray(at + 4, at + 2 + view.getUint16(at + 2));
    yield { marker: file[at + 1]!, body };
    at += 4 + body.length;
  }
}

function jpegExif(file: Uint8Array): Uint8Array | null {
  for (const { marker, body } of jpegSegments(file))
    if (marker === 0xe1 && ascii(body, 0, 4) === 'Exif') return body;
  return null;
}

function insertIntoJpeg(file: Uint8Array, block: Uint8Array): Uint8Array {
  const length = block.length + 8;
  if (length > 65535) return file;
  const head = Uint8Array.of(0xff, 0xe1, length >> 8, length & 255);
  return join(file.subarray(0, 2), head, bytesOf('Exif\0\0'), block, file.subarray(2));
}

function pngChunks(file: Uint8Array): Chunk[] {
  const view = viewOf(file);
  const chunks: Chunk[] = [];
  for (let at = 8; at + 12 <= file.length;) {
    const length = view.getUint32(at);
    chunks.push({ type: ascii(file, at + 4, 4), start: at + 8, length });
    at += 12 + length;
  }
  return chunks;
}

/** A PNG marked as sRGB, perceptual intent (PNG third edition, 11.3.2.5); any other file as it was. */
export function tagSrgb(file: Uint8Array): Uint8Array {
  return isPng(file) ? insertIntoPng(file, Uint8Array.of(0), 'sRGB') : file;
}

function insertIntoPng(file: Uint8Array, block: Uint8Array, type = 'eXIf'): Uint8Array {
  const body = join(bytesOf(type), block);
  const head = new Uint8Array(4);
  viewOf(head).setUint32(0, block.length);
  const tail = new Uint8Array(4);
  viewOf(tail).setUint32(0, crc32(body));
  // IHDR comes first and is always 25 bytes long.
  return join(file.subarray(0, 33), head, body, tail, file.subarray(33));
}

/** CRC-32 as PNG wants it (ISO 3309). */
function crc32(bytes: Uint8Array): number {
  let crc = ~0;
  for (const byte of bytes) {
    crc ^= byte;
    for (let k = 0; k < 8; k++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1;
  }
  return ~crc >>> 0;
}

function webpChunks(file: Uint8Array): Chunk[] {
  const view = viewOf(file);
  const chunks: Chunk[] = [];
  for (let at = 12; at + 8 <= file.length;) {
    const length = view.getUint32(at + 4, true);
    chunks.push({ type: ascii(file, at, 4), start: at + 8, length });
    at += 8 + length + (length & 1);
  }
  return chunks;
}

function webpChunk(type: string, data: Uint8Array): Uint8Array {
  const head = new Uint8Array(8);
  head.set(bytesOf(type));
  viewOf(head).setUint32(4, data.length, true);
  return join(head, data, new Uint8Array(data.length & 1));
}

/** EXIF needs the extended container: a VP8X chunk in front that says so. */
function insertIntoWebp(file: Uint8Array, block: Uint8Array): Uint8Array {
  const chunks = webpChunks(file);
  const first = chunks[0]!;
  const data = file.subarray(first.start, first.start + first.length);
  const extended = new Uint8Array(10);
  let rest = file.subarray(12);
  if (first.type === 'VP8X') {
    extended.set(data);
    rest = file.subarray(first.start + first.length + (first.length & 1));
  } else {
    const bits = first.type === 'VP8L' ? viewOf(data).getUint32(1, true) : 0;
    const width = first.type === 'VP8L' ? (bits & 0x3fff) + 1 : viewOf(data).getUint16(6, true) & 0x3fff;
    const height =
      first.type === 'VP8L' ? ((bits >> 14) & 0x3fff) + 1 : viewOf(data).getUint16(8, true) & 0x3fff;
    for (const [at, side] of [
      [4, width - 1],
      [7, height - 1],
    ] as const) {
      extended[at] = side & 255;
      extended[at + 1] = (side >> 8) & 255;
      extended[at + 2] = side >> 16;
    }
    extended[0] = first.type === 'VP8L' && bits & 0x10000000 ? 0x10 : 0;
  }
  extended[0]! |= 0x08;
  const body = join(bytesOf('WEBP'), webpChunk('VP8X', extended), rest, webpChunk('EXIF', block));
  const size = new Uint8Array(4);
  viewOf(size).setUint32(0, body.length, true);
  return join(bytesOf('RIFF'), size, body);
}
