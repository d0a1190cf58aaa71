import { Injectable } from '@angular/core';
import type { RenderTask, TaskRunner, Threads } from '@hazy-lens/core';
import { builtFiles } from './built-files';

/** Threads of this page: as many as there are cores, up to eight. */
const threadCount = (): number => Math.max(1, Math.min(8, navigator.hardwareConcurrency || 2));

/** Render workers of this page, one per core; a failed task says why. */
@Injectable({ providedIn: 'root' })
export class RenderPool implements Threads {
  readonly runners: readonly TaskRunner[];
  readonly module: Promise<WebAssembly.Module>;

  constructor() {
    this.module = WebAssembly.compileStreaming(fetch(builtFiles().kernels));
    this.runners = Array.from({ length: threadCount() }, () =>
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
  let failure: Error | null = null;
  worker.onerror = (event) => {
    failure = new Error(event.message || 'a render worker stopped; please reload the page');
    for (const { reject } of waiting.splice(0)) reject(failure);
  };
  return (task: RenderTask) =>
    new Promise((resolve, reject) => {
      if (failure) return reject(failure);
      waiting.push({ resolve, reject });
      worker.postMessage(task);
    });
}
