/** So many entries may differ from the common base before it is made anew. */
const MOST_ABOVE = 400;

/**
 * A map that shares all but a few entries with the one before it: what follows an edit of ten entries in a show of thousands costs ten entries.
 * `next` makes the map that follows; the former one stays as it is.
 */
export class LayeredMap<V> implements ReadonlyMap<string, V> {
  private constructor(
    private readonly base: ReadonlyMap<string, V>,
    /** What differs from the base; undefined: it is not in this one. */
    private readonly above: Map<string, V | undefined>,
  ) {}

  /** @param entries taken over as it is: nobody may change it afterwards */
  static of<V>(entries: ReadonlyMap<string, V> = new Map()): LayeredMap<V> {
    return new LayeredMap(entries, new Map());
  }

  /** A map with the same entries that can be changed by itself. */
  next(): LayeredMap<V> {
    if (this.above.size <= MOST_ABOVE) return new LayeredMap(this.base, new Map(this.above));
    // The machine's own copy of a map is many times quicker than one made entry by entry.
    const base = new Map(this.base);
    for (const [key, value] of this.above)
      if (value === undefined) base.delete(key);
      else base.set(key, value);
    return LayeredMap.of(base);
  }

  get(key: string): V | undefined {
    if (this.above.size === 0) return this.base.get(key);
    const value = this.above.get(key);
    return value !== undefined || this.above.has(key) ? value : this.base.get(key);
  }

  has(key: string): boolean {
    return this.get(key) !== undefined;
  }

  set(key: string, value: V): void {
    this.above.set(key, value);
  }

  delete(key: string): void {
    if (this.base.has(key)) this.above.set(key, undefined);
    else this.above.delete(key);
  }

  get size(): number {
    let size = this.base.size;
    for (const [key, value] of this.above) {
      if (value === undefined) size -= 1;
      else if (!this.base.has(key)) size += 1;
    }
    return size;
  }

  *entries(): MapIterator<[string, V]> {
    for (const [key, old] of this.base) {
      const value = this.above.has(key) ? this.above.get(key) : old;
      if (value !== undefined) yield [key, value];
    }
    for (const [key, value] of this.above) if (value !== undefined && !this.base.has(key)) yield [key, value];
  }

  *keys(): MapIterator<string> {
    for (const [key] of this.entries()) yield key;
  }

  *values(): MapIterator<V> {
    for (const [, value] of this.entries()) yield value;
  }

  [Symbol.iterator](): MapIterator<[string, V]> {
    return this.entries();
  }

  forEach(each: (value: V, key: string, map: ReadonlyMap<string, V>) => void): void {
    for (const [key, value] of this.entries()) each(value, key, this);
  }
}
