import 'fake-indexeddb/auto';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { DiskRoom, fileBytes } from '../../src/app/storage/disk-room';

/** Answers each question in its turn, as `disk-room.worker` does. */
class RoomWorker {
  static asked: number[] = [];
  static answer: (bytes: number) => string | null = () => null;
  static ended = 0;
  onmessage: ((event: { data: string | null }) => void) | null = null;
  onerror: (() => void) | null = null;

  postMessage(bytes: number): void {
    RoomWorker.asked.push(bytes);
    const data = RoomWorker.answer(bytes);
    setTimeout(() => this.onmessage?.({ data }));
  }

  terminate(): void {
    RoomWorker.ended++;
  }
}

const MEGABYTE = 1 << 20;

beforeEach(() => {
  RoomWorker.asked = [];
  RoomWorker.answer = () => null;
  RoomWorker.ended = 0;
});
afterEach(() => void vi.unstubAllGlobals());

const newRoom = (): DiskRoom => new DiskRoom(() => new RoomWorker() as unknown as Worker);

describe('room on the disk', () => {
  it('is asked for with some to spare, and what does not fit is refused', async () => {
    const room = newRoom();
    RoomWorker.answer = (bytes) => (bytes > 3 * MEGABYTE ? 'QuotaExceededError' : null);
    await room.check(MEGABYTE);
    await expect(room.check(4 * MEGABYTE)).rejects.toMatchObject({ name: 'QuotaExceededError' });
    await room.release();
    expect(RoomWorker.asked).toEqual([2 * MEGABYTE, 5 * MEGABYTE, 0]);
  });

  it('does not hold up saving where it cannot be tried', async () => {
    RoomWorker.answer = () => 'SecurityError';
    await newRoom().check(0);
    vi.useFakeTimers();
    const silent = new DiskRoom(
      () => ({ postMessage: () => undefined, terminate: () => undefined }) as unknown as Worker,
    );
    const checked = silent.check(0);
    await vi.advanceTimersByTimeAsync(4000);
    await checked;
    vi.useRealTimers();
    const broken = new RoomWorker();
    broken.postMessage = () => broken.onerror?.();
    await new DiskRoom(() => broken as unknown as Worker).check(0);
    expect(RoomWorker.ended).toBe(1);
  });

  it('counts the files in rows', () => {
    expect(fileBytes([{ file: new Blob(['four']), id: 'a' }, { thumbnail: new Blob(['x']) }, null, 3])).toBe(
      5,
    );
  });
});

describe('the database', () => {
  it('begins no write that does not fit, and frees what is kept for deleting', async () => {
    vi.stubGlobal('Worker', RoomWorker);
    vi.stubGlobal('navigator', { storage: { getDirectory: () => undefined } });
    const { Database } = await import('../../src/app/storage/database');
    const database = new Database('with room');
    const asset = (name: string) => ({ name, file: new Blob(['12345']) });
    await database.transaction('rw', database.assets, database.presets, async () => {
      await database.assets.put(asset('a'));
      await database.presets.clear();
      await database.assets.put(asset('b'));
    });
    // Of a transaction's rows, those with files.
    expect(RoomWorker.asked).toEqual([MEGABYTE + 5, MEGABYTE + 5]);
    RoomWorker.answer = (bytes) => (bytes > 0 ? 'QuotaExceededError' : null);
    await expect(database.assets.put(asset('c'))).rejects.toMatchObject({ name: 'QuotaExceededError' });
    await database.assets.delete('a');
    expect(RoomWorker.asked.at(-1)).toBe(0);
    expect(await database.assets.toCollection().primaryKeys()).toEqual(['b']);
    RoomWorker.answer = () => null;
    await database.assets.put(asset('c'));
    expect(await database.assets.count()).toBe(2);
  });
});

describe('the worker that tries', () => {
  it('begins anew where the disk had no room for its file, and takes back what it wrote', async () => {
    let size = 0;
    let isFull = true;
    const handle = {
      getSize: () => size,
      write: (piece: Uint8Array, { at }: { at: number }) => {
        size = Math.max(size, at + piece.length);
        return piece.length;
      },
      truncate: (bytes: number) => void (size = bytes),
    };
    const full = new DOMException('', 'QuotaExceededError');
    const getFileHandle = async () => ({ createSyncAccessHandle: async () => handle });
    const getDirectory = async () => ({
      getFileHandle: () => (isFull ? Promise.reject(full) : getFileHandle()),
    });
    let ask: (event: { data: number }) => void = () => undefined;
    let answered: (reason: string | null) => void = () => undefined;
    vi.stubGlobal('navigator', { storage: { getDirectory } });
    vi.stubGlobal('addEventListener', (_: string, heard: typeof ask) => (ask = heard));
    vi.stubGlobal('postMessage', (reason: string | null) => answered(reason));
    // By its address: its types are those of workers, not of a page.
    await import(new URL('../../src/app/storage/disk-room.worker.ts', import.meta.url).href);
    const tried = (data: number): Promise<string | null> =>
      new Promise((resolve) => {
        answered = resolve;
        ask({ data });
      });
    expect(await tried(MEGABYTE)).toBe('QuotaExceededError');
    isFull = false;
    expect(await tried(3 * MEGABYTE)).toBeNull();
    expect(size).toBe(MEGABYTE);
    expect(await tried(0)).toBeNull();
    expect(size).toBe(0);
  });
});
