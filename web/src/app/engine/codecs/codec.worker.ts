import '../memory-stand-in';
import {
  type HeifLibrary,
  type Metadata,
  type RawLibrary,
  type RawPreview,
  RecipeError,
  exportedMetadata,
  insertMetadata,
  readRecipe,
  sharpenForOutput,
  shrunk,
  stillFormatOf,
  tagSrgb,
  textOf,
  threadsShareMemory,
} from '@hazy-lens/core';
import { type Libraries, decodeFile, decodeGreyFile } from './decode';
import type { CodecMessage, CodecRequest, CodecResults, CodecTask, EncodeOptions } from './messages';
import { decodeByBrowser } from './native-decode';
import { type Library, encodeByVips } from './vips';
import { unzip } from './zip';
import { imageDataOf } from '../image-data';
import { NOT_WRITTEN_HERE } from './errors';
import { sentenceOf } from '../../model/causes';

const ROWS = 512;

const post = (message: CodecMessage): void => postMessage(message);
const progress = (done: number | null = null): void => post({ kind: 'progress', done });

const preview = (found: RawPreview): void => post({ kind: 'preview', preview: found });

addEventListener('message', async ({ data }: MessageEvent<CodecRequest | { cmd?: unknown }>) => {
  // The library's own threads send messages here too.
  if (!('task' in data)) return;
  progress();
  try {
    post({ kind: 'done', value: await carryOut(data.task) });
  } catch (error) {
    // What is wrong with a recipe begins with the name of a field, as it is written.
    const message = error instanceof RecipeError ? error.message : sentenceOf(error);
    post({ kind: 'failed', message });
  }
  for (const cleanUp of cleanUps) cleanUp();
});

/** Of each library that was started, what frees all that the last task left in it. */
const cleanUps = new Set<() => void>();

/** What the library has beside what its types say: handles can be freed all at once. */
interface AutoDelete {
  setAutoDeleteLater(on: boolean): void;
  setDelayFunction(take: (cleanUp: () => void) => void): void;
}

/** The compiled library, which the page has for all workers. */
function fromThePage(): Promise<WebAssembly.Module> {
  return new Promise((resolve) => {
    addEventListener('message', function hear({ data }: MessageEvent<CodecRequest | { cmd?: unknown }>) {
      if (!('vips' in data)) return;
      removeEventListener('message', hear);
      resolve(data.vips);
    });
    post({ kind: 'library' });
  });
}

/** The libraries lie beside this script. */
function librariesBeside(): Libraries {
  let compiled: Promise<WebAssembly.Module> | null = null;
  const beside = (name: string): string => new URL(name, import.meta.url).href;
  const started = new Map<boolean, Promise<Library>>();
  const startVips = async (withAvif: boolean): Promise<Library> => {
    const module = await (compiled ??= fromThePage());
    const { default: start } = (await import(beside('vips-es6.js'))) as {
      default: (config: object) => Promise<Library>;
    };
    return start({
      // Its warnings say no more than the errors, which are told.
      printErr: () => undefined,
      dynamicLibraries: withAvif ? ['vips-heif.wasm'] : [],
      instantiateWasm: (
        imports: WebAssembly.Imports,
        done: (instance: WebAssembly.Instance, module: WebAssembly.Module) => void,
      ) => {
        void WebAssembly.instantiate(module, imports).then((instance) => done(instance, module));
        return {};
      },
      preRun: (library: AutoDelete) => {
        library.setAutoDeleteLater(true);
        library.setDelayFunction((cleanUp) => cleanUps.add(cleanUp));
      },
    });
  };
  const vips = (withAvif: boolean): Promise<Library> => {
    const starting = started.get(withAvif) ?? startVips(withAvif);
    started.set(withAvif, starting);
    return starting;
  };
  return {
    vips: threadsShareMemory() ? vips : null,
    async heif() {
      const { default: start } = (await import(beside('libheif-bundle.mjs'))) as {
        default: () => HeifLibrary;
      };
      return start();
    },
    async raw() {
      const { default: start } = (await import(beside('libraw.js'))) as {
        default: (config: object) => Promise<RawLibrary>;
      };
      // What it says is in its errors, too.
      return start({ print: () => undefined, printErr: () => undefined });
    },
    plain: decodeByBrowser,
  };
}

const libraries = librariesBeside();

