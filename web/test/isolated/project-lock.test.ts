import { beforeEach, describe, expect, it, vi } from 'vitest';
import { PageLocks } from '../../src/app/storage/locks';
import { ProjectLock } from '../../src/app/project/saving/project-lock';

describe('the lock on a project', () => {
  let locks: PageLocks;
  const held = async (): Promise<string[]> => (await locks.query()).held.map(({ name }) => name);
  beforeEach(() => {
    // As a browser has them for all of its tabs.
    locks = new PageLocks();
    vi.stubGlobal('navigator', { locks });
  });

  it('is had by one tab at a time', async () => {
    const [here, there] = [new ProjectLock(), new ProjectLock()];
    expect(await here.take('kites')).toBe(true);
    expect(await there.take('kites')).toBe(false);
    expect(await there.isTaken('kites')).toBe(true);
    expect([here.isMine('kites'), there.isMine('kites'), here.isMine(null)]).toEqual([true, false, false]);
    here.drop();
    await vi.waitFor(async () => expect(await held()).toEqual([]));
    expect(await there.take('kites')).toBe(true);
  });

  it('goes to who waits for it as soon as it is free, and is theirs to write when they take it', async () => {
    const [here, there] = [new ProjectLock(), new ProjectLock()];
    await here.take('kites');
    await there.take('kites');
    const waited = there.wait('kites');
    here.drop();
    expect(await waited).toBe(true);
    expect(there.isMine('kites')).toBe(false);
    expect(await here.take('kites')).toBe(false);
    expect(await there.take('kites')).toBe(true);
    expect(there.isMine('kites')).toBe(true);
  });

  it('is no longer waited for by who moves on', async () => {
    const [here, there] = [new ProjectLock(), new ProjectLock()];
    await here.take('kites');
    await there.take('kites');
    const waited = there.wait('kites');
    await there.take('lamps');
    here.drop();
    expect(await waited).toBe(false);
    await vi.waitFor(async () => expect(await held()).toEqual(['hazy-lens-project-lamps']));
  });

  it('goes to the project that was asked for last, and none is left behind', async () => {
    const lock = new ProjectLock();
    const [first, second] = [lock.take('kites'), lock.take('lamps')];
    expect(await Promise.all([first, second])).toEqual([false, true]);
    expect(lock.isMine('lamps')).toBe(true);
    await vi.waitFor(async () => expect(await held()).toEqual(['hazy-lens-project-lamps']));
    lock.drop();
    await vi.waitFor(async () => expect(await held()).toEqual([]));
  });

  it('of a project that was given up meanwhile is not kept', async () => {
    const lock = new ProjectLock();
    const taking = lock.take('kites');
    lock.drop();
    expect(await taking).toBe(false);
    await vi.waitFor(async () => expect(await held()).toEqual([]));
  });
});
