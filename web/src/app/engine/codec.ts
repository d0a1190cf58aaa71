export interface DecodedPicture {
  pixels: SharedArrayBuffer;
  width: number;
  height: number;
  /** Kind of file by its content: jpeg, png, webp, avif, gif or tiff. */
  type: string;
}

export interface EncodeOptions {
  width: number;
  height: number;
  type: 'image/png' | 'image/jpeg' | 'image/webp';
  /** 0..1, for the kinds that lose something. */
  quality: number;
}

export type CodecTask =
  | { kind: 'decode'; file: Blob; name: string }
  | { kind: 'encode'; pixels: SharedArrayBuffer; offset: number; options: EncodeOptions };

export type CodecAnswer = { ok: true; value: DecodedPicture | Blob } | { ok: false; message: string };

/** Runs one task in a worker of its own, which ends with it; aborting ends it at once. */
async function inWorker<T>(task: CodecTask, signal?: AbortSignal): Promise<T> {
  signal?.throwIfAborted();
  const worker = new Worker(new URL('./codec.worker', import.meta.url), { type: 'module' });
  try {
    return await new Promise<T>((resolve, reject) => {
      signal?.addEventListener('abort', () => reject(signal.reason as Error));
      worker.onerror = (event) =>
        reject(new Error(event.message || 'There was not enough memory for this picture.'));
      worker.onmessage = ({ data }: MessageEvent<CodecAnswer>) =>
        data.ok ? resolve(data.value as T) : reject(new Error(data.message));
      worker.postMessage(task);
    });
  } finally {
    worker.terminate();
  }
}

/** Pixels of a file; its errors are sentences that name the file. */
export function decodeFile(file: Blob, name: string): Promise<DecodedPicture> {
  return inWorker({ kind: 'decode', file, name });
}

export function encodePixels(
  pixels: SharedArrayBuffer,
  offset: number,
  options: EncodeOptions,
  signal?: AbortSignal,
): Promise<Blob> {
  return inWorker({ kind: 'encode', pixels, offset, options }, signal);
}
