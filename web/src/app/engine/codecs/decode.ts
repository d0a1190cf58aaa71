import {
  type FileKind,
  type HeifLibrary,
  type RawLibrary,
  type RawPreview,
  hasNoPixels,
  hasWrongChecksum,
  isTiffCut,
  kindOf,
} from '@hazy-lens/core';
import { decodeGreyOnCanvas, decodeOnCanvas, pictureOfHeic } from './canvas-decode';
import { decodeHeic, decodeHeicGrey } from './heic';
import type { DecodedGamut, DecodedGrey, DecodedPicture } from './messages';
import { decodeRawFile } from './raw';
import { type decodeByBrowser, readSimpleHeader } from './native-decode';
import { cutShort, decoderError, emptyFile, unsupported, notOpened } from './errors';
import { type Library, decodeGrey, decodePicture, decodeRaw } from './vips';
import { filesWords } from '../../words/files';

/** The libraries, each loaded when it is first needed. */
export interface Libraries {
  /** Null where its threads can share no memory. @param withAvif the part that reads and writes AVIF comes too. */
  vips: ((withAvif: boolean) => Promise<Library>) | null;
  heif(): Promise<HeifLibrary>;
  /** Anew for each file: it keeps the memory that one took. */
  raw(): Promise<RawLibrary>;
  /** What decodes plain pictures, where there is a browser. */
  plain: typeof decodeByBrowser | null;
}

/**
 * Pixels of a picture file, in memory of a list that has the size, which is taken out of it.
 * @param onProgress hears the share that is done, 0..1, or that it gets on. @param onPreview hears of the preview in a raw file.
 * @throws FileError with a sentence that names the file.
 */
export async function decodeFile(
  libraries: Libraries,
  bytes: Uint8Array<ArrayBuffer>,
  name: string,
  onProgress: (done?: number) => void,
  free: SharedArrayBuffer[] = [],
  gamut: DecodedGamut = 'srgb',
  onPreview?: (preview: RawPreview) => void,
): Promise<DecodedPicture> {
  const kind = knownKind(bytes, name);
  if (kind === 'raw') {
    const library = await libraries.raw();
    onProgress();
    return decodeRawFile(library, bytes, name, free, { isWide: gamut === 'own', onPreview });
  }
  const byBrowser = libraries.plain;
  const plain = byBrowser && readSimpleHeader(bytes, kind);
  if (plain) {
    // If the browser refuses the file, libvips supplies the error.
    const decoded = await byBrowser(bytes, plain, onProgress, free).catch(() => null);
    if (decoded) return decoded;
  }
  if (!libraries.vips && kind !== 'heic') return decodeOnCanvas(bytes, name, kind);
  const vips = await libraries.vips?.(kind === 'avif');
  onProgress();
  if (vips && kind !== 'heic') return decodePicture(vips, bytes, name, kind, onProgress, free, gamut);
  const heif = await libraries.heif();
  onProgress();
  const raw = await decodeHeic(heif, bytes, name);
  onProgress();
  if (!vips) return pictureOfHeic(raw, gamut);
  return decodeRaw(
    vips,
    raw,
    { type: kind, bits: 8, profile: null, pages: raw.pages },
    onProgress,
    free,
    gamut,
  );
}

/**
 * A depth map or a matte. @param item the number of the picture in a HEIC file, which is not read without it.
 * @throws FileError with a sentence that names the file.
 */
export async function decodeGreyFile(
  libraries: Libraries,
  bytes: Uint8Array<ArrayBuffer>,
  name: string,
  onProgress: () => void,
  item?: number,
): Promise<DecodedGrey> {
  const kind = knownKind(bytes, name);
  if (kind === 'raw' || (kind === 'heic' && item === undefined)) throw unsupported(name);
  if (item !== undefined) return decodeHeicGrey(await libraries.heif(), bytes, name, item);
  if (!libraries.vips) return decodeGreyOnCanvas(bytes, name, kind);
  return decodeGrey(await libraries.vips(kind === 'avif'), bytes, name, kind, onProgress);
}

function knownKind(bytes: Uint8Array, name: string): FileKind {
  if (bytes.length === 0) throw emptyFile(name);
  const kind = kindOf(bytes, name);
  if (!kind) throw unsupported(name);
  if (kind === 'png' && hasWrongChecksum(bytes)) throw decoderError(name, kind, filesWords.aChecksumIsWrong);
  if (kind === 'tiff' && isTiffCut(bytes)) throw cutShort(name);
  if (kind === 'tiff' && hasNoPixels(bytes)) throw notOpened(name, filesWords.theTiffHoldsNoPixels);
  return kind;
}
