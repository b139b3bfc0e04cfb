import { open } from 'node:fs/promises';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { and, asc, desc, eq, gt, inArray, lt, sql } from 'drizzle-orm';
import type { Database } from '../database/database';
import { asRun, journalCursors } from '../database/schema';
import { type AsRunEntry, entriesOf, journalFiles } from './localJournal';

const EVERY_MS = 100;
const AWAY_MS = 1000;
const CHUNK_BYTES = 512 * 1024;

/**
 * Takes the local journal into PostgreSQL in batches. The cursor moves in the same transaction as the rows, and rows are keyed by seq:
 * whatever fails half way is simply done again.
 */
export class Projection {
  away = false;
  private running: Promise<void> | null = null;
  private timer: NodeJS.Timeout | null = null;
  private closed = false;

  constructor(
    private readonly db: Database,
    private readonly folder: string,
    /** Names this data folder, so that several may share a database. */
    private readonly installation: string,
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

  /** Entries after a number, oldest first: from PostgreSQL, or from the files while it is away. */
  async read(after: number, limit: number): Promise<AsRunEntry[]> {
    await this.catchUp();
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
    return this.readFiles((entry) => entry.seq > after, limit);
  }

  /** Entries that fit the filters, newest first. */
  async readLatest(filter: LogFilter, limit: number): Promise<AsRunEntry[]> {
    await this.catchUp();
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
    return this.readFiles((entry) => fits(entry, filter), Number.MAX_SAFE_INTEGER)
      .slice(-limit)
      .reverse();
  }

  async readRun(runId: string): Promise<AsRunEntry[]> {
    await this.catchUp();
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
    return this.readFiles((entry) => entry.runId === runId, 20_000);
  }

  private readFiles(which: (entry: AsRunEntry) => boolean, limit: number): AsRunEntry[] {
    const found: AsRunEntry[] = [];
    for (const { file } of journalFiles(this.folder)) {
      found.push(...entriesOf(readFileSync(join(this.folder, file), 'utf8')).filter(which));
      if (found.length >= limit) break;
    }
    return found.slice(0, limit);
  }

  private async work(): Promise<void> {
    const known = await this.db.select().from(journalCursors).where(eq(journalCursors.installation, this.installation));
    const offsets = new Map(known.map((row) => [row.file, row.offset]));
    for (const { file } of journalFiles(this.folder)) {
      let offset = offsets.get(file) ?? 0;
      for (let read = await this.chunk(file, offset); read !== null; read = await this.chunk(file, offset)) {
        await this.store(file, read.lines, read.end);
        offset = read.end;
      }
    }
  }

  /** Whole lines from an offset on as one JSON array, or null when there are none. */
  private async chunk(file: string, offset: number): Promise<{ lines: string; end: number } | null> {
    const handle = await open(join(this.folder, file), 'r');
    try {
      const { buffer, bytesRead } = await handle.read(Buffer.alloc(CHUNK_BYTES), 0, CHUNK_BYTES, offset);
      const whole = buffer.subarray(0, bytesRead).lastIndexOf(10) + 1;
      return whole === 0 ? null : { lines: arrayOf(buffer.subarray(0, whole).toString('utf8')), end: offset + whole };
    } finally {
      await handle.close();
    }
  }

  private async store(file: string, lines: string, end: number): Promise<void> {
    await this.db.transaction(async (tx) => {
      // One parameter for the whole batch: PostgreSQL takes the lines apart, not the process that serves the presses.
      if (lines !== '')
        await tx.execute(sql`
        insert into as_run (seq, at, kind, run_id, device, refused, entry)
        select (e->>'seq')::bigint, (e->>'at')::timestamptz, e->>'kind', e->>'runId', e->>'device', e->>'kind' = 'refusal', e
        from jsonb_array_elements(${lines}::jsonb) as e
        on conflict (seq) do nothing`);
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

/** What the log is looked through for. */
export interface LogFilter {
  /** Only entries before this number. */
  readonly before?: number;
  readonly device?: string;
  readonly kinds?: readonly string[];
  /** Person or station of a press. */
  readonly person?: string;
}

function fits(entry: AsRunEntry, filter: LogFilter): boolean {
  const { device, person, station } = entry as Partial<Record<'device' | 'person' | 'station', string>>;
  return (
    (filter.before === undefined || entry.seq < filter.before) &&
    (filter.device === undefined || device === filter.device) &&
    (filter.kinds === undefined || filter.kinds.includes(entry.kind)) &&
    (filter.person === undefined || person === filter.person || station?.replace(/#\d+$/, '') === filter.person)
  );
}

/** Lines, each an array, as one JSON array; a line that a crash cut off is left out. */
function arrayOf(text: string): string {
  const lines = text.split('\n').filter((line) => line.startsWith('[{') && line.endsWith('}]'));
  return lines.length === 0 ? '' : `[${lines.map((line) => line.slice(1, -1)).join(',')}]`;
}
