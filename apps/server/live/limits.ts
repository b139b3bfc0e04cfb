import type { Clock } from '@umbek/core/engine';

/** What one page may ask of the engine, far beyond what hands can do. */
export const LIMITS = {
  /** Connections at one time. */
  connections: 250,
  /** Messages a second, and so many at once: renewals of ten fingers and a stick are some 150. */
  messagesASecond: 300,
  messagesAtOnce: 600,
  /** Requests of one address a second, and so many at once: fifty pages that come back behind one address ask for some ten each. */
  requestsASecond: 500,
  requestsAtOnce: 2000,
  /** Presses of buttons that do not exist, a minute. */
  unknownAMinute: 60,
  /** Link groups in use. */
  linkGroups: 32,
  /** Bytes that a page is behind before it is let go. */
  backlog: 8_000_000,
} as const;

/** Addresses that are told apart; beyond them all begin anew. */
const MOST_ADDRESSES = 1000;

/** What each address may ask over HTTP. */
export class RequestAllowances {
  private readonly byAddress = new Map<string, Allowance>();

  constructor(
    private readonly clock: Clock,
    private readonly aSecond: number = LIMITS.requestsASecond,
    private readonly atOnce: number = LIMITS.requestsAtOnce,
  ) {}

  /** @returns whether this address may ask once more now */
  allow(address: string): boolean {
    return this.of(address).allow();
  }

  /** Like `take`, and takes nothing. */
  allows(address: string): boolean {
    return this.of(address).allows();
  }

  private of(address: string): Allowance {
    let allowance = this.byAddress.get(address);
    if (allowance === undefined) {
      if (this.byAddress.size >= MOST_ADDRESSES) this.byAddress.clear();
      this.byAddress.set(address, (allowance = new Allowance(this.clock, this.aSecond, this.atOnce)));
    }
    return allowance;
  }
}

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
  allow(): boolean {
    if (!this.allows()) return false;
    this.left -= 1;
    return true;
  }

  /** @returns what `take` would */
  allows(): boolean {
    const now = this.clock.now();
    this.left = Math.min(this.atOnce, this.left + ((now - this.since) / 1000) * this.aSecond);
    this.since = now;
    return this.left >= 1;
  }
}
