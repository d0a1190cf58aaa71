import { BLOCKS, type BlockName, type BlockValues, type Kernels } from '../kernels';
import { Heap } from './heap';

/** Writes a block of parameters to an address. */
export function writeBlock<N extends BlockName>(
  heap: Heap,
  at: number,
  name: N,
  values: BlockValues<N>,
): void {
  let word = at;
  for (const [field, type] of FIELDS[name]) {
    const value = values[field as keyof BlockValues<N>];
    if (type === 'f32') heap.setFloat32(word, value);
    else heap.setInt32(word, value);
    word += 4;
  }
}

const FIELDS = Object.fromEntries(
  Object.entries(BLOCKS).map(([name, fields]) => [name, Object.entries(fields)]),
) as Record<BlockName, [string, string][]>;

/** What a worker has to work with. */
export class KernelContext {
  readonly heap: Heap;

  /** @param room address of `BLOCK_BYTES` that are this worker's own: where it is alone, those before all that an `Arena` lays out. */
  constructor(
    readonly kernels: Kernels,
    memory: WebAssembly.Memory,
    private readonly room = 0,
  ) {
    this.heap = new Heap(memory);
  }

  /** Writes the parameters of the kernel that is called next; gives their address. They stand until the next are written. */
  parameters<N extends BlockName>(name: N, values: BlockValues<N>): number {
    writeBlock(this.heap, this.room, name, values);
    return this.room;
  }
}
