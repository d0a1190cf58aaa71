import { type RawLibrary, developRaw, rawReason, sizeProblem } from '@hazy-lens/core';
import { takeBuffer } from '../buffer-pool';
import { FileError, decoderError, notOpened } from './errors';
import type { DecodedPicture } from './messages';

/** A raw file, developed with white balance as shot: 16 bits, sRGB. @param headroom see `developRaw`. @throws FileError with a sentence that names the file. */
export function decodeRawFile(
  library: RawLibrary,
  bytes: Uint8Array,
  name: string,
  free: SharedArrayBuffer[],
  headroom: boolean,
): DecodedPicture {
  try {
    const { width, height, samples, gain } = developRaw(library, bytes, headroom, (found) => {
      const problem = sizeProblem(found);
      if (problem) throw notOpened(name, problem);
    });
    const size = width * height * 8;
    const pixels = takeBuffer(free, size) ?? new SharedArrayBuffer(size);
    const out = new Uint16Array(pixels);
    for (let i = 0, from = 0; i < out.length; i += 4, from += 3) {
      out[i] = samples[from]!;
      out[i + 1] = samples[from + 1]!;
      out[i + 2] = samples[from + 2]!;
      out[i + 3] = 65535;
    }
    const about = { type: 'raw', bits: 16, profile: null, pages: 1 };
    return {
      pixels,
      format: { channels: 4, bytes: 2 },
      width,
      height,
      primaries: 'srgb',
      gain,
      parts: null,
      about,
    };
  } catch (error) {
    if (error instanceof FileError) throw error;
    throw decoderError(name, 'raw', rawReason(error));
  }
}
