import { describe, expect, it } from 'vitest';
import { PageLocks } from '../src/app/storage/locks';

describe('locks of a page', () => {
  it('are held by one after the other, in the order in which they were asked for', async () => {
    const locks = new PageLocks();
    const order: string[] = [];
    let free = (): void => undefined;
    const freed = new Promise<void>((resolve) => (free = resolve));
    const first = locks.request('a', async () => {
      order.push('first');
      await freed;
    });
    const second = locks.request('a', async () => void order.push('second'));
    await locks.request('b', async () => void order.push('b'));
    expect(order).toEqual(['first', 'b']);
    expect(await locks.query()).toEqual({ held: [{ name: 'a' }] });
    free();
    await Promise.all([first, second]);
    expect(order).toEqual(['first', 'b', 'second']);
    expect(await locks.query()).toEqual({ held: [] });
  });

  it('are not waited for where one asks for them only if they are free, and are free again after a failure', async () => {
    const locks = new PageLocks();
    const failed = locks.request('a', { ifAvailable: true }, async (lock) => {
      expect(lock).not.toBeNull();
      expect(await locks.request('a', { ifAvailable: true }, (other) => other)).toBeNull();
      throw new Error('no');
    });
    await expect(failed).rejects.toThrow('no');
    expect(await locks.request('a', { ifAvailable: true }, (lock) => lock)).not.toBeNull();
  });
});
