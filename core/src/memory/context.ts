import type { Kernels } from '../kernels';
import type { Heap } from './heap';

/** What a worker has to work with. */
export interface Use {
  kernels: Kernels;
  heap: Heap;
}
