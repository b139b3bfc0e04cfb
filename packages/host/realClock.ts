import { type Cancel, type Clock, type Due, DueQueue } from '@umbek/core/engine';

/** The longest that Node's timers take. */
const LONGEST_TIMER_MS = 2_000_000_000;

/**
 * Real time, from the machine's monotonic clock. One Node timer waits for the earliest call; the order among calls is the queue's,
 * the same as in rehearsal. What is already due runs after the input that waits at the sockets.
 */
export class RealClock implements Clock {
  private readonly queue = new DueQueue();
  private armed: { readonly due: Due; readonly drop: () => void } | null = null;

  /** @param onTrouble told what a call threw: it failed alone, and the ones after it are served */
  constructor(private readonly onTrouble: (error: unknown) => void = () => undefined) {}

  now(): number {
    return performance.now();
  }

  wall(): Date {
    return new Date(performance.timeOrigin + performance.now());
  }

  at(dueMs: number, run: () => void): Cancel {
    const due = this.queue.add(dueMs, run);
    this.arm();
    return () => {
      due.run = null;
    };
  }

  private arm(): void {
    const first = this.queue.first();
    if (first === this.armed?.due) return;
    this.armed?.drop();
    this.armed = null;
    if (first === undefined) return;
    const left = first.at - this.now();
    if (left <= 0) {
      const immediate = setImmediate(() => this.serve());
      this.armed = { due: first, drop: () => clearImmediate(immediate) };
    } else {
      // A timer of Node counts whole milliseconds and may be a fraction early; what is left then runs over the immediate queue.
      const timer = setTimeout(() => this.serve(), Math.min(LONGEST_TIMER_MS, Math.max(1, Math.floor(left))));
      this.armed = { due: first, drop: () => clearTimeout(timer) };
    }
  }

  private serve(): void {
    this.armed = null;
    const now = this.now();
    for (let first = this.queue.first(); first !== undefined && first.at <= now; first = this.queue.first()) {
      try {
        this.queue.next()?.run?.();
      } catch (error) {
        this.onTrouble(error);
      }
    }
    this.arm();
  }
}
