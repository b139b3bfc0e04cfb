import type { LiveStore } from './liveStore';

/** A value goes out no more often than this while it is turned; the last one always does. */
const SENT_MS = 50;

/** A value that a hand turns: held from its first to its last, the latest in time, and let go. */
export class HeldValue {
  private held: {
    readonly pressId: string;
    timer: ReturnType<typeof setTimeout> | null;
    next: number;
    at: number;
  } | null = null;

  constructor(
    private readonly live: Pick<LiveStore, 'downValue' | 'turn' | 'up'>,
    private readonly buttonId: string,
    /** Id of the shortcut that turns it; left out: a hand on the cap. */
    private readonly shortcut?: string,
  ) {}

  to(value: number): void {
    const { live, held } = this;
    if (held === null) {
      const pressId = live.downValue(this.buttonId, value, this.shortcut);
      this.held = { pressId, timer: null, next: value, at: performance.now() };
      return;
    }
    held.next = value;
    const wait = held.at + SENT_MS - performance.now();
    const send = (): void => {
      held.timer = null;
      held.at = performance.now();
      live.turn(held.pressId, held.next);
    };
    if (wait <= 0) send();
    else held.timer ??= setTimeout(send, wait);
  }

  end(): void {
    const { live, held } = this;
    if (held === null) return;
    this.held = null;
    if (held.timer !== null) {
      clearTimeout(held.timer);
      live.turn(held.pressId, held.next);
    }
    live.up(held.pressId);
  }
}
