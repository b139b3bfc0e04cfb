import type { Cancel, Clock, Engine } from '@umbek/core/engine';
import type { PlainValue } from '@umbek/core/show';
import type { Helper } from '../helper/helper';

/** What changed is told to the helper so often; before a run begins, at once. */
const EVERY_MS = 20;

/** Keeps the helper's board as the engine's is, in the order in which things happened. */
export class BoardFeed {
  private readonly keys = new Set<string>();
  private engine: Engine | null = null;
  private timer: Cancel | null = null;
  private closed = false;

  constructor(
    private readonly clock: Clock,
    private readonly helper: Helper,
  ) {}

  reads(engine: Engine): void {
    this.engine = engine;
  }

  changed(keys: ReadonlySet<string>): void {
    for (const key of keys) this.keys.add(key);
    this.timer ??= this.clock.at(this.clock.now() + EVERY_MS, () => this.flush());
  }

  /** A run begins: the helper keeps the board as it is at this moment. What the present turn changed is not published yet, and comes later. */
  runBegan(runId: string, buttonId: string): void {
    const changes = this.drain();
    // The press itself does not wait for this.
    this.clock.at(this.clock.now(), () => {
      if (this.closed) return;
      if (changes.length > 0) this.helper.tell({ type: 'board', changes });
      this.helper.tell({ type: 'runBegan', runId, buttonId });
    });
  }

  close(): void {
    this.closed = true;
    this.timer?.();
  }

  private flush(): void {
    this.timer = null;
    const changes = this.drain();
    if (changes.length > 0 && !this.closed) this.helper.tell({ type: 'board', changes });
  }

  private drain(): [key: string, value: PlainValue | null][] {
    const changes = [...this.keys].map((key): [string, PlainValue | null] => {
      const value = this.engine?.board.read(key);
      return [key, value === undefined || typeof value === 'symbol' ? null : value];
    });
    this.keys.clear();
    return changes;
  }
}
