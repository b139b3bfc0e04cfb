import { type FileHandle, open } from 'node:fs/promises';
import { join } from 'node:path';
import { type AsRunEntry, entriesOfLine, SEQ_PER_EPOCH } from './entry';
import { journalFiles } from './files';

/** What the log is looked through for. */
export interface LogFilter {
  /** Only entries before this number. */
  readonly before?: number;
  readonly device?: string;
  readonly kinds?: readonly string[];
  /** Person or station of a press. */
  readonly person?: string;
}

const CHUNK = 256 * 1024;
/** A line that is longer than this is passed over. */
const LONGEST_LINE = 4 * 1024 * 1024;
/** So much of the files is gone through for one question. */
const MOST_BYTES = 256 * 1024 * 1024;

export function fits(entry: AsRunEntry, filter: LogFilter): boolean {
  const { device, person, station } = entry as Partial<Record<'device' | 'person' | 'station', string>>;
  return (
    (filter.before === undefined || entry.seq < filter.before) &&
    (filter.device === undefined || device === filter.device) &&
    (filter.kinds === undefined || filter.kinds.includes(entry.kind)) &&
    (filter.person === undefined || person === filter.person || station?.replace(/#\d+$/, '') === filter.person)
  );
}

const shown = (line: string): AsRunEntry[] =>
  entriesOfLine(line).flatMap((entry) => (entry.kind === 'checkpoint' ? [] : [entry]));

/** Reads the as-run from its files, for while the database is away: in pieces, forwards or backwards, never a file as a whole. Belongs on the helper's thread. */
export class LogReader {
  constructor(private readonly folder: string) {}

  /** Entries after a number, oldest first. */
  async after(after: number, limit: number): Promise<AsRunEntry[]> {
    const found: AsRunEntry[] = [];
    const files = (await journalFiles(this.folder)).filter(({ epoch }) => (epoch + 1) * SEQ_PER_EPOCH > after);
    for (const { file } of files) {
      for await (const line of this.forwards(file)) {
        for (const entry of shown(line)) if (entry.seq > after) found.push(entry);
        if (found.length >= limit) return found.slice(0, limit);
      }
    }
    return found;
  }

  /** Entries that fit, newest first. */
  async latest(filter: LogFilter, limit: number): Promise<AsRunEntry[]> {
    const found: AsRunEntry[] = [];
    for (const { file } of (await journalFiles(this.folder)).reverse()) {
      for await (const line of this.backwards(file)) {
        for (const entry of shown(line).reverse()) if (fits(entry, filter)) found.push(entry);
        if (found.length >= limit) return found.slice(0, limit);
      }
    }
    return found;
  }

  /** All entries of a run, oldest first. */
  async run(runId: string): Promise<AsRunEntry[]> {
    const found: AsRunEntry[] = [];
    for (const { file } of (await journalFiles(this.folder)).reverse()) {
      for await (const line of this.backwards(file)) {
        if (!line.includes(runId)) continue;
        const own = shown(line).filter((entry) => entry.runId === runId);
        found.unshift(...own);
        if (own.some((entry) => entry.kind === 'runStart')) return found;
      }
    }
    return found;
  }

  private async *forwards(file: string): AsyncGenerator<string> {
    const handle = await open(join(this.folder, file), 'r').catch(() => null);
    if (handle === null) return;
    try {
      let rest: Buffer = Buffer.alloc(0);
      let skipping = false;
      for (let at = 0; at < MOST_BYTES;) {
        const piece = await read(handle, at, CHUNK);
        if (piece.length === 0) break;
        at += piece.length;
        const text = Buffer.concat([rest, piece]);
        let from = 0;
        for (let end = text.indexOf(10); end >= 0; end = text.indexOf(10, from)) {
          if (!skipping) yield text.subarray(from, end).toString('utf8');
          skipping = false;
          from = end + 1;
        }
        rest = text.subarray(from);
        if (rest.length > LONGEST_LINE) {
          skipping = true;
          rest = Buffer.alloc(0);
        }
      }
    } finally {
      await handle.close();
    }
  }

  private async *backwards(file: string): AsyncGenerator<string> {
    const handle = await open(join(this.folder, file), 'r').catch(() => null);
    if (handle === null) return;
    try {
      let at = (await handle.stat()).size;
      let rest: Buffer = Buffer.alloc(0);
      let skipping = false;
      for (let gone = 0; at > 0 && gone < MOST_BYTES;) {
        const length = Math.min(CHUNK, at);
        at -= length;
        gone += length;
        const text = Buffer.concat([await read(handle, at, length), rest]);
        let to = text.length;
        for (let end = text.lastIndexOf(10); end >= 0; end = end === 0 ? -1 : text.lastIndexOf(10, end - 1)) {
          if (end + 1 < to && !skipping) yield text.subarray(end + 1, to).toString('utf8');
          skipping = false;
          to = end;
        }
        rest = text.subarray(0, to);
        if (rest.length > LONGEST_LINE) {
          skipping = true;
          rest = Buffer.alloc(0);
        }
      }
      if (rest.length > 0 && !skipping) yield rest.toString('utf8');
    } finally {
      await handle.close();
    }
  }
}

async function read(handle: FileHandle, at: number, length: number): Promise<Buffer> {
  const { buffer, bytesRead } = await handle.read(Buffer.alloc(length), 0, length, at);
  return buffer.subarray(0, bytesRead);
}
