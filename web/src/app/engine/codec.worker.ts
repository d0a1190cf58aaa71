import { sizeProblem } from '@hazy-lens/core';
import { imageSize } from 'image-size';
import * as UTIF from 'utif2';
import type { CodecAnswer, CodecTask, DecodedPicture, EncodeOptions } from './codec';

const ROWS = 512;

addEventListener('message', async ({ data }: MessageEvent<CodecTask>) => {
  const answer = (message: CodecAnswer): void => postMessage(message);
  try {
    answer({
      ok: true,
      value:
        data.kind === 'decode'
          ? await decode(data.file, data.name)
          : await encode(data.pixels, data.offset, data.options),
    });
  } catch (error) {
    answer({ ok: false, message: (error as Error).message });
  }
});

/** Decodes a file to upright sRGB RGBA pixels; transparent parts become white. Errors are sentences for the person. */
async function decode(file: Blob, name: string): Promise<DecodedPicture> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  if (bytes.length === 0)
    throw new Error(`“${name}” is empty (0 bytes). Nothing was changed. Please choose the picture again.`);
  const kind = kindOf(bytes);
  if (!kind) {
    throw new Error(
      `“${name}” is not a picture that Hazy Lens can read. It takes JPEG, PNG, WebP, AVIF, TIFF and GIF. Nothing was changed.`,
    );
  }
  if (kind === 'tiff') return decodeTiff(bytes, name);
  const stated = statedSize(bytes);
  const problem = stated && sizeProblem(stated);
  if (problem) throw new Error(`“${name}” was not opened. ${problem}`);
  if (isCutShort(kind, bytes)) throw cutShort(name);
  let bitmap: ImageBitmap;
  try {
    bitmap = await createImageBitmap(file, { imageOrientation: 'from-image' });
  } catch {
    throw new Error(
      `“${name}” is damaged: the picture inside cannot be decoded. Nothing was changed. Please copy it from its source again.`,
    );
  }
  const { width, height } = bitmap;
  const pixels = new SharedArrayBuffer(width * height * 4);
  const out = new Uint8Array(pixels);
  const canvas = new OffscreenCanvas(width, Math.min(ROWS, height));
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  for (let y = 0; y < height; y += ROWS) {
    const rows = Math.min(ROWS, height - y);
    context.fillStyle = '#ffffff';
    context.fillRect(0, 0, width, rows);
    context.drawImage(bitmap, 0, -y);
    out.set(context.getImageData(0, 0, width, rows).data, y * width * 4);
  }
  bitmap.close();
  return { pixels, width, height, type: kind };
}

function decodeTiff(bytes: Uint8Array<ArrayBuffer>, name: string): DecodedPicture {
  try {
    const pages = UTIF.decode(bytes.buffer);
    const page = pages.find((one) => one['t256']) ?? pages[0]!;
    const size = {
      width: Number((page['t256'] as number[])[0]),
      height: Number((page['t257'] as number[])[0]),
    };
    const problem = sizeProblem(size);
    if (problem) throw new Error(`“${name}” was not opened. ${problem}`);
    UTIF.decodeImage(bytes.buffer, page);
    const rgba = UTIF.toRGBA8(page);
    if (rgba.length < size.width * size.height * 4 || !page.data?.length) throw new RangeError();
    const pixels = new SharedArrayBuffer(rgba.length);
    const out = new Uint8Array(pixels);
    for (let i = 0; i < rgba.length; i += 4) {
      const alpha = rgba[i + 3]! / 255;
      for (let c = 0; c < 3; c++) out[i + c] = rgba[i + c]! * alpha + 255 * (1 - alpha);
      out[i + 3] = 255;
    }
    const turn = Number((page['t274'] as number[] | undefined)?.[0] ?? 1);
    return turn > 1 ? upright(out, size, turn) : { pixels, ...size, type: 'tiff' };
  } catch (error) {
    if (error instanceof Error && error.message.startsWith('“')) throw error;
    throw cutShort(name);
  }
}

/** Puts pixels upright by a TIFF orientation tag, 2 to 8 (TIFF 6.0). */
function upright(from: Uint8Array, size: { width: number; height: number }, turn: number): DecodedPicture {
  const swaps = turn >= 5;
  const width = swaps ? size.height : size.width;
  const height = swaps ? size.width : size.height;
  const source = new Uint32Array(from.buffer);
  const pixels = new SharedArrayBuffer(from.length);
  const out = new Uint32Array(pixels);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [u, v] = swaps ? [y, x] : [x, y];
      const sx = [2, 3, 7, 8].includes(turn) ? size.width - 1 - u : u;
      const sy = [3, 4, 6, 7].includes(turn) ? size.height - 1 - v : v;
      out[y * width + x] = source[sy * size.width + sx]!;
    }
  return { pixels, width, height, type: 'tiff' };
}

function kindOf(bytes: Uint8Array): string | null {
  const text = (from: number, count: number): string =>
    String.fromCharCode(...bytes.subarray(from, from + count));
  if (bytes[0] === 0xff && bytes[1] === 0xd8) return 'jpeg';
  if (text(1, 3) === 'PNG') return 'png';
  if (text(0, 4) === 'RIFF' && text(8, 4) === 'WEBP') return 'webp';
  if (text(4, 4) === 'ftyp' && /avif|avis|mif1/.test(text(8, 24))) return 'avif';
  if (text(0, 3) === 'GIF') return 'gif';
  return ['II*\0', 'MM\0*'].includes(text(0, 4)) ? 'tiff' : null;
}

function statedSize(bytes: Uint8Array): { width: number; height: number } | null {
  try {
    return imageSize(bytes);
  } catch {
    return null;
  }
}

/** Browsers draw what is there of a broken JPEG or PNG; a person should know instead. */
function isCutShort(kind: string, bytes: Uint8Array): boolean {
  const has = (...mark: number[]): boolean => {
    for (let i = bytes.length - mark.length; i >= 0; i--)
      if (mark.every((byte, k) => bytes[i + k] === byte)) return true;
    return false;
  };
  if (kind === 'jpeg') return !has(0xff, 0xd9);
  return kind === 'png' && !has(0x49, 0x45, 0x4e, 0x44);
}

function cutShort(name: string): Error {
  return new Error(
    `“${name}” is cut short: the file ends before the picture does. Nothing was changed. Please copy it from its source again.`,
  );
}

async function encode(
  pixels: SharedArrayBuffer,
  offset: number,
  { width, height, type, quality }: EncodeOptions,
): Promise<Blob> {
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { alpha: false, willReadFrequently: true })!;
  for (let y = 0; y < height; y += ROWS) {
    const rows = Math.min(ROWS, height - y);
    const band = new ImageData(width, rows);
    band.data.set(new Uint8Array(pixels, offset + y * width * 4, rows * width * 4));
    context.putImageData(band, 0, y);
  }
  return canvas.convertToBlob({ type, quality });
}
