import type { PictureType } from '../engine/codecs/messages';

/** A kind of file that a picture can be written to. */
export interface StillFormat {
  type: PictureType;
  label: string;
  extension: string;
  /** Something is lost, more or less by the quality. */
  isLossy: boolean;
  /** It can have 16 bits a channel. */
  isDeep: boolean;
}

export const FILE_KINDS: readonly StillFormat[] = [
  { type: 'image/jpeg', label: 'JPEG', extension: '.jpg', isLossy: true, isDeep: false },
  { type: 'image/png', label: 'PNG', extension: '.png', isLossy: false, isDeep: true },
  { type: 'image/tiff', label: 'TIFF', extension: '.tif', isLossy: false, isDeep: true },
  { type: 'image/webp', label: 'WebP', extension: '.webp', isLossy: true, isDeep: false },
  { type: 'image/avif', label: 'AVIF', extension: '.avif', isLossy: true, isDeep: false },
];

/** The kind that is written as a type of file. @throws Error where none is. */
export function fileKindOf(type: string): StillFormat {
  const found = FILE_KINDS.find((kind) => kind.type === type);
  if (!found) throw new Error(`Files of the type “${type}” are not written. Please choose another kind.`);
  return found;
}
