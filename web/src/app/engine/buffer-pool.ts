import { threadsShareMemory } from '@hazy-lens/core';

/** What may lie ready, in bytes: two pictures of some 60 megapixels. */
const MAX_BYTES = 512_000_000;
/** From one picture of many to the next it takes less than this. */
const IDLE_MS = 5000;

/**
 * Shared memory that pictures no longer need, for the next ones of the same size. Such memory does not count for a
 * browser's garbage collector, which leaves it lying for hundreds of pictures. What nobody takes is let go of.
 */
export class BufferPool {
  private free: SharedArrayBuffer[] = [];
  private timer: ReturnType<typeof setTimeout> | undefined;

  /** Memory of exactly so many bytes; what it holds is of no account. */
  take(bytes: number): SharedArrayBuffer {
    return this.takeIfAny(bytes) ?? new SharedArrayBuffer(bytes);
  }

  /** The same, where there is some. */
  takeIfAny(bytes: number): SharedArrayBuffer | null {
    return takeBuffer(this.free, bytes) ?? null;
  }

  /** All there is, for who does not know yet how much it takes. */
  takeAll(): SharedArrayBuffer[] {
    return this.free.splice(0);
  }

  /** Takes memory that nobody reads any more. */
  give(...buffers: SharedArrayBuffer[]): void {
    // Plain memory is the garbage collector’s, and a worker would be sent a copy of it.
    if (buffers.length === 0 || !threadsShareMemory()) return;
    this.free.push(...buffers);
    let bytes = this.free.reduce((sum, { byteLength }) => sum + byteLength, 0);
    while (bytes > MAX_BYTES) bytes -= this.free.shift()!.byteLength;
    clearTimeout(this.timer);
    this.timer = setTimeout(() => (this.free = []), IDLE_MS);
  }
}

/** Takes memory of exactly so many bytes out of a list that has it. */
export function takeBuffer(free: SharedArrayBuffer[], bytes: number): SharedArrayBuffer | undefined {
  const i = free.findIndex(({ byteLength }) => byteLength === bytes);
  return i < 0 ? undefined : free.splice(i, 1)[0];
}
