import { beforeEach, describe, expect, it, vi } from 'vitest';
import { BufferPool, takeBuffer } from '../src/app/engine/buffer-pool';
import { ResourcePool } from '../src/app/engine/resource-pool';

const LONG_MS = 60_000;

beforeEach(() => {
  vi.useFakeTimers();
  return () => vi.useRealTimers();
});

describe('memory of pictures that are done with', () => {
  const buffer = (bytes: number) => new SharedArrayBuffer(bytes);

  it('is taken for the next of exactly the same size, once', () => {
    const free = new BufferPool();
    const [small, large] = [buffer(10), buffer(20)];
    free.give(small, large);
    expect(free.take(20)).toBe(large);
    expect(free.take(20)).not.toBe(large);
    expect(free.take(9).byteLength).toBe(9);
    expect(free.take(10)).toBe(small);
  });

  it('is let go of where nobody takes it for a while, and where there is too much of it', () => {
    const free = new BufferPool();
    free.give(buffer(10));
    vi.advanceTimersByTime(LONG_MS);
    expect(free.takeAll()).toEqual([]);
    free.give(buffer(300_000_000), buffer(1));
    free.give(buffer(300_000_000));
    expect(free.takeAll().map(({ byteLength }) => byteLength)).toEqual([1, 300_000_000]);
  });

  it('is taken out of a list that has it', () => {
    const free = [buffer(1), buffer(2)];
    expect(takeBuffer(free, 3)).toBeUndefined();
    expect(takeBuffer(free, 2)!.byteLength).toBe(2);
    expect(free.map(({ byteLength }) => byteLength)).toEqual([1]);
  });
});

describe('what is dear to make', () => {
  let made: number;
  let closed: number[];
  let idle: ResourcePool<number>;
  beforeEach(() => {
    [made, closed] = [0, []];
    idle = new ResourcePool(
      () => ++made,
      (one) => void closed.push(one),
    );
  });

  it('goes to the next that needs it, never to two at once', () => {
    const [first, second] = [idle.acquire(), idle.acquire()];
    expect([first, second]).toEqual([1, 2]);
    idle.release(first);
    expect(idle.acquire()).toBe(first);
    expect(idle.acquire()).toBe(3);
  });

  it('is closed where nobody takes it for a while, and where there is too much of it', () => {
    const three = [idle.acquire(), idle.acquire(), idle.acquire()];
    for (const one of three) idle.release(one);
    expect(closed).toEqual([1]);
    const last = idle.acquire();
    vi.advanceTimersByTime(LONG_MS);
    expect(closed).toEqual([1, 2]);
    idle.release(last);
    vi.advanceTimersByTime(LONG_MS);
    expect(closed).toEqual([1, 2, 3]);
  });
});
