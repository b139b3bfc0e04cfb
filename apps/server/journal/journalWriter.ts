import type { Clock, JournalEvent } from '@umbek/core/engine';
import { entriesOfLine, type FileEntry, PARENT_FROM, SEQ_PER_EPOCH } from './entry';
import { fileName, type JournalDisk, journalFilesIn } from './files';
import { Fold, type LeftBehind } from './fold';

/** A file that has grown so far is closed and another one begun. */
export const ROTATE_AT = 16 * 1024 * 1024;
/** So much waits in memory for a disk that fails or is slow, before steps are left out. */
export const MOST_WAITING = 64 * 1024 * 1024;
const SYNC_MS = 1000;
const AGAIN_MS = 250;
const LONGEST_AGAIN_MS = 2000;
/** A line longer than this is none that an engine writes. */
const LONGEST_LINE = 8 * 1024 * 1024;

/** How the writing goes, for health and for the page. */
export interface DiskState {
  /** Bytes that wait for the disk. */
  readonly waiting: number;
  /** Entries about single steps that were left out for want of room. */
  readonly dropped: number;
  /** What the disk last said; null while it takes everything. */
  readonly trouble: string | null;
}

interface Target {
  readonly file: string;
  size: number;
}

/**
 * Writes the as-run to the disk, in the process that survives the engine. A disk that fails, is full or slow holds nobody up: entries wait here
 * and go out when it takes them. Knows at any time what the next engine has to be told.
 */
export class JournalWriter {
  private fold = new Fold();
  private epoch = 0;
  private part = 0;
  private parentCount = 0;
  private target: Target | null = null;
  /** Whole lines that are not on the disk, in order, each with the file that it belongs to. */
  private queue: { readonly target: Target; readonly bytes: Buffer }[] = [];
  private waitingBytes = 0;
  private dropped = 0;
  private trouble: string | null = null;
  private writing = false;
  private toldWaiting = 0;
  private failures = 0;
  private rest = '';
  private dirty: string | null = null;
  private closed = false;
  private settled: (() => void)[] = [];

  constructor(
    private readonly disk: JournalDisk,
    private readonly clock: Clock,
    private readonly options: {
      readonly rotateAt?: number;
      readonly mostWaiting?: number;
      readonly onState?: (state: DiskState) => void;
    } = {},
  ) {}

  /** Reads what earlier days have left, back to the last checkpoint. Called once, before the first engine. */
  async begin(): Promise<void> {
    const names = await this.disk.names().catch(() => [] as string[]);
    const files = journalFilesIn(names);
    const stored = names.includes('epoch') ? Number((await this.disk.read('epoch')).toString('utf8')) || 0 : 0;
    this.epoch = Math.max(stored, files.at(-1)?.epoch ?? 0);
    const fold = new Fold();
    const texts: string[] = [];
    for (const { file } of [...files].reverse()) {
      const text = (await this.disk.read(file).catch(() => Buffer.alloc(0))).toString('utf8');
      texts.unshift(text);
      const [first] = entriesOfLine(text.slice(0, Math.max(0, text.indexOf('\n'))));
      if (first?.kind === 'checkpoint') break;
      // Files of a version that wrote no checkpoints: the last one tells what is open.
      if (texts.length >= 2) break;
    }
    const now = this.clock.now();
    for (const text of texts)
      for (const line of text.split('\n')) for (const entry of entriesOfLine(line)) fold.add(entry, now);
    this.fold = fold;
  }

  /** Counts the engine's starts, and begins a file with what is known by then. What the engine before left open is closed. @returns the epoch */
  beginEpoch(words: string): number {
    this.rest = '';
    this.epoch += 1;
    this.parentCount = 0;
    this.part = 0;
    void this.disk.replace('epoch', String(this.epoch)).catch((error: unknown) => this.failed(error));
    this.openFile();
    this.append([...this.fold.closings(), { kind: 'engine', t: 0, words }]);
    return this.epoch;
  }

  /** The epoch that the next engine will have. */
  get nextEpoch(): number {
    return this.epoch + 1;
  }

  leftBehind(): LeftBehind {
    return this.fold.leftBehind();
  }

  get state(): DiskState {
    return { waiting: this.waitingBytes, dropped: this.dropped, trouble: this.trouble };
  }

  /** Text out of the engine's pipe, cut anywhere. */
  accept(text: string): void {
    const lines = (this.rest + text).split('\n');
    this.rest = lines.pop() ?? '';
    if (this.rest.length > LONGEST_LINE) this.rest = '';
    for (const line of lines) this.line(line);
  }

