import { instantiateKernels } from '../kernels';
import { KernelContext } from './context';
import { createMemory } from './heap';

/** A memory of one worker's own for work that keeps nothing: it grows with what is asked for. */
export class Scratch {
  private own: KernelContext | null = null;

  async use(module: WebAssembly.Module, bytes: number): Promise<KernelContext> {
    if (!this.own || this.own.heap.bytes.length < bytes) {
      const memory = createMemory(bytes);
      this.own = new KernelContext(await instantiateKernels(module, memory), memory);
    }
    return this.own;
  }
}
