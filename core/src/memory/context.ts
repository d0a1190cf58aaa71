import type { Kernels } from '../kernels';
import type { Heap } from './heap';

/** What a worker has to work with. */
export interface KernelContext {
  kernels: Kernels;
  heap: Heap;
}
