import type { Size } from '../geometry/size';

/** A film that an encoder of the browser makes. */
export interface EncoderKind {
  by: 'encoder';
  container: 'mp4' | 'webm';
  codec: 'avc' | 'av1' | 'vp9';
  /** Bits of a level where they are not 8. */
  bits?: 10;
}

/** A kind of file that a film can be written to. */
interface Format {
  id: string;
  label: string;
  /** Of the file that the application writes. */
  extension: string;
  /** What it is written by. */
  writer: EncoderKind | { by: 'gif' | 'webp' } | { by: 'frames'; type: 'image/jpeg' | 'image/png' };
}

/** In the order in which they are offered. To add one, add how it is encoded on both sides, too. */
const FORMATS = [
  {
    id: 'mp4',
    label: 'MP4, H.264',
    extension: '.mp4',
    writer: { by: 'encoder', container: 'mp4', codec: 'avc' },
  },
  {
    id: 'mp4-av1',
    label: 'MP4, AV1',
    extension: '.mp4',
    writer: { by: 'encoder', container: 'mp4', codec: 'av1' },
  },
  {
    id: 'webm',
    label: 'WebM, VP9',
    extension: '.webm',
    writer: { by: 'encoder', container: 'webm', codec: 'vp9' },
  },
  {
    id: 'webm-av1',
    label: 'WebM, AV1',
    extension: '.webm',
    writer: { by: 'encoder', container: 'webm', codec: 'av1' },
  },
  {
    id: 'webm-10',
    label: 'WebM, VP9, 10 bits',
    extension: '.webm',
    writer: { by: 'encoder', container: 'webm', codec: 'vp9', bits: 10 },
  },
  {
    id: 'mp4-av1-10',
    label: 'MP4, AV1, 10 bits',
    extension: '.mp4',
    writer: { by: 'encoder', container: 'mp4', codec: 'av1', bits: 10 },
  },
  { id: 'gif', label: 'GIF', extension: '.gif', writer: { by: 'gif' } },
  { id: 'webp', label: 'Animated WebP', extension: '.webp', writer: { by: 'webp' } },
  { id: 'jpeg', label: 'JPEG frames', extension: '.zip', writer: { by: 'frames', type: 'image/jpeg' } },
  { id: 'png', label: 'PNG frames', extension: '.zip', writer: { by: 'frames', type: 'image/png' } },
] as const satisfies readonly Format[];

export type ClipFormatId = (typeof FORMATS)[number]['id'];

/** A kind of file that a film can be written to, by the application and by the command line. */
export type ClipFormat = Format & { id: ClipFormatId };

export const CLIP_FORMATS: readonly ClipFormat[] = FORMATS;

/** The format of an id. */
export const clipFormatOf = (id: ClipFormatId): ClipFormat =>
  CLIP_FORMATS.find((format) => format.id === id)!;

/** Whether a kind keeps transparent places: PNG does, and VP9 in a WebM has their coverage beside its colours. */
export function holdsAlpha({ writer }: Pick<ClipFormat, 'writer'>): boolean {
  if (writer.by === 'frames') return writer.type === 'image/png';
  return writer.by === 'encoder' && writer.container === 'webm' && writer.codec === 'vp9' && !writer.bits;
}

/**
 * The encoder's quantizer for a quality of 1..100, so that all pictures lose equally little: H.264 counts to 51, the others to
 * 63. With 10 bits an encoder loses more at the same number, some 3 dB.
 */
export function quantizerFor(quality: number, { codec, bits }: Pick<EncoderKind, 'codec' | 'bits'>): number {
  if (codec === 'avc') return Math.round(50 - 0.4 * quality);
  return Math.round((62 - 0.54 * quality) * (bits ? 0.7 : 1));
}

/** How much less a codec needs than H.264 for the same quality. */
const CODEC_EFFICIENCY = { avc: 1, vp9: 0.7, av1: 0.6 } as const;
/** Bits a pixel of H.264 at quality 0; they double every 20 of it. */
const MIN_BITS = 0.012;

/** Bits a second for a quality of 1..100: some 0.08 bits a pixel at 55, 0.3 at 92. */
export function bitrateFor(
  quality: number,
  { width, height }: { width: number; height: number },
  fps: number,
  codec: keyof typeof CODEC_EFFICIENCY,
): number {
  return Math.round(width * height * fps * MIN_BITS * 2 ** (quality / 20) * CODEC_EFFICIENCY[codec]);
}

/** The size of a film. @param sheet what a crop leaves of the footage. @param width that is wanted; null for all of it. */
export function clipSize(sheet: Size, { writer }: ClipFormat, width: number | null): Size {
  const wanted = Math.min(sheet.width, width ?? sheet.width);
  // Encoders of 4:2:0 want even sizes.
  const fit = (value: number): number =>
    writer.by === 'encoder' ? Math.max(2, 2 * Math.floor(value / 2)) : Math.max(1, Math.round(value));
  return { width: fit(wanted), height: fit((sheet.height * wanted) / sheet.width) };
}
