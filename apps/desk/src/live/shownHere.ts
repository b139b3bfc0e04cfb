/** What was shown a moment ago is likely to be shown again: it is followed for so long. */
const KEPT_MS = 10_000;

type Kind = 'strips' | 'scopes';

/** A key of the board belongs to its device, or to what stands before its `@`. */
export const scopeOf = (key: string): string => /^[^.@]*/.exec(key)?.[0] ?? key;

/** Counts what the page shows, and tells once when that has changed. */
export class ShownHere {
  private readonly used: Readonly<Record<Kind, Map<string, number>>> = { strips: new Map(), scopes: new Map() };
  /** No longer shown, each with the time until which it is still followed. */
  private readonly kept: Readonly<Record<Kind, Map<string, number>>> = { strips: new Map(), scopes: new Map() };
  private lastSent = '';
  private timer: ReturnType<typeof setTimeout> | null = null;
  private dueAt = Infinity;

  constructor(
    private readonly onChange: () => void,
    private readonly now_: () => number = () => Date.now(),
  ) {}

  /** @returns what ends it; calling that twice does nothing */
  use(kind: Kind, id: string): () => void {
    const used = this.used[kind];
    used.set(id, (used.get(id) ?? 0) + 1);
    this.kept[kind].delete(id);
    if (used.get(id) === 1) this.look(0);
    let over = false;
    return () => {
      if (over) return;
      over = true;
      const left = (used.get(id) ?? 1) - 1;
      if (left > 0) return void used.set(id, left);
      used.delete(id);
      this.kept[kind].set(id, this.now_() + KEPT_MS);
      this.look(KEPT_MS);
    };
  }

  /** Nothing is shown yet. */
  get empty(): boolean {
    return this.used.strips.size === 0 && this.used.scopes.size === 0;
  }

  /** What is to be told now; whoever asks tells it. */
  now(): { strips: string[]; scopes: string[] } {
    const list = (kind: Kind): string[] => {
      for (const [id, until] of this.kept[kind]) if (until <= this.now_()) this.kept[kind].delete(id);
      return [...this.used[kind].keys(), ...this.kept[kind].keys()];
    };
    const shown = { strips: list('strips'), scopes: list('scopes') };
    this.lastSent = JSON.stringify(shown);
    return shown;
  }

  /** Several changes of one moment are told once. */
  private look(afterMs: number): void {
    const due = this.now_() + afterMs;
    if (due >= this.dueAt) return;
    if (this.timer !== null) clearTimeout(this.timer);
    this.dueAt = due;
    this.timer = setTimeout(() => {
      this.timer = null;
      this.dueAt = Infinity;
      const before = this.lastSent;
      this.now();
      if (this.lastSent !== before) this.onChange();
      const next = Math.min(...this.kept.strips.values(), ...this.kept.scopes.values());
      if (next < Infinity) this.look(Math.max(0, next - this.now_()));
    }, afterMs);
  }
}
