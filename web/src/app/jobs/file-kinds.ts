import type { PictureType } from '../engine/codecs/messages';

/** A kind of file that a picture can be written to. */
export interface FileKind {
  type: PictureType;
  label: string;
  extension: string;
  /** Something is lost, more or less by the quality. */
  isLossy: boolean;
  /** It can have 16 bits a channel. */
  isDeep: boolean;
}

export const FILE_KINDS: readonly FileKind[] = [
  { type: 'image/jpeg', label: 'JPEG', extension: '.jpg', isLossy: true, isDeep: false },
  { type: 'image/png', label: 'PNG', extension: '.png', isLossy: false, isDeep: true },
  { type: 'image/tiff', label: 'TIFF', extension: '.tif', isLossy: false, isDeep: true },
  { type: 'image/webp', label: 'WebP', extension: '.webp', isLossy: true, isDeep: false },
  { type: 'image/avif', label: 'AVIF', extension: '.avif', isLossy: true, isDeep: false },
];

/** The kind that is written as a type of file; the first where none is. */
export function fileKindOf(type: string): FileKind {
  return FILE_KINDS.find((kind) => kind.type === type) ?? FILE_KINDS[0]!;
}
