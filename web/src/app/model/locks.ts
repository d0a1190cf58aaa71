/** Locks that are asked for here, as browsers have them. */
export interface Locks {
  request<T>(name: string, work: () => Promise<T>): Promise<T>;
  request<T>(
    name: string,
    options: { ifAvailable: true },
    work: (lock: unknown) => Promise<T> | T,
  ): Promise<T>;
  query(): Promise<{ held?: { name?: string }[] }>;
}

/** Locks among what this page does, where the browser has none between its tabs. */
export class PageLocks implements Locks {
  /** The end of the last that was asked for, by name. */
  private readonly last = new Map<string, Promise<unknown>>();

  async request<T>(
    name: string,
    ...[first, second]: [() => Promise<T>] | [object, (lock: unknown) => Promise<T> | T]
  ): Promise<T> {
    const before = this.last.get(name);
    if (second && before) return second(null);
    const work = async (): Promise<T> => (second ? second({ name }) : (first as () => Promise<T>)());
    const done = (before ?? Promise.resolve()).then(work);
    const ended: Promise<void> = done
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
