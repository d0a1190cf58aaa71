import { insertExif, tagSrgb } from '@hazy-lens/core';
import { type Libraries, decodeFile, decodeGreyFile } from './decode';
import type { HeifLibrary } from './heic';
import type { CodecMessage, CodecOrder, CodecResults, CodecTask, EncodeOptions } from './messages';
import { decodeByBrowser } from './plain';
import { type Library, encodeByVips } from './vips';
import { unzip } from './zip';

const ROWS = 512;

const post = (message: CodecMessage): void => postMessage(message);
const progress = (done: number | null = null): void => post({ kind: 'progress', done });

addEventListener('message', async ({ data }: MessageEvent<CodecOrder | { cmd?: unknown }>) => {
  // The library's own threads send messages here too.
  if (!('task' in data)) return;
  try {
    post({ kind: 'done', value: await carryOut(data.task) });
  } catch (error) {
    post({ kind: 'failed', message: (error as Error).message });
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
    addEventListener('message', function hear({ data }: MessageEvent<CodecOrder | { cmd?: unknown }>) {
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
  return {
    vips(withAvif) {
      const vips = started.get(withAvif) ?? startVips(withAvif);
      started.set(withAvif, vips);
      return vips;
    },
    async heif() {
      const { default: start } = (await import(beside('libheif-bundle.mjs'))) as {
        default: () => HeifLibrary;
      };
      return start();
    },
    plain: decodeByBrowser,
  };
}

const libraries = librariesBeside();

async function carryOut(task: CodecTask): Promise<CodecResults[keyof CodecResults]> {
  switch (task.kind) {
    case 'picture': {
      const { file, name, free } = task;
      const decoded = await decodeFile(libraries, await bytesOf(file), name, progress, free);
      return { decoded, free };
    }
    case 'grey':
      return decodeGreyFile(libraries, await bytesOf(task.file), task.name, progress);
    case 'unzip': {
      const files = unzip(await bytesOf(task.file), task.mostBytes, progress);
      return new Map([...files].map(([name, content]) => [name, new Blob([content])]));
    }
    case 'encode':
      return encode(task.pixels, task.options);
  }
}

async function bytesOf(file: Blob): Promise<Uint8Array<ArrayBuffer>> {
  return new Uint8Array(await file.arrayBuffer());
}

async function encode(pixels: Uint8Array, options: EncodeOptions): Promise<Blob> {
  const { type, format } = options;
  if (format.bytes === 1 && (type === 'image/jpeg' || type === 'image/webp' || type === 'image/png'))
    return encodeByBrowser(pixels, options);
  const vips = await libraries.vips(type === 'image/avif');
  const file = encodeByVips(vips, pixels, options, progress);
  return new Blob([file as Uint8Array<ArrayBuffer>], { type });
}

async function encodeByBrowser(
  pixels: Uint8Array,
  { width, height, type, quality, isTransparent, exif }: EncodeOptions,
): Promise<Blob> {
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { alpha: isTransparent, willReadFrequently: true })!;
  for (let y = 0; y < height; y += ROWS) {
    const rows = Math.min(ROWS, height - y);
    const band = new ImageData(width, rows);
    band.data.set(pixels.subarray(y * width * 4, (y + rows) * width * 4));
    context.putImageData(band, 0, y);
    progress((y + rows) / height / 2);
  }
  // Browsers say of what colours JPEG and WebP are, and leave PNG without a word.
  const file = tagSrgb(await bytesOf(await canvas.convertToBlob({ type, quality })));
  return new Blob([(exif ? insertExif(file, exif) : file) as Uint8Array<ArrayBuffer>], { type });
}
