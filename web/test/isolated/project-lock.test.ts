import { beforeEach, describe, expect, it, vi } from 'vitest';
import { ProjectLock } from '../../src/app/project/project-lock';

/** Locks as a browser has them for its tabs: granted a little later, held while the callback's promise is open. */
function fakeLocks() {
  const held = new Set<string>();
  return {
    held,
    async request(name: string, _: object, callback: (lock: object | null) => unknown): Promise<unknown> {
      await new Promise((resolve) => setTimeout(resolve, 5));
      if (held.has(name)) return callback(null);
      held.add(name);
      try {
        return await callback({ name });
      } finally {
        held.delete(name);
      }
    },
    query: async () => ({ held: [...held].map((name) => ({ name })) }),
  };
}

describe('the lock on a project', () => {
  let locks: ReturnType<typeof fakeLocks>;
  beforeEach(() => {
    locks = fakeLocks();
    vi.stubGlobal('navigator', { locks });
  });

  it('is had by one tab at a time', async () => {
    const [here, there] = [new ProjectLock(), new ProjectLock()];
    expect(await here.take('kites')).toBe(true);
    expect(await there.take('kites')).toBe(false);
    expect(await there.isTaken('kites')).toBe(true);
    expect([here.isMine('kites'), there.isMine('kites'), here.isMine(null)]).toEqual([true, false, false]);
    here.drop();
    await vi.waitFor(() => expect(locks.held.size).toBe(0));
    expect(await there.take('kites')).toBe(true);
  });

  it('goes to the project that was asked for last, and none is left behind', async () => {
    const lock = new ProjectLock();
    const [first, second] = [lock.take('kites'), lock.take('lamps')];
    expect(await Promise.all([first, second])).toEqual([false, true]);
    expect(lock.isMine('lamps')).toBe(true);
    await vi.waitFor(() => expect([...locks.held]).toEqual(['hazy-lens-project-lamps']));
    lock.drop();
    await vi.waitFor(() => expect(locks.held.size).toBe(0));
  });

  it('of a project that was given up meanwhile is not kept', async () => {
    const lock = new ProjectLock();
    const taking = lock.take('kites');
    lock.drop();
    expect(await taking).toBe(false);
    await vi.waitFor(() => expect(locks.held.size).toBe(0));
  });
});
