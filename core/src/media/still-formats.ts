/** Kinds of picture file that are written. */
export type StillFormatId = 'jpeg' | 'png' | 'tiff' | 'webp' | 'avif';

/** A kind of picture file that is written, by the application and by the command line. */
export interface StillFormat {
  id: StillFormatId;
  label: string;
  mime: `image/${StillFormatId}`;
  extension: string;
  /** Another ending that names may have. */
  alias?: string;
  /** Something is lost, more or less by the quality. */
  isLossy: boolean;
  /** It can have 16 bits a channel. */
  has16Bit: boolean;
  /** It keeps transparent places; others show them on white. */
  keepsAlpha: boolean;
  /** Browsers write it by themselves, with 8 bits. */
  isOfBrowsers: boolean;
}

/** By name, so that none is forgotten; in the order in which they are offered. To add one, add its encoder on both sides, too. */
const FORMATS: { readonly [Id in StillFormatId]: Omit<StillFormat, 'id'> & { mime: `image/${Id}` } } = {
  jpeg: {
    label: 'JPEG',
    mime: 'image/jpeg',
    extension: '.jpg',
    alias: '.jpeg',
    isLossy: true,
    has16Bit: false,
    keepsAlpha: false,
    isOfBrowsers: true,
  },
  png: {
    label: 'PNG',
    mime: 'image/png',
    extension: '.png',
    isLossy: false,
    has16Bit: true,
    keepsAlpha: true,
    isOfBrowsers: true,
  },
  tiff: {
    label: 'TIFF',
    mime: 'image/tiff',
    extension: '.tif',
    alias: '.tiff',
    isLossy: false,
    has16Bit: true,
    keepsAlpha: true,
    isOfBrowsers: false,
  },
  webp: {
    label: 'WebP',
    mime: 'image/webp',
    extension: '.webp',
    isLossy: true,
    has16Bit: false,
    keepsAlpha: true,
    isOfBrowsers: true,
  },
  avif: {
    label: 'AVIF',
    mime: 'image/avif',
    extension: '.avif',
    isLossy: true,
    has16Bit: false,
    keepsAlpha: false,
    isOfBrowsers: false,
  },
};

export const STILL_FORMATS: readonly StillFormat[] = (Object.keys(FORMATS) as StillFormatId[]).map((id) => ({
  id,
  ...FORMATS[id],
}));

/** The format of a type of file (MIME). @throws Error where none is written. */
export function stillFormatOf(mime: string): StillFormat {
  const found = STILL_FORMATS.find((format) => format.mime === mime);
  if (!found) throw new Error(`Files of the type “${mime}” aren’t written. Choose another kind.`);
  return found;
}

/** The format that a file's name asks for by its ending; null where none is written for that. */
export function stillFormatFor(fileName: string): StillFormat | null {
  const name = fileName.toLowerCase();
  const has = (ending?: string): boolean => ending !== undefined && name.endsWith(ending);
  return STILL_FORMATS.find(({ extension, alias }) => has(extension) || has(alias)) ?? null;
}
