import type { RenderTask, TaskRunner } from '@hazy-lens/core';

/** Render workers of this page, one per core; a failed task says why. */
export class RenderPool {
  readonly runners: readonly TaskRunner[];
  readonly module: Promise<WebAssembly.Module>;

  constructor(count = Math.max(1, Math.min(8, navigator.hardwareConcurrency || 2))) {
    this.module = WebAssembly.compileStreaming(fetch('kernels.wasm'));
    this.runners = Array.from({ length: count }, () =>
      threadRunner(new Worker(new URL('./render.worker', import.meta.url), { type: 'module' })),
    );
  }
}

/** The only place where messages to and from a render worker are written and read; answers come in order. */
function threadRunner(worker: Worker): TaskRunner {
  const waiting: { resolve: () => void; reject: (reason: Error) => void }[] = [];
  worker.onmessage = ({ data }: MessageEvent<string | null>) => {
    const first = waiting.shift();
    if (data === null) first?.resolve();
    else first?.reject(new Error(data));
  };
  worker.onerror = (event) => {
    for (const { reject } of waiting.splice(0))
      reject(new Error(event.message || 'A render worker stopped.'));
  };
  return (task: RenderTask) =>
    new Promise((resolve, reject) => {
      waiting.push({ resolve, reject });
      worker.postMessage(task);
    });
}
