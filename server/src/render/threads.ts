import { Worker } from 'node:worker_threads';
import type { RenderTask, TaskRunner } from '@hazy-lens/core';

export interface Threads {
  runners: TaskRunner[];
  close(): Promise<void>;
}

/** Starts so many threads, each with a render worker inside. */
export function startThreads(count: number): Threads {
  const workers = Array.from(
    { length: count },
    () => new Worker(new URL('./render-thread.mjs', import.meta.url)),
  );
  const runners = workers.map((worker) => {
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
  });
  return {
    runners,
    close: async () => void (await Promise.all(workers.map((worker) => worker.terminate()))),
  };
}
