const MAX_IDLE = 2;
/** From one picture of many to the next it takes less than this. */
const IDLE_MS = 5000;

/**
 * Things that are dear to make, and were given back, for the next who needs one: nobody else has what is taken. What
 * nobody takes for a while is closed.
 */
export class ResourcePool<T> {
  private readonly waiting: { one: T; timer: ReturnType<typeof setTimeout> }[] = [];

  constructor(
    private readonly make: () => T,
    private readonly close: (one: T) => void,
  ) {}

  acquire(): T {
    const last = this.waiting.pop();
    clearTimeout(last?.timer);
    return last?.one ?? this.make();
  }

  release(one: T): void {
    this.waiting.push({ one, timer: setTimeout(() => this.end(one), IDLE_MS) });
    if (this.waiting.length > MAX_IDLE) this.end(this.waiting[0]!.one);
  }

  private end(one: T): void {
    const i = this.waiting.findIndex((waiting) => waiting.one === one);
    clearTimeout(this.waiting[i]!.timer);
    this.waiting.splice(i, 1);
    this.close(one);
  }
}
