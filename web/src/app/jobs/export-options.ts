import { type ExportSettings, type Metadata, type Size, exportSize } from '@hazy-lens/core';
import type { ExportOptions } from '../engine/export';

/** Options of a picture that is written by settings. @param picture what a crop leaves of it. @param of what its source says of itself. */
export function exportOptions(settings: ExportSettings, picture: Size, of: Metadata): ExportOptions {
  const { kind, quality, bits, chroma, space, size, sharpening, metadata } = settings;
  return {
    ...exportSize(picture, size),
    type: `image/${kind}`,
    quality: quality / 100,
    bits,
    chroma,
    space,
    sharpening,
    notes: { of, choice: metadata },
  };
}