  /** Entries of the parent's own: what it saw of the engine, and did in its place. */
  append(events: readonly JournalEvent[]): void {
    if (events.length === 0) return;
    this.line(JSON.stringify(events.map((event) => this.numbered(event))));
  }

  /** The engine has ended and its pipe is read to its end: what it left open is closed. */
  engineEnded(words: string): void {
    this.rest = '';
    this.append([...this.fold.closings(), { kind: 'engine', t: this.fold.checkpoint().t, words }]);
  }

  /** Resolves when everything is on the disk, or after so many milliseconds without that. @returns whether it is */
  async flushed(limitMs: number): Promise<boolean> {
    if (this.queue.length === 0) return true;
    return new Promise((resolve) => {
      const cancel = this.clock.at(this.clock.now() + limitMs, () => resolve(this.queue.length === 0));
      this.settled.push(() => {
        cancel();
        resolve(true);
      });
    });
  }

  close(): void {
    this.closed = true;
  }

  private numbered<T extends object>(event: T): T & { seq: number; at: string } {
    this.parentCount += 1;
    const seq = this.epoch * SEQ_PER_EPOCH + PARENT_FROM + this.parentCount;
    return { ...event, seq, at: this.clock.wall().toISOString() };
  }

  private openFile(): void {
    this.target = { file: fileName(this.epoch, this.part), size: 0 };
    this.writeOut(`${JSON.stringify([this.numbered(this.fold.checkpoint())])}\n`);
  }

  private line(line: string): void {
    if (line === '') return;
    const entries = entriesOfLine(line);
    if (entries.length === 0) return;
    const now = this.clock.now();
    for (const entry of entries) this.fold.add(entry, now);
    if (this.waitingBytes > (this.options.mostWaiting ?? MOST_WAITING)) {
      const kept = entries.filter((entry) => !isStep(entry));
      this.dropped += entries.length - kept.length;
      if (kept.length > 0) this.writeOut(`${JSON.stringify(kept)}\n`);
      return;
    }
    this.writeOut(`${line}\n`);
  }

  private writeOut(text: string): void {
    const { target } = this;
    if (target === null) return;
    const bytes = Buffer.from(text);
    this.queue.push({ target, bytes });
    this.waitingBytes += bytes.length;
    target.size += bytes.length;
    if (target.size >= (this.options.rotateAt ?? ROTATE_AT)) {
      this.part += 1;
      this.openFile();
    }
    if (!this.writing) void this.work();
  }

  /** Puts out what waits, as much at a time as belongs to one file. */
  private async work(): Promise<void> {
    this.writing = true;
    try {
      while (this.queue.length > 0 && !this.closed) {
        const target = this.queue[0]?.target;
        if (target === undefined) break;
        const batch: Buffer[] = [];
        for (const item of this.queue) {
          if (item.target !== target) break;
          batch.push(item.bytes);
        }
        const bytes = Buffer.concat(batch);
        const already = this.written.get(target.file) ?? 0;
        try {
          await this.disk.write(target.file, already, bytes);
        } catch (error) {
          this.failed(error);
          await this.pause(Math.min(LONGEST_AGAIN_MS, AGAIN_MS * 2 ** Math.min(4, this.failures - 1)));
          continue;
        }
        this.written.set(target.file, already + bytes.length);
        this.queue.splice(0, batch.length);
        this.waitingBytes -= bytes.length;
        if (this.queue[0]?.target !== target && this.target !== target) this.written.delete(target.file);
        this.failures = 0;
        if (this.trouble !== null) {
          this.trouble = null;
          this.tellState();
        }
        if (this.dirty === null) this.clock.at(this.clock.now() + SYNC_MS, () => this.sync());
        this.dirty = target.file;
      }
    } finally {
      this.writing = false;
    }
    // What was told last may hold bytes that waited then.
    if (this.toldWaiting > 0 && this.waitingBytes === 0) this.tellState();
    for (const settle of this.settled.splice(0)) settle();
  }

  private tellState(): void {
    const { state } = this;
    this.toldWaiting = state.waiting;
    this.options.onState?.(state);
  }

  private readonly written = new Map<string, number>();

  private sync(): void {
    const { dirty } = this;
    this.dirty = null;
    if (dirty !== null && !this.closed) void this.disk.sync(dirty).catch((error: unknown) => this.failed(error));
  }

  private pause(ms: number): Promise<void> {
    return new Promise((resolve) => void this.clock.at(this.clock.now() + ms, resolve));
  }

  private failed(error: unknown): void {
    this.failures += 1;
    this.trouble = error instanceof Error ? error.message : String(error);
    this.tellState();
  }
}

const isStep = (entry: FileEntry): boolean => entry.kind === 'step' || entry.kind === 'stepEnd';
