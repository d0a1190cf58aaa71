import { FileError, decoderError, notOpened } from './sentences';
import { type HeifLibrary, type HeifPixels, profileInBoxes, sizeProblem } from '@hazy-lens/core';

export interface HeicPixels {
  data: Uint8Array;
  width: number;
  height: number;
  profile: Uint8Array | null;
  pages: number;
}

/** The first picture of a HEIC file, upright, 8 bits RGBA in the file's own colours. */
export async function decodeHeic(heif: HeifLibrary, bytes: Uint8Array, name: string): Promise<HeicPixels> {
  try {
    const pictures = new heif.HeifDecoder().decode(bytes);
    const first = pictures[0];
    if (!first) throw decoderError(name, 'heic', 'no picture can be found in it');
    const [width, height] = [first.get_width(), first.get_height()];
    const problem = sizeProblem({ width, height });
    if (problem) throw notOpened(name, problem);
    const target = { data: new Uint8ClampedArray(width * height * 4), width, height };
    const filled = await new Promise<HeifPixels | null>((resolve) => first.display(target, resolve));
    if (!filled) throw decoderError(name, 'heic', 'its picture cannot be decoded');
    const { data } = filled;
    return {
      data: new Uint8Array(data.buffer, data.byteOffset, data.byteLength),
      width,
      height,
      profile: profileInBoxes(bytes),
      pages: pictures.length,
    };
  } catch (error) {
    if (error instanceof FileError) throw error;
    throw decoderError(name, 'heic', (error as Error).message);
  }
}
