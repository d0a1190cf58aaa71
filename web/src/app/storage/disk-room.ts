/** Bytes that must be free beside what is written: what the database notes down of it. */
const SPARE = 1 << 20;
/** Of files as large as this no more is tried: a file of its own is written, or not. */
const MAX_TRIED = 1 << 26;
/** Milliseconds after which no answer is waited for. */
const PATIENCE_MS = 3000;

/** Bytes of the files in rows. */
export function fileBytes(rows: readonly unknown[]): number {
  const values = rows.flatMap((row) => (row && typeof row === 'object' ? Object.values(row) : []));
  return values.reduce<number>((sum, value) => sum + (value instanceof Blob ? value.size : 0), 0);
}

/**
 * Asks whether the disk takes more, before a database writes to it. Where a write of Chromium's database is cut short by a
 * full disk, the next one goes behind the torn end of its log, and at the next start all of the database is thrown away as
 * damaged. So no write may be begun that does not fit.
 */
export class DiskRoom {
  private worker: Worker | null = null;
  private readonly waiting: ((reason: string | null) => void)[] = [];

  /** @param start gives the worker of `disk-room.worker`. */
  constructor(private readonly start: () => Worker) {}

  /** @throws DOMException QuotaExceededError where so many bytes have no room. What cannot be tried is taken to fit. */
  async check(bytes: number): Promise<void> {
    const reason = await this.ask(SPARE + Math.min(bytes, MAX_TRIED));
    if (reason === 'QuotaExceededError') throw new DOMException('The disk is full.', reason);
  }

  /** Gives the room free that is kept for deleting; the next check takes it again. */
  async release(): Promise<void> {
    await this.ask(0);
  }

  private ask(bytes: number): Promise<string | null> {
    this.worker ??= this.started();
    return new Promise((resolve) => {
      const late = setTimeout(() => this.giveUp(), PATIENCE_MS);
      this.waiting.push((reason) => {
        clearTimeout(late);
        resolve(reason);
      });
      this.worker!.postMessage(bytes);
    });
  }

  private started(): Worker {
    const worker = this.start();
    worker.onmessage = ({ data }: MessageEvent<string | null>) => this.waiting.shift()?.(data);
    worker.onerror = () => this.giveUp();
    return worker;
  }

  /** Another is started by who asks next. */
  private giveUp(): void {
    this.worker?.terminate();
    this.worker = null;
    for (const answer of this.waiting.splice(0)) answer(null);
  }
}

let room: DiskRoom | null = null;

/** The one of this page; null where a browser has no files of its own. */
export function diskRoom(): DiskRoom | null {
  if (typeof Worker === 'undefined' || !navigator.storage?.getDirectory) return null;
  return (room ??= new DiskRoom(
    () => new Worker(new URL('./disk-room.worker', import.meta.url), { type: 'module' }),
  ));
}
