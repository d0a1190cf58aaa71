import type {
  CodecMessage,
  CodecRequest,
  CodecResults,
  CodecTask,
  DecodedGamut,
  DecodedGrey,
  DecodedPicture,
  EncodeOptions,
  UnzipOptions,
} from './messages';
import { RAW_NAME, type RawPreview, type Recipe } from '@hazy-lens/core';
import { builtFiles } from '../built-files';
import { BufferPool } from '../buffer-pool';
import { ResourcePool } from '../resource-pool';
import { sendable } from '../sendable';
import { LostError, Watch, onceMore } from '../watch';
import { noMemory, timedOut } from './errors';
import { filesWords } from '../../words/files';

/** Seconds in which a codec may say nothing. */
const PATIENCE = 10;
/** A raw file is developed in one go: 3 to 5 s for 24 megapixels. */
const RAW_PATIENCE = 90;
/** Writing says little while it works, AVIF nothing at all; what is written is not hostile. */
const WRITING_PATIENCE = { avif: 300, others: 60 };

const UNREACHABLE = filesWords.thePartOfHazyLens;

let library: Promise<WebAssembly.Module> | null = null;

/** The codec library, compiled once for all workers; tried anew after it could not be had. */
function compiled(): Promise<WebAssembly.Module> {
  library ??= WebAssembly.compileStreaming(fetch(`${builtFiles().codecs}/vips.wasm`)).catch(
    (error: Error) => {
      library = null;
      throw new Error(UNREACHABLE, { cause: error });
    },
  );
  return library;
}

/** What has done its task well waits for the next: to start the library takes longer than to read most pictures. */
const workers = new ResourcePool(
  () => new Worker(`${builtFiles().codecs}/codec-worker.js`, { type: 'module' }),
  (worker) => worker.terminate(),
);

/** What is heard of a file that is being read or written. */
export interface CodecListener {
  /** Hears the share that is done, 0..1, where that is known. */
  onProgress?: ((done: number) => void) | undefined;
  /** Hears of the preview in a raw file. */
  onPreview?: ((preview: RawPreview) => void) | undefined;
}

interface TaskOptions extends CodecListener {
  signal?: AbortSignal | undefined;
}

/** Runs one task in a worker that nobody else has, once more where that is lost; it is ended when it fails or is aborted. */
function inWorker<K extends CodecTask['kind']>(
  task: CodecTask & { kind: K },
  name: string,
  options: TaskOptions = {},
): Promise<CodecResults[K]> {
  return onceMore(() => run<K>(task, name, options));
}

function patienceFor(task: CodecTask): number {
  if (task.kind === 'picture' && RAW_NAME.test(task.name)) return RAW_PATIENCE;
  if (task.kind !== 'encode') return PATIENCE;
  return task.options.type === 'image/avif' ? WRITING_PATIENCE.avif : WRITING_PATIENCE.others;
}

async function run<K extends CodecTask['kind']>(
  task: CodecTask & { kind: K },
  name: string,
  { signal, onProgress, onPreview }: TaskOptions,
): Promise<CodecResults[K]> {
  signal?.throwIfAborted();
  const worker = workers.acquire();
  const patience = patienceFor(task);
  const ended = new AbortController();
  let watch: Watch | undefined;
  try {
    const result = await new Promise<CodecResults[K]>((resolve, reject) => {
      const own = (watch = new Watch(patience, () => reject(new LostError(timedOut(name, patience)))));
      own.begin();
      let isLoaded = false;
      signal?.addEventListener('abort', () => reject(signal.reason as Error), { signal: ended.signal });
      worker.onerror = ({ message }) =>
        reject(new LostError(message || (isLoaded ? noMemory(name) : UNREACHABLE)));
      worker.onmessage = ({ data }: MessageEvent<CodecMessage>) => {
        isLoaded = true;
        own.heard();
        if (data.kind === 'progress') {
          if (data.done !== null) onProgress?.(data.done);
        } else if (data.kind === 'preview') onPreview?.(data.preview);
        else if (data.kind === 'library') {
          own.stop();
          compiled().then((vips) => {
            if (ended.signal.aborted) return;
            own.begin();
            worker.postMessage({ vips } satisfies CodecRequest);
          }, reject);
        } else if (data.kind === 'done') resolve(data.value as CodecResults[K]);
        else if (data.kind === 'failed') reject(new Error(data.message));
      };
      worker.postMessage({ task: sendable(task) } satisfies CodecRequest);
    });
    workers.release(worker);
    return result;
  } catch (error) {
    worker.terminate();
    throw error;
  } finally {
    ended.abort();
    watch?.stop();
  }
}

/** Pixels of a file, in memory that is `free` where it has the size; its errors are sentences that name the file. */
export async function decodeFile(
  file: Blob,
  name: string,
  free = new BufferPool(),
  gamut: DecodedGamut = 'srgb',
  listener: CodecListener = {},
): Promise<DecodedPicture> {
  const task = { kind: 'picture', file, name, gamut, free: free.takeAll() } as const;
  const done = await inWorker(task, name, listener);
  free.give(...done.free);
  return done.decoded;
}

/** A depth map or a matte, in a HEIC file the picture of that number; its errors are sentences that name the file. */
export function decodeGrey(file: Blob, name: string, item?: number): Promise<DecodedGrey> {
  return inWorker({ kind: 'grey', file, name, item }, name);
}

/** The files in a zip; its errors are sentences. */
export function unzipFile(file: File, options: UnzipOptions): Promise<Map<string, Blob>> {
  return inWorker({ kind: 'unzip', file, options }, file.name);
}

/** The recipe in a file of JSON text; its errors are sentences. */
export function readRecipeFile(file: Blob, name: string): Promise<Recipe> {
  return inWorker({ kind: 'recipe', file }, name);
}

/** @param pixels in shared memory. @param onProgress hears the share that is written, 0..1. @throws the signal's reason. */
export function encodePixels(
  pixels: Uint8Array,
  options: EncodeOptions,
  signal?: AbortSignal,
  onProgress?: (done: number) => void,
): Promise<Blob> {
  return inWorker({ kind: 'encode', pixels, options }, filesWords.theExport, { signal, onProgress });
}
