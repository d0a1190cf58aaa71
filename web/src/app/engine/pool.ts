import { Injectable } from '@angular/core';
import { type TaskRunner, type Threads, threadsShareMemory, withPlainMemory } from '@hazy-lens/core';
import { builtFiles } from './built-files';
import { pageRunner } from './page-runner';
import { renderThread } from './render-thread';

/** Threads of this page: as many as there are cores, up to eight. */
const threadCount = (): number => Math.max(1, Math.min(8, navigator.hardwareConcurrency || 2));

/** Where the page renders by itself, a pass over a whole picture is shared out in so many parts, to stop between them. */
const PAGE_RUNNERS = 8;

async function kernels(): Promise<WebAssembly.Module> {
  const file = fetch(builtFiles().kernels);
  if (threadsShareMemory()) return WebAssembly.compileStreaming(file);
  return WebAssembly.compile(withPlainMemory(new Uint8Array(await (await file).arrayBuffer())));
}

/** Threads of this page that render, one per core; the page itself where they share no memory. */
@Injectable({ providedIn: 'root' })
export class RenderPool implements Threads {
  readonly runners: readonly TaskRunner[];
  readonly module: Promise<WebAssembly.Module>;

  constructor() {
    this.module = kernels();
    this.runners = threadsShareMemory()
      ? Array.from({ length: threadCount() }, () =>
          renderThread(() => new Worker(new URL('./render.worker', import.meta.url), { type: 'module' })),
        )
      : Array.from({ length: PAGE_RUNNERS }, pageRunner);
  }
}
