import { ascii, bytesOf, crc32, find, join, viewOf } from './bytes';
import { blockDirectory, isBlock } from './exif';
import { Block, type Directory, type Entry, laidDown } from './tiff';

/*
 * Where files of pictures keep their EXIF block and their XMP packet. Sources: ITU-T T.81 and Exif 2.32 (JPEG); PNG third
 * edition (eXIf, iTXt); WebP container specification; TIFF 6.0; XMP specification part 3.
 */

/** What is said of a picture beside its pixels. */
export interface Metadata {
  /** An EXIF block from its byte-order mark on. */
  exif: Uint8Array | null;
  /** An XMP packet, UTF-8. */
  xmp: string | null;
}

export const NO_METADATA: Metadata = { exif: null, xmp: null };

const XMP_JPEG = 'http://ns.adobe.com/xap/1.0/\0';
const XMP_PNG = 'XML:com.adobe.xmp';
const XMP_TAG = 0x02bc;
const isJpeg = (file: Uint8Array): boolean => file[0] === 0xff && file[1] === 0xd8;
const isPng = (file: Uint8Array): boolean => ascii(file, 1, 3) === 'PNG';
const isWebp = (file: Uint8Array): boolean => ascii(file, 0, 4) === 'RIFF' && ascii(file, 8, 4) === 'WEBP';
const isBoxes = (file: Uint8Array): boolean => ascii(file, 4, 4) === 'ftyp';

const decoder = new TextDecoder();
const encoder = new TextEncoder();

/** Unpacks what zlib packed (RFC 1950). */
export type Inflate = (packed: Uint8Array) => Uint8Array;

/**
 * What a file says of its picture; nothing where it is of no kind that is known, or is cut short.
 * @param inflate for packets that a PNG has packed; without it they are not read.
 */
export function readMetadata(file: Uint8Array, inflate: Inflate | null = null): Metadata {
  try {
    const { exif, xmp } = found(file, inflate);
    const block = exif && ascii(exif, 0, 4) === 'Exif' ? exif.subarray(6) : exif;
    return { exif: block && isBlock(block) ? block.slice() : null, xmp: xmp && decoder.decode(xmp) };
  } catch (error) {
    if (error instanceof RangeError) return NO_METADATA;
    throw error;
  }
}

/** The EXIF block of a file, or null. */
export function readExif(file: Uint8Array): Uint8Array | null {
  return readMetadata(file).exif;
}

interface Found {
  exif: Uint8Array | null;
  xmp: Uint8Array | null;
}

