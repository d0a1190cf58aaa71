import { ascii } from './bytes';
import { Block, type Directory, type Entry, blockHead, laidDown, numberEntry } from './tiff';

/* The EXIF block of a picture: a small TIFF file (Exif 2.32, 4.5). */

const ORIENTATION = 0x0112;
const EXIF_POINTER = 0x8769;
const GPS_POINTER = 0x8825;
const INTEROP_POINTER = 0xa005;
const PIXEL_WIDTH = 0xa002;
const PIXEL_HEIGHT = 0xa003;
const THUMBNAIL_OFFSET = 0x0201;
const THUMBNAIL_LENGTH = 0x0202;
const COMPRESSION = 0x0103;
/** Compression of small pictures: as a JPEG of their own. */
const JPEG_COMPRESSION = 6;
/** What camera makers keep has places of its own in it, and often pictures: it cannot be laid down anew. */
const MAKER_NOTE = 0x927c;
/** Serial numbers of body and lens, and a number of the picture's own. */
const SERIALS = [0xa420, 0xa431, 0xa435, 0xc62f];
/**
 * How a TIFF file's own picture lies in it, and what holds pictures of its own or is carried elsewhere: size, strips and
 * tiles, colours, further images, XMP, IPTC, image resources, profile.
 */
const OF_PIXELS = [
  0x00fe, 0x00ff, 0x0100, 0x0101, 0x0102, 0x0103, 0x0106, 0x010a, 0x0111, 0x0115, 0x0116, 0x0117, 0x011c,
  0x013d, 0x0140, 0x0142, 0x0143, 0x0144, 0x0145, 0x014a, 0x0152, 0x0153, 0x015b, 0x0201, 0x0202, 0x0211,
  0x0212, 0x0213, 0x0214, 0x02bc, 0x83bb, 0x8649, 0x8773, 0x935c,
];
/** Nothing that people read is longer. */
const LONGEST_VALUE = 20_000;

/** What of a picture's notes goes along. */
export type MetadataChoice = 'all' | 'without-place' | 'none';

/** True for bytes that begin as a block does. */
export function isBlock(bytes: Uint8Array): boolean {
  return bytes.length > 14 && /^(II\*\0|MM\0\*)$/.test(ascii(bytes, 0, 4));
}

/** How a block says that its picture is to be turned or flipped: 1 as it lies, 2 to 8 otherwise (Exif 2.32, 4.6.4 A). */
export function readOrientation(bytes: Uint8Array): number {
  try {
    const block = new Block(bytes);
    const entry = block.entriesAt(block.first).entries.find(({ tag }) => tag === ORIENTATION);
    return entry ? block.number(entry) : 1;
  } catch (error) {
    if (error instanceof RangeError) return 1;
    throw error;
  }
}

/** What an exported picture is like. */
export interface Exported {
  width: number;
  height: number;
  /** A small JPEG of it, or none. */
  thumbnail: Uint8Array | null;
}

/**
 * A block for an exported picture, laid down anew: upright, of its size, with a small picture of the result. Whatever was
 * small pictures, or hidden between values, is gone, bytes and all. Null where nothing can be read, or nothing is wanted.
 */
export function exportedExif(
  bytes: Uint8Array,
  { width, height, thumbnail }: Exported,
  choice: MetadataChoice,
): Uint8Array | null {
  if (choice === 'none') return null;
  try {
    const block = new Block(bytes);
    const { little } = block;
    const long = (tag: number, value: number): Entry => numberEntry(tag, 4, value, little);
    const first = block.entriesAt(block.first).entries;
    const innerOf = (tag: number, from: readonly Entry[]): Entry[] => {
      const pointer = from.find((one) => one.tag === tag);
      return pointer ? orNothing(() => block.entriesAt(block.number(pointer)).entries) : [];
    };
    const exif = innerOf(EXIF_POINTER, first);
    const isKept = ({ tag, value }: Entry): boolean =>
      ![
        EXIF_POINTER,
        GPS_POINTER,
        INTEROP_POINTER,
        ORIENTATION,
        PIXEL_WIDTH,
        PIXEL_HEIGHT,
        MAKER_NOTE,
      ].includes(tag) &&
      !(choice === 'without-place' && SERIALS.includes(tag)) &&
      value.length <= LONGEST_VALUE;
    const plain = (entries: readonly Entry[]): Directory => ({ entries, inner: new Map() });
    const inner = new Map([
      [EXIF_POINTER, plain([...exif.filter(isKept), long(PIXEL_WIDTH, width), long(PIXEL_HEIGHT, height)])],
    ]);
    const place = innerOf(GPS_POINTER, first);
    if (choice === 'all' && place.length > 0) inner.set(GPS_POINTER, plain(place));
    const directory: Directory = {
      entries: [
        ...first.filter((entry) => isKept(entry) && !OF_PIXELS.includes(entry.tag)),
        numberEntry(ORIENTATION, 3, 1, little),
      ],
      inner,
    };
    return withThumbnail(directory, thumbnail, little);
  } catch (error) {
    // A block cut short is as good as none.
    if (error instanceof RangeError) return null;
    throw error;
  }
}

function orNothing(read: () => Entry[]): Entry[] {
  try {
    return read();
  } catch (error) {
    if (error instanceof RangeError) return [];
    throw error;
  }
}

function withThumbnail(directory: Directory, thumbnail: Uint8Array | null, little: boolean): Uint8Array {
  const small = (at: number): Directory => ({
    entries: [
      numberEntry(COMPRESSION, 3, JPEG_COMPRESSION, little),
      numberEntry(THUMBNAIL_OFFSET, 4, at, little),
      numberEntry(THUMBNAIL_LENGTH, 4, thumbnail!.length, little),
    ],
    inner: new Map(),
  });
  const lay = (next: Directory | null): Uint8Array => laidDown(directory, next, 8, little);
  const body = lay(thumbnail && small(8 + lay(small(0)).length));
  const block = new Uint8Array(8 + body.length + (thumbnail?.length ?? 0));
  block.set(blockHead(8, little));
  block.set(body, 8);
  if (thumbnail) block.set(thumbnail, 8 + body.length);
  return block;
}

/** Those of a block's entries that a TIFF file has in its own first directory, and the directories they point to. */
export function blockDirectory(bytes: Uint8Array): { directory: Directory; little: boolean } | null {
  try {
    const block = new Block(bytes);
    const { entries } = block.entriesAt(block.first);
    const inner = new Map<number, Directory>();
    for (const entry of entries)
      if (entry.tag === EXIF_POINTER || entry.tag === GPS_POINTER)
        inner.set(entry.tag, { entries: block.entriesAt(block.number(entry)).entries, inner: new Map() });
    return { directory: { entries, inner }, little: block.little };
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}

/** Texts of a block by their tags, of those that are plain ASCII. */
export function exifTexts(bytes: Uint8Array): Map<number, string> {
  const found = blockDirectory(bytes);
  const texts = new Map<number, string>();
  for (const { entries } of found ? [found.directory, ...found.directory.inner.values()] : [])
    for (const { tag, type, value } of entries)
      if (type === 2) texts.set(tag, ascii(value, 0, value.length).replace(/\0+$/, ''));
  return texts;
}
