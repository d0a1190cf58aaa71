import { FileError, decoderError, notOpened } from './errors';
import {
  type HeifDecoded,
  type HeifHandle,
  sharedSamples,
  type HeifError,
  type HeifLibrary,
  type HeifPixels,
  profileInBoxes,
  sizeProblem,
} from '@hazy-lens/core';
import type { DecodedGrey } from './messages';
import { filesWords } from '../../words/files';

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
    if (!first) throw decoderError(name, 'heic', filesWords.noPictureCanBeFound);
    const [width, height] = [first.get_width(), first.get_height()];
    const problem = sizeProblem({ width, height });
    if (problem) throw notOpened(name, problem);
    const target = { data: new Uint8ClampedArray(width * height * 4), width, height };
    const filled = await new Promise<HeifPixels | null>((resolve) => first.display(target, resolve));
    if (!filled) throw decoderError(name, 'heic', filesWords.itsPictureCantBeDecoded);
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

/** A grey picture of a HEIC file, by its number, which may be one that is auxiliary to another. */
export async function decodeHeicGrey(
  heif: HeifLibrary,
  bytes: Uint8Array,
  name: string,
  item: number,
): Promise<DecodedGrey> {
  const orError = <T extends object>(result: T | HeifError): T => {
    if ('message' in result && 'code' in result) throw decoderError(name, 'heic', result.message);
    return result as T;
  };
  const context = heif.heif_context_alloc();
  let handle: HeifHandle | null = null;
  try {
    heif.heif_context_read_from_memory(context, bytes);
    handle = orError(heif.heif_js_context_get_image_handle(context, item));
    const [width, height] = [
      heif.heif_image_handle_get_width(handle),
      heif.heif_image_handle_get_height(handle),
    ];
    const problem = sizeProblem({ width, height });
    if (problem) throw notOpened(name, problem);
    const { heif_colorspace_monochrome: grey } = heif.heif_colorspace;
    const { heif_chroma_monochrome: plain } = heif.heif_chroma;
    const decoded = orError(await heif.heif_js_decode_image2(handle, grey, plain));
    const samples = samplesOf(decoded);
    heif.heif_image_release(decoded.image);
    return { ...samples, fromColour: false };
  } finally {
    if (handle) heif.heif_image_handle_release(handle);
    heif.heif_context_free(context);
  }
}

/** The first channel of a decoded picture, as 16 bits. */
function samplesOf({ channels }: HeifDecoded): Omit<DecodedGrey, 'fromColour'> {
  const { width, height, stride, data, bits_per_pixel: bits } = channels[0]!;
  const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
  const isDeep = bits > 8;
  const scale = 65535 / (2 ** bits - 1);
  const samples = sharedSamples(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const value = isDeep ? view.getUint16(y * stride + 2 * x, true) : data[y * stride + x]!;
      samples[y * width + x] = Math.round(value * scale);
    }
  return { width, height, samples };
}