async function carryOut(task: CodecTask): Promise<CodecResults[keyof CodecResults]> {
  switch (task.kind) {
    case 'picture': {
      const { file, name, gamut, free } = task;
      const decoded = await decodeFile(libraries, await bytesOf(file), name, progress, free, gamut, preview);
      return { decoded, free };
    }
    case 'grey':
      return decodeGreyFile(libraries, await bytesOf(task.file), task.name, progress, task.item);
    case 'unzip': {
      const files = unzip(await bytesOf(task.file), task.options, progress);
      return new Map([...files].map(([name, content]) => [name, new Blob([content])]));
    }
    case 'recipe':
      return readRecipe(textOf(await bytesOf(task.file)));
    case 'encode':
      return encode(task.pixels, task.options);
  }
}

async function bytesOf(file: Blob): Promise<Uint8Array<ArrayBuffer>> {
  return new Uint8Array(await file.arrayBuffer());
}

async function encode(pixels: Uint8Array, options: EncodeOptions): Promise<Blob> {
  const { type, format, sharpening } = options;
  if (sharpening) {
    const { buffer, byteOffset, length } = pixels;
    const samples = format.bytes === 1 ? pixels : new Uint16Array(buffer, byteOffset, length / 2);
    sharpenForOutput(samples, format, options, sharpening.haze, sharpening.amount);
    progress();
  }
  const metadata = await metadataFor(pixels, options);
  if (format.bytes === 1 && (libraries.vips ? isAsGood(options) : stillFormatOf(type).isOfBrowsers)) {
    const own = await encodeByBrowser(pixels, options);
    if (own) return asBlob(insertMetadata(own, metadata), type);
  }
  if (!libraries.vips) throw new Error(NOT_WRITTEN_HERE);
  const vips = await libraries.vips(type === 'image/avif');
  const file = encodeByVips(vips, pixels, options, metadata, progress);
  // In an AVIF it lies among the pictures: the library puts it there.
  return asBlob(type === 'image/avif' ? file : insertMetadata(file, metadata), type);
}

/** True where a browser’s file is as good: it halves the chroma of each JPEG, and gives each PNG a channel for what is transparent. */
function isAsGood({ type, chroma, isTransparent, space }: EncodeOptions): boolean {
  if (space !== 'srgb') return false;
  return (
    type === 'image/webp' ||
    (type === 'image/png' && isTransparent) ||
    (type === 'image/jpeg' && chroma !== '444')
  );
}

const asBlob = (file: Uint8Array, type: string): Blob =>
  new Blob([file as Uint8Array<ArrayBuffer>], { type });

/** Longest edge of the small picture in an EXIF block (Exif 2.32, 4.5.5 has 160 x 120). */
const THUMBNAIL_EDGE = 160;

/** What goes along, with a small picture of the result. */
async function metadataFor(pixels: Uint8Array, options: EncodeOptions): Promise<Metadata> {
  const { notes, width, height, format } = options;
  if (!notes.of.exif && notes.of.xmp === null) return notes.of;
  const small = shrunk(pixels, format, { width, height }, THUMBNAIL_EDGE);
  const canvas = new OffscreenCanvas(small.width, small.height);
  const image = new ImageData(Uint8ClampedArray.from(small.data), small.width, small.height);
  canvas.getContext('2d', { alpha: false })!.putImageData(image, 0, 0);
  const thumbnail = await bytesOf(await canvas.convertToBlob({ type: 'image/jpeg', quality: 0.8 }));
  return exportedMetadata(notes.of, { width, height, thumbnail }, notes.choice);
}

/** The file as the browser itself writes it; null where it doesn’t write the kind. */
async function encodeByBrowser(
  pixels: Uint8Array,
  { width, height, type, quality, isTransparent, space }: EncodeOptions,
): Promise<Uint8Array | null> {
  const canvas = new OffscreenCanvas(width, height);
  const colorSpace = space === 'display-p3' ? space : 'srgb';
  const context = canvas.getContext('2d', { alpha: isTransparent, willReadFrequently: true, colorSpace })!;
  for (let y = 0; y < height; y += ROWS) {
    const rows = Math.min(ROWS, height - y);
    const band = imageDataOf(null, width, rows, colorSpace);
    band.data.set(pixels.subarray(y * width * 4, (y + rows) * width * 4));
    context.putImageData(band, 0, y);
    progress((y + rows) / height / 2);
  }
  const file = await canvas.convertToBlob({ type, quality });
  // A browser that can’t write the kind makes a PNG.
  if (file.type !== type) return null;
  const bytes = await bytesOf(file);
  // Browsers say of what colours JPEG and WebP are, and leave PNG without a word.
  return colorSpace === 'srgb' ? tagSrgb(bytes) : bytes;
}
