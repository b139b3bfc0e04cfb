import { open } from 'node:fs/promises';
import { join } from 'node:path';
import { and, asc, desc, eq, gt, inArray, lt, sql } from 'drizzle-orm';
import type { Database } from '../database/database';
import { asRun, journalCursors } from '../database/schema';
import type { Helper } from '../helper/helper';
import { type AsRunEntry, PARENT_FROM, SEQ_PER_EPOCH } from './entry';
import { journalFiles } from './files';
import type { LogFilter } from './logReader';

const EVERY_MS = 100;
const AWAY_MS = 1000;
const CHUNK_BYTES = 512 * 1024;
const LONGEST_CHUNK_BYTES = 32 * 1024 * 1024;
/** What was just told is waited for so long: it goes through the parent and the disk first. */
const LATEST_MS = 500;

/**
 * Takes the local journal into PostgreSQL in batches. The cursor moves in the same transaction as the rows, and rows are keyed by seq:
 * whatever fails half way is simply done again.
 */
export class Projection {
  away = false;
  /** Lines that the database did not take. */
  leftOut = 0;
  /** Number of the engine's latest entry that was taken over. */
  private lastSeq = 0;
  /** Files that were taken over to their end and grow no more. */
  private readonly whole = new Set<string>();
  private running: Promise<void> | null = null;
  private timer: NodeJS.Timeout | null = null;
  private closed = false;

  constructor(
    private readonly db: Database,
    private readonly folder: string,
    /** Names this data folder, so that several may share a database. */
    private readonly installation: string,
    /** Reads the files while the database is away. */
    private readonly helper: () => Helper,
    /** Waits until the tables are up to date. */
    private readonly ready: () => Promise<void> = () => Promise.resolve(),
    private readonly onAway: (away: boolean) => void = () => undefined,
  ) {}

  start(): void {
    const again = (): void => {
      if (this.closed) return;
      this.timer = setTimeout(() => void this.catchUp().finally(again), this.away ? AWAY_MS : EVERY_MS);
    };
    again();
  }

  async close(): Promise<void> {
    this.closed = true;
    if (this.timer) clearTimeout(this.timer);
    await this.catchUp();
  }

  /** Brings PostgreSQL up to what the journal files hold now. Never throws: `away` tells. */
  catchUp(): Promise<void> {
    this.running ??= this.work()
      .then(
        () => this.setAway(false),
        () => this.setAway(true),
      )
      .finally(() => {
        this.running = null;
      });
    return this.running;
  }

  /** Brings PostgreSQL up to an entry that was just told, or gives that up after half a second. */
  async upTo(seq: number): Promise<void> {
    for (const end = Date.now() + LATEST_MS; ;) {
      await this.catchUp();
      if (this.away || this.lastSeq >= seq || Date.now() > end) return;
      await new Promise((next) => setTimeout(next, 5));
    }
  }

  /** Entries after a number, oldest first: from PostgreSQL, or from the files while it is away. */
  async read(after: number, limit: number): Promise<AsRunEntry[]> {
    if (!this.away) {
      try {
        const rows = await this.db
          .select({ entry: asRun.entry })
          .from(asRun)
          .where(gt(asRun.seq, after))
          .orderBy(asc(asRun.seq))
          .limit(limit);
        return rows.map((row) => row.entry as AsRunEntry);
      } catch {
        this.setAway(true);
      }
    }
    return this.helper().ask('logAfter', { after, limit });
  }

  /** Entries that fit the filters, newest first. */
  async readLatest(filter: LogFilter, limit: number): Promise<AsRunEntry[]> {
    if (!this.away) {
      try {
        const conditions = [
          filter.before === undefined ? undefined : lt(asRun.seq, filter.before),
          filter.device === undefined ? undefined : eq(asRun.device, filter.device),
          filter.kinds === undefined ? undefined : inArray(asRun.kind, [...filter.kinds]),
          filter.person === undefined
            ? undefined
            : sql`(${asRun.entry}->>'person' = ${filter.person} or regexp_replace(${asRun.entry}->>'station', '#[0-9]+$', '') = ${filter.person})`,
        ];
        const rows = await this.db
          .select({ entry: asRun.entry })
          .from(asRun)
          .where(and(...conditions))
          .orderBy(desc(asRun.seq))
          .limit(limit);
        return rows.map((row) => row.entry as AsRunEntry);
      } catch {
        this.setAway(true);
      }
    }
    return this.helper().ask('logLatest', { filter, limit });
  }

