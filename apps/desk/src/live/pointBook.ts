import type { LivePoint, LivesLast } from '@umbek/protocol';
import { scopeOf } from './shownHere';
import type { Topics } from './topics';

/** The last that was known of a point that is unknown now. */
export interface LastKnown {
  readonly value: LivePoint;
  /** This page's own clock, milliseconds. */
  readonly since: number;
}

/** What is not known for longer is not worth showing. */
const LAST_KNOWN_KEPT = 5000;

/** The points that are told to this page, and what was known last of those that are unknown now: only to be looked at; nothing goes by it. */
export class PointBook {
  private readonly points = new Map<string, LivePoint>();
  private readonly last = new Map<string, LastKnown>();

  constructor(
    private readonly topics: Topics,
    private readonly now: () => number,
  ) {}

  get(key: string): LivePoint | undefined {
    return this.points.get(key);
  }

  /** @param lostAt since when there has been no contact; null while there is: without contact every point is as old as that */
  lastKnown(key: string, lostAt: number | null): LastKnown | undefined {
    const value = lostAt === null ? undefined : this.points.get(key);
    if (value === undefined || lostAt === null) return this.last.get(key);
    const known = this.last.get(key);
    if (known?.value === value && known.since === lostAt) return known;
    const lastKnown = { value, since: lostAt };
    this.last.set(key, lastKnown);
    return lastKnown;
  }

  /** @param value null when it is unknown now */
  set(key: string, value: LivePoint | null): void {
    const known = this.points.get(key);
    if (value !== null) {
      this.points.set(key, value);
      this.last.delete(key);
    } else {
      this.points.delete(key);
      if (known !== undefined) this.keep(key, known, this.now());
    }
    this.topics.notify(`point:${key}`);
  }

  /** All of them, as a snapshot tells them: what it leaves out is unknown. */
  setAll(points: Readonly<Record<string, LivePoint | null>>): void {
    for (const key of new Set([...this.points.keys(), ...Object.keys(points)])) this.set(key, points[key] ?? null);
  }

  /** What silent devices had said, and how long ago that was. */
  takeLast(last: LivesLast = {}): void {
    for (const [key, { value, agoMs }] of Object.entries(last)) {
      this.keep(key, value, this.now() - agoMs);
      this.topics.notify(`point:${key}`);
    }
  }

  /** Everything of these scopes is told anew: what is not among it is unknown. */
  forget(scopes: ReadonlySet<string>, points: Readonly<Record<string, unknown>>): void {
    for (const key of this.points.keys())
      if (scopes.has(scopeOf(key)) && !Object.hasOwn(points, key)) this.set(key, null);
  }

  /** Only these scopes are told from now on: what is no longer told is no longer known. */
  keepOnly(scopes: ReadonlySet<string>): void {
    for (const key of this.points.keys()) if (!scopes.has(scopeOf(key))) this.points.delete(key);
  }

  private keep(key: string, value: LivePoint, since: number): void {
    this.last.delete(key);
    this.last.set(key, { value, since });
    const [oldest] = this.last.keys();
    if (this.last.size > LAST_KNOWN_KEPT && oldest !== undefined) this.last.delete(oldest);
  }
}
