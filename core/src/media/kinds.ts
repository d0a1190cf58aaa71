import { RAW_NAME } from './raw';
import { Block } from './tiff';

export type FileKind = 'jpeg' | 'png' | 'webp' | 'avif' | 'heic' | 'gif' | 'tiff' | 'raw';

/** How raw files begin that are no TIFF: RAF, ORF, RW2, X3F and MRW. */
const RAW_STARTS = ['FUJIFILMCCD-RAW', 'IIRO', 'IIRS', 'MMOR', 'IIU\0', 'FOVb', '\0MRM'];

/** Kind of a picture file by its first bytes, or null for anything else. @param name tells raw files from TIFFs. */
export function kindOf(bytes: Uint8Array, name = ''): FileKind | null {
  const text = (from: number, count: number): string =>
    String.fromCharCode(...bytes.subarray(from, from + count));
  if (bytes[0] === 0xff && bytes[1] === 0xd8) return 'jpeg';
  if (text(1, 3) === 'PNG') return 'png';
  if (text(0, 4) === 'RIFF' && text(8, 4) === 'WEBP') return 'webp';
  if (text(4, 4) === 'ftyp') {
    const brands = text(8, 40);
    if (brands.startsWith('crx ')) return 'raw';
    if (/avif|avis/.test(brands)) return 'avif';
    if (/heic|heix|heim|heis|hevc|hevx|mif1|msf1/.test(brands)) return 'heic';
  }
  if (text(0, 3) === 'GIF') return 'gif';
  if (RAW_STARTS.some((start) => text(0, start.length) === start)) return 'raw';
  if (!['II*\0', 'MM\0*', 'II+\0', 'MM\0+'].includes(text(0, 4))) return null;
  return RAW_NAME.test(name) || text(8, 2) === 'CR' || isDng(bytes) ? 'raw' : 'tiff';
}

/** The version of the DNG specification that a file keeps to (DNG 1.7, chapter 4). */
const DNG_VERSION = 0xc612;

function isDng(bytes: Uint8Array): boolean {
  if (isBigTiff(bytes)) return false;
  try {
    const block = new Block(bytes);
    return block.entriesAt(block.first).entries.some(({ tag }) => tag === DNG_VERSION);
  } catch (error) {
    // Of a file that is cut short, or of which only the beginning is looked at, the name has to tell.
    if (error instanceof RangeError) return false;
    throw error;
  }
}

/**
 * The colour profile (ICC) in a HEIC or AVIF file: the `prof` form of its first colour box, or null where it has none
 * (ISO/IEC 14496-12, 12.1.5).
 */
export function profileInBoxes(bytes: Uint8Array): Uint8Array | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = 4; at + 12 < Math.min(bytes.length, 1 << 20); at++) {
    if (view.getUint32(at) !== 0x636f6c72 || view.getUint32(at + 4) !== 0x70726f66) continue;
    const size = view.getUint32(at - 4);
    if (size > 12 && at - 4 + size <= bytes.length) return bytes.slice(at + 8, at - 4 + size);
  }
  return null;
}

/** True for a TIFF whose first directory lies behind the end of the file: the reader finds nothing to begin with. */
export function isTiffCut(bytes: Uint8Array): boolean {
  return !isBigTiff(bytes) && (bytes.length < 8 || new Block(bytes).first + 2 > bytes.length);
}

/** Where the strips, or the tiles, of a TIFF's picture lie. */
const PIXELS = [0x0111, 0x0144];

/** True for a TIFF whose first directory has no pixels: it may be a list of others, or have lost them. */
export function hasNoPixels(bytes: Uint8Array): boolean {
  if (isBigTiff(bytes)) return false;
  try {
    const block = new Block(bytes);
    return !block.entriesAt(block.first).entries.some(({ tag }) => PIXELS.includes(tag));
  } catch (error) {
    if (error instanceof RangeError) return true;
    throw error;
  }
}

const isBigTiff = (bytes: Uint8Array): boolean => bytes[2] === 43 || bytes[3] === 43;
