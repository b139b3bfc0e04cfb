import {
  closeSync,
  fsyncSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  writeFileSync,
  writeSync,
} from 'node:fs';
import { join } from 'node:path';
import type { Clock, Journal, JournalEvent } from '@umbek/core/engine';

/** A journal event with its number and time of day: a line of the as-run. */
export type AsRunEntry = JournalEvent & { readonly seq: number; readonly at: string };
type Writable<T> = { -readonly [K in keyof T]: T[K] };

/** seq = epoch · 10⁹ + n. */
export const SEQ_PER_EPOCH = 1_000_000_000;

const NAME = /^epoch-(\d+)\.jsonl$/;

/** Journal files of a folder, oldest first. */
export function journalFiles(folder: string): { readonly file: string; readonly epoch: number }[] {
  return readdirSync(folder)
    .flatMap((file) => {
      const epoch = NAME.exec(file)?.[1];
      return epoch === undefined ? [] : [{ file, epoch: Number(epoch) }];
    })
    .sort((a, b) => a.epoch - b.epoch);
}

/** Entries of journal text: each line is a JSON array of those written together. A line cut off by a crash is left out. */
export function entriesOf(text: string): AsRunEntry[] {
  return text.split('\n').flatMap((line) => {
    if (line === '') return [];
    try {
      return JSON.parse(line) as AsRunEntry[];
    } catch {
      return [];
    }
  });
}

/** Counts up the engine's starts. The number is on the disk before anything is done under it. */
export function nextEpoch(folder: string): number {
  mkdirSync(folder, { recursive: true });
  const path = join(folder, 'epoch');
  let last = 0;
  try {
    last = Number(readFileSync(path, 'utf8')) || 0;
  } catch {
    // The first start of all.
  }
  const epoch = Math.max(last, journalFiles(folder).at(-1)?.epoch ?? 0) + 1;
  writeFileSync(path, String(epoch));
  return epoch;
}

/**
 * The as-run on the local disk, one line a write, each line an array of entries. Entries are collected until `flush`, which is called before every datagram and
 * at the latest when the present work is over: what was sent is always on the disk first.
 */
export class LocalJournal implements Journal {
  readonly file: string;
  private readonly handle: number;
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
    folder: string,
    readonly epoch: number,
    clock: Clock,
    private readonly onEntry: (entry: AsRunEntry) => void = () => undefined,
  ) {
    this.wallOffset = clock.wall().getTime() - clock.now();
    this.file = `epoch-${epoch}.jsonl`;
    this.handle = openSync(join(folder, this.file), 'a');
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
    setImmediate(this.flushLater);
  }

  flush(): void {
    this.armed = false;
    if (this.waiting.length === 0) return;
    const line = `${JSON.stringify(this.waiting)}\n`;
    this.waiting = [];
    writeSync(this.handle, line);
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

  close(): void {
    this.flush();
    fsyncSync(this.handle);
    closeSync(this.handle);
  }
}
