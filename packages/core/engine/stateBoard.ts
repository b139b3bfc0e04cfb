import { UNKNOWN, type Verdict } from '../expression/index';
import type { PlainValue } from '../show/index';

/** Somebody who wants to know when one of the keys that it read has changed. */
export interface Reader {
  /** Called once for all changes of an instant. */
  wake(): void;
}

/** A change that wakes readers that change something, and so on: after so many rounds it is a circle. */
const MOST_ROUNDS = 1000;

/**
 * The present state as a flat map from key to value. A key that is not in it is unknown.
 *
 * Data structure: `values` holds what is known; `readers` holds for each key who reads it, so that a change wakes only those.
 * Changes made inside one turn are published together when the outermost turn ends; a reader that changes something in its turn is
 * served in the next round of the same publication.
 */
export class StateBoard {
  private readonly values = new Map<string, PlainValue>();
  private readonly readers = new Map<string, Set<Reader>>();
  private changed = new Set<string>();
  /** Taken in turns with `changed`: a set made anew for every instant is what a long rehearsal would spend its time on. */
  private spare = new Set<string>();
  private depth = 0;
  private version = 0;
  private turnCount = 0;

  constructor(
    /** Told every key that changed, once a publication, after the readers. The set is emptied afterwards: take out what is to be kept. */
    private readonly onPublished: (keys: ReadonlySet<string>) => void = () => undefined,
    /** Told what a reader threw; the others are served all the same. */
    private readonly onTrouble: (error: unknown) => void = () => undefined,
  ) {}

  readonly read = (key: string): Verdict => {
    const value = this.values.get(key);
    return value === undefined ? UNKNOWN : value;
  };

  /** Counts the outermost turns: what has the same number belongs to one instant. */
  get turns(): number {
    return this.turnCount;
  }

  /** Counts every change; two equal numbers mean that nothing happened in between. */
  get revision(): number {
    return this.version;
  }

  set(key: string, value: PlainValue): void {
    if (this.values.get(key) === value) return;
    this.values.set(key, value);
    this.touch(key);
  }

  forget(key: string): void {
    if (this.values.delete(key)) this.touch(key);
  }

  /** Forgets every key of a scope, such as all points of a device. @returns what was known of them */
  forgetScope(scope: string, keep: ReadonlySet<string> = new Set()): [string, PlainValue][] {
    const prefix = `${scope}.`;
    const known = [...this.values].filter(([key]) => key.startsWith(prefix) && !keep.has(key));
    for (const [key] of known) this.forget(key);
    return known;
  }

  entries(): IterableIterator<[string, PlainValue]> {
    return this.values.entries();
  }

  /** What is known now, kept while the board goes on. One list: a pair of its own for each key is what makes copying slow. */
  snapshot(): Iterable<readonly [string, PlainValue]> {
    const flat: PlainValue[] = [];
    this.values.forEach((value, key) => flat.push(key, value));
    return {
      *[Symbol.iterator](): Generator<readonly [string, PlainValue]> {
        for (let at = 0; at < flat.length; at += 2) yield [String(flat[at]), flat[at + 1] ?? ''];
      },
    };
  }

  subscribe(keys: Iterable<string>, reader: Reader): void {
    for (const key of keys) {
      const set = this.readers.get(key);
      if (set) set.add(reader);
      else this.readers.set(key, new Set([reader]));
    }
  }

  unsubscribe(keys: Iterable<string>, reader: Reader): void {
    for (const key of keys) {
      const set = this.readers.get(key);
      set?.delete(reader);
      if (set?.size === 0) this.readers.delete(key);
    }
  }

  /** Everything changed inside `work` is one instant. */
  turn<T>(work: () => T): T {
    this.enter();
    try {
      return work();
    } finally {
      this.leave();
    }
  }

  /** Begins a turn that `leave` ends, for where a call of its own would be made thousands of times. */
  enter(): void {
    if (this.depth === 0) this.turnCount += 1;
    this.depth += 1;
  }

  /** A reader that throws leaves the turn as it was found: the next one is not held up by it. */
  leave(): void {
    try {
      if (this.depth === 1) this.publish();
    } finally {
      this.depth -= 1;
    }
  }

  private touch(key: string): void {
    this.version += 1;
    this.changed.add(key);
    if (this.depth === 0) this.turn(() => undefined);
  }

  /** Wakes the readers of what changed, round by round. A reader that throws fails alone; one that changes something wakes others in the next round. */
  private publish(): void {
    if (this.changed.size === 0) return;
    const all = this.changed;
    let round = all;
    let next = this.spare;
    let rounds = 0;
    while (round.size > 0) {
      this.changed = next;
      const woken = this.readersOf(round);
      // What drives itself in a circle is cut off: the rest of the show goes on.
      if ((rounds += 1) > MOST_ROUNDS)
        this.onTrouble(new Error(`A change was still going round after ${MOST_ROUNDS} rounds.`));
      else if (woken !== null) for (const reader of woken) this.wake(reader);
      round = this.changed;
      for (const key of round) all.add(key);
      if (round.size > 0) next = new Set();
      if (rounds > MOST_ROUNDS) {
        this.changed = new Set();
        break;
      }
    }
    try {
      this.onPublished(all);
    } catch (error) {
      this.onTrouble(error);
    }
    all.clear();
    this.spare = all;
  }

  /** Who reads one of these keys, each once. A copy: readers come and go while they are woken. Null for nobody. */
  private readersOf(keys: ReadonlySet<string>): Iterable<Reader> | null {
    let first: ReadonlySet<Reader> | undefined;
    let all: Set<Reader> | undefined;
    for (const key of keys) {
      const readers = this.readers.get(key);
      if (readers === undefined) continue;
      if (first === undefined) first = readers;
      else {
        all ??= new Set(first);
        for (const reader of readers) all.add(reader);
      }
    }
    // One key is the usual case, and a list is copied for less than a set.
    return all ?? (first === undefined ? null : [...first]);
  }

  private wake(reader: Reader): void {
    try {
      reader.wake();
    } catch (error) {
      this.onTrouble(error);
    }
  }
}
