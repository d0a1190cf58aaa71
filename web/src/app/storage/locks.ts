/** How a lock is asked for: only if it is free, or until it is no longer wanted. */
export interface LockWish {
  ifAvailable?: boolean;
  signal?: AbortSignal;
}

type Work<T> = (lock: unknown) => Promise<T> | T;

/** Locks by name, as browsers have them among their tabs. */
export interface Locks {
  request<T>(name: string, work: Work<T>): Promise<T>;
  request<T>(name: string, wish: LockWish, work: Work<T>): Promise<T>;
  query(): Promise<{ held?: { name?: string }[] }>;
}

/** Locks among what this page does, where the browser has none between its tabs. */
export class PageLocks implements Locks {
  /** The end of the last that was asked for, by name. */
  private readonly last = new Map<string, Promise<void>>();

  async request<T>(name: string, ...[first, second]: [Work<T>] | [LockWish, Work<T>]): Promise<T> {
    const work = second ?? (first as Work<T>);
    const { ifAvailable, signal }: LockWish = second ? (first as LockWish) : {};
    const before = this.last.get(name);
    if (ifAvailable && before) return work(null);
    const done = (before ?? Promise.resolve()).then(() => {
      signal?.throwIfAborted();
      return work({ name });
    });
    const ended = done
      .then(
        () => undefined,
        () => undefined,
      )
      .then(() => {
        if (this.last.get(name) === ended) this.last.delete(name);
      });
    this.last.set(name, ended);
    return done;
  }

  async query(): Promise<{ held: { name: string }[] }> {
    return { held: [...this.last.keys()].map((name) => ({ name })) };
  }
}

let ofPage: PageLocks | null = null;

/** The locks of this browser, else of this page. */
export const locks = (): Locks =>
  (navigator.locks as unknown as Locks | undefined) ?? (ofPage ??= new PageLocks());
