import { readFile } from 'node:fs/promises';
import { Worker } from 'node:worker_threads';
import type { RenderTask, TaskRunner, Threads } from '@hazy-lens/core';

export interface WorkerThreads extends Threads {
  close(): Promise<void>;
}

/** Starts so many threads, each with a render worker inside. @param built where the built program lies. */
export async function startThreads(
  count: number,
  built = new URL('./', import.meta.url),
): Promise<WorkerThreads> {
  const module = await WebAssembly.compile(await readFile(new URL('kernels.wasm', built)));
  const workers = Array.from({ length: count }, () => new Worker(new URL('render-thread.mjs', built)));
  return {
    module,
    runners: workers.map(taskRunner),
    close: async () => void (await Promise.all(workers.map((worker) => worker.terminate()))),
  };
}

/** Answers come in the order of the tasks. */
function taskRunner(worker: Worker): TaskRunner {
  const waiting: { resolve: () => void; reject: (reason: Error) => void }[] = [];
  worker.on('message', (error: string | null) => {
    const { resolve, reject } = waiting.shift()!;
    if (error === null) resolve();
    else reject(new Error(error));
  });
  worker.on('error', (error) => waiting.splice(0).forEach(({ reject }) => reject(error)));
  return (task: RenderTask): Promise<void> =>
    new Promise((resolve, reject) => {
      waiting.push({ resolve, reject });
      worker.postMessage(task);
    });
}
