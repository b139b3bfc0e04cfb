/** Who wants to hear of what: a change is told only to those who asked for its topic. */
export class Topics {
  private readonly listeners = new Map<string, Set<() => void>>();

  /** @returns what ends it */
  subscribe(topic: string, listener: () => void): () => void {
    const set = this.listeners.get(topic) ?? new Set();
    this.listeners.set(topic, set.add(listener));
    return () => {
      set.delete(listener);
      if (set.size === 0 && this.listeners.get(topic) === set) this.listeners.delete(topic);
    };
  }

  notify(topic: string): void {
    for (const listener of this.listeners.get(topic) ?? []) listener();
  }
}
