const PAGE = 65536;

/**
 * False in a page whose threads share no memory: the name `SharedArrayBuffer` stands for plain memory there, and kernels
 * are those of `withPlainMemory`.
 */
export const threadsShareMemory = (): boolean => (SharedArrayBuffer as unknown) !== ArrayBuffer;

/** A memory of at least `bytes`, as the kernels want it. Throws a RangeError where the machine has too little. */
export function createMemory(bytes: number): WebAssembly.Memory {
  const pages = Math.max(1, Math.ceil(bytes / PAGE));
  if (pages > 65536) throw new RangeError('The picture needs more memory than a page may use (4 GiB).');
  return new WebAssembly.Memory({ initial: pages, maximum: pages, shared: threadsShareMemory() });
}

/** The memory as numbers; each accessor takes an address. */
export class Heap {
  readonly bytes: Uint8Array;
  private readonly floats: Float32Array;
  private readonly words: Int32Array;

  constructor(readonly memory: WebAssembly.Memory) {
    this.bytes = new Uint8Array(memory.buffer);
    this.floats = new Float32Array(memory.buffer);
    this.words = new Int32Array(memory.buffer);
  }

  setFloats(at: number, values: ArrayLike<number>): void {
    this.floats.set(values, at / 4);
  }

  setFloat32(at: number, value: number): void {
    this.floats[at / 4] = value;
  }

  fillFloats(at: number, count: number, value: number): void {
    this.floats.fill(value, at / 4, at / 4 + count);
  }

  floatsAt(at: number, count: number): Float32Array {
    return this.floats.subarray(at / 4, at / 4 + count);
  }

  /** Writes addresses or other whole numbers, four bytes each. */
  setInt32(at: number, value: number): void {
    this.words[at / 4] = value;
  }

  int32(at: number): number {
    return this.words[at / 4]!;
  }

  copy(to: number, from: number, count: number): void {
    this.bytes.copyWithin(to, from, from + count);
  }

  /** Adds one to a word that other threads watch. */
  atomicAdd(at: number): void {
    Atomics.add(this.words, at / 4, 1);
  }
}
