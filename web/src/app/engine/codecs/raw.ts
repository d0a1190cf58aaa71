import { type RawLibrary, type RawOptions, developRaw, rawReason, sizeProblem } from '@hazy-lens/core';
import { takeBuffer } from '../buffer-pool';
import { FileError, decoderError, notOpened } from './errors';
import type { DecodedPicture } from './messages';
import { filesWords } from '../../words/files';

/** A raw file, developed with white balance as shot, 16 bits. @throws FileError with a sentence that names the file. */
export function decodeRawFile(
  library: RawLibrary,
  bytes: Uint8Array,
  name: string,
  free: SharedArrayBuffer[],
  { isWide, onPreview }: Omit<RawOptions, 'check'>,
): DecodedPicture {
  try {
    const check: RawOptions['check'] = (found) => {
      const problem = sizeProblem(found);
      if (problem) throw notOpened(name, problem);
    };
    const { samples, ...developed } = developRaw(library, bytes, { isWide, check, onPreview });
    const { width, height } = developed;
    const size = width * height * 8;
    const pixels = takeBuffer(free, size) ?? new SharedArrayBuffer(size);
    const out = new Uint16Array(pixels);
    for (let i = 0, from = 0; i < out.length; i += 4, from += 3) {
      out[i] = samples[from]!;
      out[i + 1] = samples[from + 1]!;
      out[i + 2] = samples[from + 2]!;
      out[i + 3] = 65535;
    }
    const profile = isWide ? filesWords.displayP3 : null;
    const about = { type: 'raw', bits: 16, profile, pages: 1 };
    return { ...developed, pixels, format: { channels: 4, bytes: 2 }, parts: null, about };
  } catch (error) {
    if (error instanceof FileError) throw error;
    throw decoderError(name, 'raw', rawReason(error));
  }
}
