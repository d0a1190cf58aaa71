import { SharedRenderer, type Threads } from '@hazy-lens/core';

/** An export and the small pictures beside it. */
const MOST_IDLE = 2;
/** Between two pictures of many a renderer waits less than this. */
const IDLE_MS = 5000;

/**
 * Renderers that have done their work, and their memory, for the next that is rendered: shared memory does not count for
 * a browser's garbage collector, which leaves it lying for hundreds of pictures. Those that nobody takes are closed.
 */
export class IdleRenderers {
  private readonly waiting: { renderer: SharedRenderer; timer: ReturnType<typeof setTimeout> }[] = [];

  constructor(private readonly threads: Threads) {}

  /** A renderer for one use; nobody else has it until it is given back. */
  take(): SharedRenderer {
    const last = this.waiting.pop();
    clearTimeout(last?.timer);
    return last?.renderer ?? new SharedRenderer(this.threads);
  }

  give(renderer: SharedRenderer): void {
    const timer = setTimeout(() => this.close(renderer), IDLE_MS);
    this.waiting.push({ renderer, timer });
    if (this.waiting.length > MOST_IDLE) this.close(this.waiting[0]!.renderer);
  }

  private close(renderer: SharedRenderer): void {
    const i = this.waiting.findIndex((one) => one.renderer === renderer);
    clearTimeout(this.waiting[i]!.timer);
    this.waiting.splice(i, 1);
    void renderer.close();
  }
}
