import { Injectable } from '@angular/core';
import type { TaskRunner, Threads } from '@hazy-lens/core';
import { builtFiles } from './built-files';
import { renderThread } from './render-thread';

/** Threads of this page: as many as there are cores, up to eight. */
const threadCount = (): number => Math.max(1, Math.min(8, navigator.hardwareConcurrency || 2));

/** Threads of this page that render, one per core. */
@Injectable({ providedIn: 'root' })
export class RenderPool implements Threads {
  readonly runners: readonly TaskRunner[];
  readonly module: Promise<WebAssembly.Module>;

  constructor() {
    this.module = WebAssembly.compileStreaming(fetch(builtFiles().kernels));
    this.runners = Array.from({ length: threadCount() }, () =>
      renderThread(() => new Worker(new URL('./render.worker', import.meta.url), { type: 'module' })),
    );
  }
}