function found(file: Uint8Array, inflate: Inflate | null): Found {
  if (isJpeg(file)) return inJpeg(file);
  if (isPng(file)) {
    const chunks = pngChunks(file);
    return { exif: chunkData(file, chunks, 'eXIf'), xmp: pngXmp(file, chunks, inflate) };
  }
  if (isWebp(file)) {
    const chunks = webpChunks(file);
    return { exif: chunkData(file, chunks, 'EXIF'), xmp: chunkData(file, chunks, 'XMP ') };
  }
  if (isBlock(file)) return inTiff(file);
  if (isBoxes(file)) return inBoxes(file);
  return { exif: null, xmp: null };
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

function inJpeg(file: Uint8Array): Found {
  let [exif, xmp]: (Uint8Array | null)[] = [null, null];
  for (const { marker, body } of jpegSegments(file)) {
    if (marker !== 0xe1) continue;
    if (ascii(body, 0, 4) === 'Exif') exif ??= body;
    if (ascii(body, 0, XMP_JPEG.length) === XMP_JPEG) xmp ??= body.subarray(XMP_JPEG.length);
  }
  return { exif: exif ?? null, xmp: xmp ?? null };
}

/** A TIFF file is a block itself, of which only what is no picture is taken later. */
function inTiff(file: Uint8Array): Found {
  const block = new Block(file);
  const xmp = block.entriesAt(block.first).entries.find(({ tag }) => tag === XMP_TAG);
  return { exif: tiffNotes(file), xmp: xmp?.value ?? null };
}

/** What a TIFF file says beside its pixels, as a block of its own: the file itself may be large. */
function tiffNotes(file: Uint8Array): Uint8Array | null {
  const notes = blockDirectory(file);
  if (!notes) return null;
  const { directory, little } = notes;
  const entries = directory.entries.filter(({ value }) => value.length < 65_536);
  const body = laidDown({ ...directory, entries }, null, 8, little);
  return join(file.subarray(0, 4), little ? Uint8Array.of(8, 0, 0, 0) : Uint8Array.of(0, 0, 0, 8), body);
}

/** Of HEIC and AVIF: as they lie among the items, which always begin in the same way. */
function inBoxes(file: Uint8Array): Found {
  let exif: Uint8Array | null = null;
  for (let at = find(file, 'Exif\0\0'); at >= 0 && !exif; at = find(file, 'Exif\0\0', at + 1))
    if (isBlock(file.subarray(at + 6, at + 30))) exif = file.subarray(at + 6, at + 6 + 1_000_000);
  const start = find(file, '<x:xmpmeta');
  const end = start < 0 ? -1 : find(file, '</x:xmpmeta>', start);
  return { exif, xmp: end < 0 ? null : file.subarray(start, end + 12) };
}

/** The file with metadata put in; as it was where its kind cannot have it, and without what is too large for it. */
export function insertMetadata(file: Uint8Array, { exif, xmp }: Metadata): Uint8Array {
  const packet = xmp === null ? null : encoder.encode(xmp);
  if (isJpeg(file)) return intoJpeg(file, exif, packet);
  if (isPng(file)) return intoPng(file, exif, packet);
  if (isWebp(file)) return intoWebp(file, exif, packet);
  if (isBlock(file)) return intoTiff(file, exif, packet);
  return file;
}

function intoJpeg(file: Uint8Array, exif: Uint8Array | null, xmp: Uint8Array | null): Uint8Array {
  const segment = (mark: string, body: Uint8Array | null): Uint8Array[] => {
    const length = mark.length + (body?.length ?? 0) + 2;
    if (!body || length > 65535) return [];
    return [Uint8Array.of(0xff, 0xe1, length >> 8, length & 255), bytesOf(mark), body];
  };
  return join(file.subarray(0, 2), ...segment('Exif\0\0', exif), ...segment(XMP_JPEG, xmp), file.subarray(2));
}

interface Chunk {
  type: string;
  start: number;
  length: number;
}

function chunkData(file: Uint8Array, chunks: Chunk[], type: string): Uint8Array | null {
  const chunk = chunks.find((one) => one.type === type);
  return chunk ? file.subarray(chunk.start, chunk.start + chunk.length) : null;
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

/** Chunks without which there is no picture (PNG 1.2, section 4.1). */
const CRITICAL = ['IHDR', 'PLTE', 'IDAT', 'IEND'];

/** True for a PNG of which a part that matters has another checksum than it says: decoders differ in what they do then. */
export function hasWrongChecksum(png: Uint8Array): boolean {
  const view = viewOf(png);
  return pngChunks(png).some(({ type, start, length }) => {
    const end = start + length;
    if (!CRITICAL.includes(type) || end + 4 > png.length) return false;
    return view.getUint32(end) !== crc32(png.subarray(start - 4, end));
  });
}

/** The packet lies in a text chunk of its own name: international, behind flags, language and translation, or packed. */
function pngXmp(file: Uint8Array, chunks: readonly Chunk[], inflate: Inflate | null): Uint8Array | null {
  for (const { type, start, length } of chunks) {
    const body = file.subarray(start, start + length);
    if (!['iTXt', 'zTXt'].includes(type) || ascii(body, 0, XMP_PNG.length + 1) !== `${XMP_PNG}\0`) continue;
    const flags = XMP_PNG.length + 1;
    if (type === 'zTXt') return unpacked(body.subarray(flags + 1), inflate);
    const translation = body.indexOf(0, flags + 2) + 1;
    const text = body.subarray(body.indexOf(0, translation) + 1);
    return body[flags] === 1 ? unpacked(text, inflate) : text;
  }
  return null;
}

function unpacked(packed: Uint8Array, inflate: Inflate | null): Uint8Array | null {
  try {
    return inflate?.(packed) ?? null;
  } catch {
    return null;
  }
}

/** A PNG with one chunk more, behind its header. */
export function insertPngChunk(file: Uint8Array, type: string, data: Uint8Array): Uint8Array {
  return withChunks(file, pngChunk(type, data));
}

/** A PNG marked as sRGB, perceptual intent (PNG third edition, 11.3.2.5); any other file as it was. */
export function tagSrgb(file: Uint8Array): Uint8Array {
  return isPng(file) ? insertPngChunk(file, 'sRGB', Uint8Array.of(0)) : file;
}

function intoPng(file: Uint8Array, exif: Uint8Array | null, xmp: Uint8Array | null): Uint8Array {
  const chunks = [
    ...(exif ? [pngChunk('eXIf', exif)] : []),
    ...(xmp ? [pngChunk('iTXt', join(bytesOf(`${XMP_PNG}\0\0\0\0\0`), xmp))] : []),
  ];
  return withChunks(file, ...chunks);
}

/** IHDR comes first and is always 25 bytes long. */
function withChunks(file: Uint8Array, ...chunks: Uint8Array[]): Uint8Array {
  return join(file.subarray(0, 33), ...chunks, file.subarray(33));
}

function pngChunk(type: string, data: Uint8Array): Uint8Array {
  const body = join(bytesOf(type), data);
  const head = new Uint8Array(4);
  viewOf(head).setUint32(0, data.length);
  const tail = new Uint8Array(4);
  viewOf(tail).setUint32(0, crc32(body));
  return join(head, body, tail);
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

const WEBP_EXIF = 0x08;
const WEBP_XMP = 0x04;

/** Metadata needs the extended container: a VP8X chunk in front that says what there is. */
function intoWebp(file: Uint8Array, exif: Uint8Array | null, xmp: Uint8Array | null): Uint8Array {
  if (!exif && !xmp) return file;
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
  extended[0]! |= (exif ? WEBP_EXIF : 0) | (xmp ? WEBP_XMP : 0);
  const notes = [...(exif ? [webpChunk('EXIF', exif)] : []), ...(xmp ? [webpChunk('XMP ', xmp)] : [])];
  const body = join(bytesOf('WEBP'), webpChunk('VP8X', extended), rest, ...notes);
  const size = new Uint8Array(4);
  viewOf(size).setUint32(0, body.length, true);
  return join(bytesOf('RIFF'), size, body);
}

/** The first directory of a TIFF is laid down anew behind its pixels, with what a block says beside what it says itself. */
function intoTiff(file: Uint8Array, exif: Uint8Array | null, xmp: Uint8Array | null): Uint8Array {
  const own = new Block(file);
  const { entries } = own.entriesAt(own.first);
  const notes = exif && blockDirectory(exif);
  const has = new Set(entries.map(({ tag }) => tag));
  const packet: Entry[] = xmp ? [{ tag: XMP_TAG, type: 1, count: xmp.length, value: xmp }] : [];
  const inOrder = (entry: Entry): Entry =>
    notes && notes.little !== own.little ? { ...entry, value: swapped(entry) } : entry;
  const more = (notes?.directory.entries ?? []).filter(({ tag }) => !has.has(tag)).map(inOrder);
  const inner = new Map(
    [...(notes?.directory.inner ?? [])].map(([tag, { entries }]) => [
      tag,
      { entries: entries.map(inOrder), inner: new Map() },
    ]),
  );
  if (more.length + packet.length + inner.size === 0) return file;
  return withDirectory(file, { entries: [...entries, ...more, ...packet], inner }, own.little);
}

/** A TIFF whose first directory is laid down anew behind all that is there. */
function withDirectory(file: Uint8Array, directory: Directory, little: boolean): Uint8Array {
  const at = file.length + (file.length & 1);
  const made = join(file, new Uint8Array(file.length & 1), laidDown(directory, null, at, little));
  viewOf(made).setUint32(4, at, little);
  return made;
}

/** The ICC profile of a TIFF (ICC.1:2022, B.4). */
const ICC_TAG = 34675;
const UNDEFINED = 7;

/** A TIFF with a profile for its colours, unless it has one. */
export function tagTiff(file: Uint8Array, profile: Uint8Array): Uint8Array {
  const own = new Block(file);
  const { entries } = own.entriesAt(own.first);
  if (entries.some(({ tag }) => tag === ICC_TAG)) return file;
  const entry = { tag: ICC_TAG, type: UNDEFINED, count: profile.length, value: profile };
  return withDirectory(file, { entries: [...entries, entry], inner: new Map() }, own.little);
}

/** What a TIFF says of its channels beside the colours (TIFF 6.0, ExtraSamples): coverage by which they are multiplied. */
const EXTRA_SAMPLES = 338;
const SHORT = 3;
const ASSOCIATED = 1;

/** A TIFF that says that its colours are premultiplied by its coverage. */
export function asPremultiplied(file: Uint8Array): Uint8Array {
  const own = new Block(file);
  const value = new Uint8Array(2);
  viewOf(value).setUint16(0, ASSOCIATED, own.little);
  const entries = own
    .entriesAt(own.first)
    .entries.map((entry) =>
      entry.tag === EXTRA_SAMPLES ? { ...entry, type: SHORT, count: 1, value } : entry,
    );
  return withDirectory(file, { entries, inner: new Map() }, own.little);
}

/** Bytes of one number of each type that has a byte order. */
const WIDTHS: Partial<Record<number, number>> = { 3: 2, 4: 4, 5: 4, 8: 2, 9: 4, 10: 4, 11: 4, 12: 8, 13: 4 };

function swapped({ type, value }: Entry): Uint8Array {
  const width = WIDTHS[type] ?? 1;
  const out = value.slice();
  for (let at = 0; at + width <= out.length; at += width) out.subarray(at, at + width).reverse();
  return out;
}
