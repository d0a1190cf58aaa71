import type { Primaries } from '../colour/primaries';
import { fromLinear } from '../pixels/transfer';

/** What is used of LibRaw's own interface. */
export interface RawLibrary {
  LibRaw: new () => RawFile;
}
export interface RawFile {
  open(bytes: Uint8Array, settings: object): unknown;
  metadata(full: boolean): RawFacts | undefined;
  thumbnailData(): RawThumbnail | undefined;
  imageData(): RawPixels | undefined;
  delete?(): void;
}
export interface RawFacts {
  width: number;
  height: number;
  /** What each colour of the sensor is multiplied by for white: as shot, and where that is not known. */
  color_data?: { cam_mul: ArrayLike<number>; pre_mul: ArrayLike<number> };
}
export interface RawThumbnail {
  format: string;
  data: Uint8Array;
}
export interface RawPixels {
  width: number;
  height: number;
  colors: number;
  bits: number;
  data: Uint8Array | Uint16Array;
}

/** What becomes of light beyond white: it is cut off, or kept, with a colour where the sensor saw none (LibRaw, `-H`). */
const [CLIPPED, REBUILT] = [0, 3];

/** Primaries of what is developed (LibRaw, `-o`). */
const COLOURS: Record<Primaries, number> = { srgb: 1, 'display-p3': 7 };

/** How a raw file is developed: white balance as shot, linear light of 16 bits, nothing brightened. */
const SETTINGS = {
  useCameraWb: true,
  useCameraMatrix: 1,
  outputColor: COLOURS.srgb,
  outputBps: 16,
  // Power 1 and slope 1; the others are computed from them.
  gamm: [1, 1, 0, 0, 0, 0],
  noAutoBright: true,
  // White is what the file says, however bright its picture is.
  adjustMaximumThr: 0,
  highlight: CLIPPED,
  // Demosaicing by patterned pixel grouping: as true to a scene as AHD (44 dB both), in less than half of the time.
  userQual: 2,
};

/** Names of raw files: most kinds look like a TIFF by their first bytes. */
const RAW_ENDINGS =
  'dng cr2 cr3 crw nef nrw arw srf sr2 raf orf rw2 pef srw x3f iiq 3fr erf mef mos kdc dcr mrw rwl'.split(
    ' ',
  );
export const RAW_EXTENSIONS: readonly string[] = RAW_ENDINGS.map((ending) => `.${ending}`);
export const RAW_NAME = new RegExp(`\\.(${RAW_ENDINGS.join('|')})$`, 'i');

/** A developed picture: RGB, 16 bits a sample, coded as sRGB; times `gain` its light is 1 where it is white. */
export interface DevelopedRaw {
  width: number;
  height: number;
  samples: Uint16Array;
  primaries: Primaries;
  gain: number;
}

/** The small picture that a camera made: a JPEG, whose notes say how it is turned to be upright. */
export type RawPreview = Uint8Array<ArrayBuffer>;

export interface RawOptions {
  /** The colours beyond sRGB are kept, and what a colour has beyond white: where the sensor sees less of it than of another. */
  isWide: boolean;
  /** Hears its size ahead of its pixels, and may throw. */
  check: (size: { width: number; height: number }) => void;
  /** Hears of the preview in it, where there is one, long before its pixels are there. */
  onPreview?: ((preview: RawPreview) => void) | undefined;
}

/** Develops a raw file. @throws Error where the library cannot read it. */
export function developRaw(
  library: RawLibrary,
  bytes: Uint8Array,
  { isWide, check, onPreview }: RawOptions,
): DevelopedRaw {
  const primaries = isWide ? 'display-p3' : 'srgb';
  const settings = { ...SETTINGS, outputColor: COLOURS[primaries] };
  const file = new library.LibRaw();
  try {
    file.open(bytes, isWide ? { ...settings, highlight: REBUILT } : settings);
    const about = file.metadata(isWide);
    const gain = isWide ? gainOf(about) : 1;
    // Without it nobody could say where white is.
    if (gain === null) file.open(bytes, settings);
    if (!about || !(about.width > 0 && about.height > 0)) throw new Error('no picture can be found in it');
    check(about);
    const preview = onPreview && previewOf(file);
    if (preview) onPreview(preview);
    const pixels = file.imageData();
    if (!pixels || pixels.bits !== 16 || pixels.colors !== 3) throw new Error('its picture can’t be decoded');
    const { width, height, data } = pixels;
    if (data.length < width * height * 3) throw new Error('its picture is cut short');
    return { width, height, samples: coded(data), primaries, gain: gain ?? 1 };
  } finally {
    file.delete?.();
  }
}

function previewOf(file: RawFile): RawPreview | null {
  try {
    const found = file.thumbnailData();
    return found?.format === 'jpeg' && found.data.length > 0 ? Uint8Array.from(found.data) : null;
  } catch {
    // What is wrong with the preview says nothing of the picture.
    return null;
  }
}

/** Most that light beyond white is kept: more comes of multipliers that make no sense. */
const MAX_GAIN = 16;

/** How much darker a picture is developed so that no colour is cut off; null where its multipliers make no sense. */
function gainOf(about: RawFacts | undefined): number | null {
  const { cam_mul: asShot = [], pre_mul: daylight = [] } = about?.color_data ?? {};
  const usable = (all: ArrayLike<number>): number[] => Array.from(all).filter((value) => value > 0);
  const isKnown = [0, 1, 2].every((i) => asShot[i]! > 0);
  const factors = usable(isKnown ? asShot : daylight);
  const gain = Math.max(...factors) / Math.min(...factors);
  return gain >= 1 && gain <= MAX_GAIN ? gain : null;
}

/** Why a raw file could not be developed, in words: LibRaw throws what it likes, addresses too. */
export function rawReason(error: unknown): string {
  const message = error instanceof Error ? error.message : String(error);
  return /^\d*$/.test(message) ? 'it is no raw file that can be read' : message;
}

let codes: Uint16Array | null = null;

/** Linear samples of 16 bits as those of sRGB. */
function coded(linear: ArrayLike<number>): Uint16Array {
  if (!codes) {
    codes = new Uint16Array(65536);
    for (let i = 0; i < 65536; i++) codes[i] = Math.round(65535 * fromLinear(i / 65535));
  }
  const samples = new Uint16Array(linear.length);
  for (let i = 0; i < samples.length; i++) samples[i] = codes[linear[i]!]!;
  return samples;
}
