/** A map that forgets what was not used for longest. */
export class LRUCache<Key, Value> {
  private readonly entries = new Map<Key, Value>();
  constructor(private readonly most: number) {}

  get(key: Key): Value | undefined {
    const value = this.entries.get(key);
    if (value !== undefined) {
      this.entries.delete(key);
      this.entries.set(key, value);
    }
    return value;
  }

  set(key: Key, value: Value): void {
    this.entries.delete(key);
    this.entries.set(key, value);
    if (this.entries.size > this.most) this.entries.delete(this.entries.keys().next().value as Key);
  }
}
