import { LRUCache } from 'lru-cache';

/** How much may stay: so many values, or values of so many bytes together. */
export type Budget<V> = { most: number } | { mostBytes: number; bytesOf: (value: V) => number };

/** What was used last, by a key: the oldest go first. What fails is forgotten, so that it is tried again. */
export class Recent<K extends string | number, V> {
  private readonly kept: LRUCache<K, Promise<V>>;

  constructor(private readonly budget: Budget<V>) {
    this.kept = new LRUCache(
      'most' in budget ? { max: budget.most } : { maxSize: budget.mostBytes, sizeCalculation: () => 1 },
    );
  }

  get(key: K, make: () => Promise<V>): Promise<V> {
    const known = this.kept.get(key);
    if (known) return known;
    const value = make();
    this.put(key, value);
    return value;
  }

  /** Puts a value in place of the one of its key. */
  put(key: K, value: Promise<V>): void {
    const { budget, kept } = this;
    kept.set(key, value);
    value.then(
      (one) => {
        // How large it is shows when it is there.
        if ('mostBytes' in budget && kept.peek(key) === value)
          kept.set(key, value, { size: Math.max(1, budget.bytesOf(one)) });
      },
      () => {
        if (kept.peek(key) === value) kept.delete(key);
      },
    );
  }

  clear(): void {
    this.kept.clear();
  }
}
