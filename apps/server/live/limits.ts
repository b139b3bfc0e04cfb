import type { Clock } from '@umbek/core/engine';

/** What one page may ask of the engine, far beyond what hands can do. */
export const LIMITS = {
  /** Connections at one time. */
  connections: 250,
  /** Messages a second, and so many at once: renewals of ten fingers and a stick are some 150. */
  messagesASecond: 300,
  messagesAtOnce: 600,
  /** Presses of buttons that do not exist, a minute. */
  unknownAMinute: 60,
  /** Link groups in use. */
  linkGroups: 32,
  /** Bytes that a page is behind before it is let go. */
  backlog: 8_000_000,
} as const;

/** So many a second, and so many at once. */
export class Allowance {
  private left: number;
  private since: number;

  constructor(
    private readonly clock: Clock,
    private readonly aSecond: number,
    private readonly atOnce: number,
  ) {
    this.left = atOnce;
    this.since = clock.now();
  }

  /** @returns whether one more is allowed */
  take(): boolean {
    const now = this.clock.now();
    this.left = Math.min(this.atOnce, this.left + ((now - this.since) / 1000) * this.aSecond);
    this.since = now;
    if (this.left < 1) return false;
    this.left -= 1;
    return true;
  }
}
