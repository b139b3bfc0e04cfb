import type { Clock, Journal, JournalEvent } from '@umbek/core/engine';
import { type AsRunEntry, SEQ_PER_EPOCH } from './entry';

type Writable<T> = { -readonly [K in keyof T]: T[K] };

/** Where lines go: the pipe of a process that survives the engine. What was written here outlives it. */
export interface LineSink {
  write(line: string): void;
}

/**
 * The as-run as the engine tells it, one line a write, each line an array of entries. Entries are collected until `flush`, which is called
 * before every datagram and at the latest when the present work is over: what was sent is always out of this process first.
 */
export class EngineJournal implements Journal {
  private waiting: AsRunEntry[] = [];
  private readonly flushLater = (): void => this.flush();
  /** From the engine's time to the time of day. */
  private readonly wallOffset: number;
  private spelled = -1;
  private at = '';
  private minute = 0;
  private upToMinute = '';
  private count = 0;
  private armed = false;

  constructor(
    private readonly sink: LineSink,
    readonly epoch: number,
    clock: Clock,
    private readonly later: (work: () => void) => void,
    private readonly onEntry: (entry: AsRunEntry) => void = () => undefined,
  ) {
    this.wallOffset = clock.wall().getTime() - clock.now();
  }

  /** Number of the latest entry. */
  get lastSeq(): number {
    return this.epoch * SEQ_PER_EPOCH + this.count;
  }

  append(event: JournalEvent): void {
    this.count += 1;
    // Written into the event itself: copying it costs more, and this stands between a press and its first datagram.
    const entry = event as Writable<AsRunEntry>;
    entry.seq = this.epoch * SEQ_PER_EPOCH + this.count;
    entry.at = this.timeOfDay(event.t);
    this.waiting.push(entry);
    this.onEntry(entry);
    if (this.armed) return;
    this.armed = true;
    this.later(this.flushLater);
  }

  flush(): void {
    this.armed = false;
    if (this.waiting.length === 0) return;
    const line = `${JSON.stringify(this.waiting)}\n`;
    this.waiting = [];
    this.sink.write(line);
  }

  /** Up to the minute it is spelled once: the whole of it costs more than the rest of an entry. */
  private timeOfDay(t: number): string {
    const ms = Math.floor(this.wallOffset + t);
    if (ms === this.spelled) return this.at;
    const within = ms - this.minute;
    if (within < 0 || within >= 60_000) {
      this.minute = ms - (ms % 60_000);
      this.upToMinute = new Date(this.minute).toISOString().slice(0, 17);
      return this.timeOfDay(t);
    }
    const digits = String(100_000 + within);
    this.spelled = ms;
    return (this.at = `${this.upToMinute}${digits.slice(1, 3)}.${digits.slice(3)}Z`);
  }
}