  async readRun(runId: string): Promise<AsRunEntry[]> {
    if (!this.away) {
      try {
        const rows = await this.db
          .select({ entry: asRun.entry })
          .from(asRun)
          .where(eq(asRun.runId, runId))
          .orderBy(asc(asRun.seq))
          .limit(20_000);
        return rows.map((row) => row.entry as AsRunEntry);
      } catch {
        this.setAway(true);
      }
    }
    return this.helper().ask('logRun', { runId });
  }

  private async work(): Promise<void> {
    await this.ready();
    const known = await this.db.select().from(journalCursors).where(eq(journalCursors.installation, this.installation));
    const offsets = new Map(known.map((row) => [row.file, row.offset]));
    const files = await journalFiles(this.folder);
    for (const [index, { file }] of files.entries()) {
      if (this.whole.has(file)) continue;
      let offset = offsets.get(file) ?? 0;
      for (let read = await this.chunk(file, offset); read !== null; read = await this.chunk(file, offset)) {
        await this.store(file, read.text, read.end);
        offset = read.end;
      }
      // Only the two newest still grow: the one that is written, and the one that was begun meanwhile.
      if (index < files.length - 2) this.whole.add(file);
    }
  }

  /** Whole lines from an offset on, or null when there are none. A line longer than a piece is read in a larger one. */
  private async chunk(file: string, offset: number): Promise<{ text: string; end: number } | null> {
    const handle = await open(join(this.folder, file), 'r');
    try {
      // What is no file of a length (a device, a pipe) may give bytes without end.
      if (offset >= (await handle.stat()).size) return null;
      for (let size = CHUNK_BYTES; size <= LONGEST_CHUNK_BYTES; size *= 4) {
        const { buffer, bytesRead } = await handle.read(Buffer.alloc(size), 0, size, offset);
        const whole = buffer.subarray(0, bytesRead).lastIndexOf(10) + 1;
        if (whole > 0) return { text: buffer.subarray(0, whole).toString('utf8'), end: offset + whole };
        if (bytesRead < size) return null;
      }
      // No engine writes such a line: it is passed over.
      return { text: '', end: offset + LONGEST_CHUNK_BYTES };
    } finally {
      await handle.close();
    }
  }

  private async store(file: string, text: string, end: number): Promise<void> {
    try {
      await this.insert(file, arrayOf(text), end);
    } catch (error) {
      if (!isDataFault(error)) throw error;
      // One line that the database does not take must not keep the others from it.
      for (const line of text.split('\n')) {
        await this.insert(file, arrayOf(line), null).catch((fault: unknown) => {
          if (!isDataFault(fault)) throw fault;
          this.leftOut += 1;
        });
      }
      await this.insert(file, '', end);
    }
    const last = /.*"seq":(\d+)/s.exec(text.slice(-4000))?.[1];
    if (last !== undefined && Number(last) % SEQ_PER_EPOCH < PARENT_FROM) this.lastSeq = Number(last);
  }

  /** @param end how far the file is taken by then; null leaves that as it is */
  private async insert(file: string, lines: string, end: number | null): Promise<void> {
    await this.db.transaction(async (tx) => {
      // One parameter for the whole batch: PostgreSQL takes the lines apart, not the process that serves the presses.
      if (lines !== '')
        await tx.execute(sql`
        insert into as_run (seq, at, kind, run_id, device, refused, entry)
        select (e->>'seq')::bigint, (e->>'at')::timestamptz, e->>'kind', e->>'runId', e->>'device', e->>'kind' = 'refusal', e
        from jsonb_array_elements(${lines}::jsonb) as e
        where e->>'kind' <> 'checkpoint'
        on conflict (seq) do nothing`);
      if (end === null) return;
      const cursor = { installation: this.installation, file, offset: end };
      await tx
        .insert(journalCursors)
        .values(cursor)
        .onConflictDoUpdate({ target: [journalCursors.installation, journalCursors.file], set: { offset: end } });
    });
  }

  private setAway(away: boolean): void {
    if (this.away === away) return;
    this.away = away;
    this.onAway(away);
  }
}

/** Lines, each an array, as one JSON array; a line that a crash cut off is left out. */
function arrayOf(text: string): string {
  const lines = text.split('\n').filter((line) => line.startsWith('[{') && line.endsWith('}]'));
  if (lines.length === 0) return '';
  // PostgreSQL takes no NUL in a text, and a device may have said one.
  return `[${lines.map((line) => line.slice(1, -1)).join(',')}]`.replaceAll('\\u0000', '\\ufffd');
}

/** SQLSTATE classes 22 (data exception) and 23 (integrity): the statement is at fault, not the database. */
function isDataFault(error: unknown): boolean {
  const { code, cause } = error as { code?: unknown; cause?: { code?: unknown } };
  const state = String(cause?.code ?? code ?? '');
  return /^2[23]/.test(state);
}
