/**
 * The hot loops, compiled from `core/kernels` to WebAssembly SIMD. All take byte offsets into the memory the kernels
 * were given; nothing is allocated inside, so any number of workers may share one memory.
 */
export interface Kernels {
  decodeRow(
    source: number,
    channels: number,
    bytes: number,
    table: number,
    out: number,
    plane: number,
    n: number,
  ): void;
  // prettier-ignore
  encodeRow8(row: number, plane: number, level: number, neutral: boolean, source: number, channels: number, out: number, n: number, px: number, py: number): void;
  // prettier-ignore
  encodeRow16(row: number, plane: number, level: number, neutral: boolean, source: number, channels: number, out: number, n: number): void;
  mirrorRow(row: number, plane: number, n: number, left: number, right: number): void;
  weighRows(rows: number, taps: number, count: number, out: number, n: number): void;
  blurRow(
    row: number,
    plane: number,
    taps: number,
    radius: number,
    out: number,
    outPlane: number,
    n: number,
  ): void;
  halveRow(
    row: number,
    plane: number,
    taps: number,
    half: number,
    out: number,
    outPlane: number,
    n: number,
  ): void;
  // prettier-ignore
  resampleRow(row: number, plane: number, first: number, weights: number, count: number, out: number, outPlane: number, n: number): void;
  startField(out: number, n: number, rest: number): void;
  bandRow(out: number, n: number, distances: number, start: number, step: number, band: number): void;
  ellipseRow(out: number, n: number, p0: number, pStep: number, q0: number, qStep: number): void;
  // prettier-ignore
  irisRow(out: number, n: number, p0: number, pStep: number, q0: number, qStep: number, rim: number): void;
  // prettier-ignore
  soundingsRow(out: number, n: number, x: number, step: number, y: number, list: number, count: number, softening: number): void;
  // prettier-ignore
  inkRow(cover: number, n: number, px: number, py: number, dx: number, dy: number, inverse: number, radius: number, radiusStep: number, strength: number, strengthStep: number, softness: number): void;
  foldRow(gain: number, lift: number, cover: number, n: number, mode: number): void;
  overlayRow(field: number, gain: number, lift: number, cover: number, n: number, mode: number): void;
  keepRow(field: number, keep: number, n: number): void;
  keepChanged(row: number, kept: number, n: number): number;
  levelRow(row: number, n: number, scale: number, range: number): void;
  hazeMapRow(row: number, n: number, ramp: number, out: number): void;
  mixRow(level: number, n: number, table: number, out: number, plane: number): void;
  saturateRow(row: number, plane: number, n: number, amount: number): void;
}

const PAGE = 65536;

/** A shared memory of at least `bytes`, as the kernels want it. Throws a RangeError where the machine has too little. */
export function createMemory(bytes: number): WebAssembly.Memory {
  const pages = Math.max(1, Math.ceil(bytes / PAGE));
  if (pages > 65536) throw new RangeError('The picture needs more memory than a page may use (4 GiB).');
  return new WebAssembly.Memory({ initial: pages, maximum: pages, shared: true });
}

/** The bytes of a memory made by `createMemory`. */
export function sharedBuffer(memory: WebAssembly.Memory): SharedArrayBuffer {
  // The standard library's types know no shared memories.
  return memory.buffer as unknown as SharedArrayBuffer;
}

export async function instantiateKernels(
  module: WebAssembly.Module,
  memory: WebAssembly.Memory,
): Promise<Kernels> {
  const abort = (): never => {
    throw new Error('A kernel stopped.');
  };
  const instance = await WebAssembly.instantiate(module, { env: { memory, abort } });
  return instance.exports as unknown as Kernels;
}
