/** What was used last, by a key: the oldest go first. What fails is forgotten, so that it is tried again. */
export class Recent<K, V> {
  private readonly kept = new Map<K, Promise<V>>();

  constructor(private readonly most: number) {}

  get(key: K, make: () => Promise<V>): Promise<V> {
    const known = this.kept.get(key);
    const value = known ?? make();
    if (!known) value.catch(() => this.kept.delete(key));
    this.kept.delete(key);
    this.kept.set(key, value);
    if (this.kept.size > this.most) this.kept.delete(this.kept.keys().next().value!);
    return value;
  }

  clear(): void {
    this.kept.clear();
  }
}
