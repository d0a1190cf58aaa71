import type {
  CodecMessage,
  CodecOrder,
  CodecResults,
  CodecTask,
  DecodedGrey,
  DecodedPicture,
  EncodeOptions,
} from './messages';
import { builtFiles } from '../built-files';
import { FreePixels } from '../free-pixels';
import { Idle } from '../idle';
import { stuck } from './sentences';

/** A codec that says nothing for so long is ended. */
const PATIENCE_MS = 10_000;
/** Writing says little while it works; a file that is written is not hostile. */
const WRITING_PATIENCE_MS = 300_000;

let library: Promise<WebAssembly.Module> | null = null;

/** The codec library, compiled once for all workers; tried anew after it could not be had. */
function compiled(): Promise<WebAssembly.Module> {
  library ??= WebAssembly.compileStreaming(fetch(`${builtFiles().codecs}/vips.wasm`)).catch(
    (error: Error) => {
      library = null;
      throw new Error(`The part of Hazy Lens that reads pictures cannot be reached (${error.message}).`);
    },
  );
  return library;
}

/** What has done its task well waits for the next: to start the library takes longer than to read most pictures. */
const workers = new Idle(
  () => new Worker(`${builtFiles().codecs}/codec-worker.js`, { type: 'module' }),
  (worker) => worker.terminate(),
);

/** Runs one task in a worker of its own, which is ended when it fails, is aborted, or makes no progress. */
async function inWorker<K extends CodecTask['kind']>(
  task: CodecTask & { kind: K },
  name: string,
  signal?: AbortSignal,
  onProgress?: (done: number) => void,
): Promise<CodecResults[K]> {
  signal?.throwIfAborted();
  const worker = workers.take();
  const patience = task.kind === 'encode' ? WRITING_PATIENCE_MS : PATIENCE_MS;
  let watch: ReturnType<typeof setTimeout> | undefined;
  try {
    const result = await new Promise<CodecResults[K]>((resolve, reject) => {
      const wait = (): void => {
        clearTimeout(watch);
        watch = setTimeout(() => reject(stuck(name, patience / 1000)), patience);
      };
      wait();
      signal?.addEventListener('abort', () => reject(signal.reason as Error));
      worker.onerror = (event) =>
        reject(new Error(event.message || `There was not enough memory for “${name}”.`));
      worker.onmessage = ({ data }: MessageEvent<CodecMessage>) => {
        if (data.kind === 'progress') {
          wait();
          if (data.done !== null) onProgress?.(data.done);
        } else if (data.kind === 'library') {
          clearTimeout(watch);
          compiled().then((vips) => {
            wait();
            worker.postMessage({ vips } satisfies CodecOrder);
          }, reject);
        } else if (data.kind === 'done') resolve(data.value as CodecResults[K]);
        else if (data.kind === 'failed') reject(new Error(data.message));
      };
      worker.postMessage({ task } satisfies CodecOrder);
    });
    workers.give(worker);
    return result;
  } catch (error) {
    worker.terminate();
    throw error;
  } finally {
    clearTimeout(watch);
  }
}

/** Pixels of a file, in memory that is `free` where it has the size; its errors are sentences that name the file. */
export async function decodeFile(file: Blob, name: string, free = new FreePixels()): Promise<DecodedPicture> {
  const done = await inWorker({ kind: 'picture', file, name, free: free.takeAll() }, name);
  free.give(...done.free);
  return done.decoded;
}

/** A depth map or a matte; its errors are sentences that name the file. */
export function decodeGrey(file: Blob, name: string): Promise<DecodedGrey> {
  return inWorker({ kind: 'grey', file, name }, name);
}

/** The files in a zip; its errors are sentences. */
export function unzipFile(file: File, mostBytes: number): Promise<Map<string, Blob>> {
  return inWorker({ kind: 'unzip', file, mostBytes }, file.name);
}

/** @param pixels in shared memory. @param onProgress hears the share that is written, 0..1. @throws the signal's reason. */
export function encodePixels(
  pixels: Uint8Array,
  options: EncodeOptions,
  signal?: AbortSignal,
  onProgress?: (done: number) => void,
): Promise<Blob> {
  return inWorker({ kind: 'encode', pixels, options }, 'the export', signal, onProgress);
}
