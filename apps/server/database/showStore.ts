import type { HistoryReply } from '@umbek/protocol';
import {
  type Change,
  ENTITIES,
  type EntityName,
  entryOf,
  referenceOfChange,
  SHOW_VERSION,
  ShowDocument,
  upgradeChanges,
  upgradeShow,
} from '@umbek/core/show';
import { and, asc, count, desc, eq, getTableColumns, gt, inArray, sql } from 'drizzle-orm';
import { getTableConfig, type PgTable } from 'drizzle-orm/pg-core';
import type { Database } from './database';
import * as tables from './schema';

export interface StoredShow {
  readonly document: ShowDocument;
  readonly revision: number;
}

/** An edit as it is stored. */
export interface StoredEdit {
  readonly editId: string;
  readonly label: string;
  readonly by: string;
  readonly changes: readonly Change[];
  /**
   * `tonight` and `tonightOver` change nothing: from the one to the other, edits can be dropped as one. Nor does `handedOver`, from where on the
   * edits of one engineer are another one's to undo.
   */
  readonly kind: 'edit' | 'undo' | 'redo' | 'tonight' | 'tonightOver' | 'handedOver';
  /** For an undo or redo: the edit that is meant. */
  readonly of?: string;
}

export type HistoryEntries = HistoryReply['entries'];
export type Tonight = NonNullable<HistoryReply['tonight']>;
export type NextEdit = { readonly editId: string; readonly label: string; readonly changes: readonly Change[] } | null;

/** A row of the history, and what came after it. */
export interface EditsSince {
  readonly label: string;
  readonly at: string;
  readonly edits: readonly (readonly Change[])[];
}

/** Somebody else has stored an edit meanwhile, or one of ours was stored although its answer got lost. */
export class OtherRevision extends Error {}

/** Where the show is kept. Every call rejects while it is away; a call that rejects may have been carried out all the same. */
export interface ShowStore {
  /** The one show, brought up to today's version, or null when none was made. */
  load(): Promise<StoredShow | null>;
  /** The revision that is stored, or null when there is no show. */
  revision(): Promise<number | null>;
  /** Puts a whole show in place of whatever is there. */
  replace(document: ShowDocument, revision: number): Promise<void>;
  /** Stores what an edit changed, with the edit itself. All or nothing. @throws {@link OtherRevision} when the stored show is not at `revision − 1` */
  store(before: ShowDocument, after: ShowDocument, edit: StoredEdit, revision: number): Promise<void>;
  revisionOf(editId: string): Promise<number | null>;
  /**
   * The edit that an engineer's undo would take back (the last one that stands) or that their redo would do again (the first one taken back
   * since then: a new edit makes an end of what could be done again).
   */
  next(by: string, which: 'undo' | 'redo', show: ShowDocument): Promise<NextEdit>;
  /** What one engineer could undo or do again is from now on another one's, and so is tonight. @returns how many edits that is */
  handOver(from: string, to: string): Promise<number>;
  /** The last edits, newest first. */
  history(limit: number): Promise<HistoryEntries>;
  /** Every edit since one, oldest first, as it would be written today; null when there is none of this id. */
  since(editId: string, show: ShowDocument): Promise<EditsSince | null>;
  /** Where tonight began, with the number of edits since then; null while it is not tonight. */
  tonight(): Promise<Tonight | null>;
}

const NAMES = Object.keys(ENTITIES) as EntityName[];
type Row = Record<string, unknown>;

/** So many rows go in one statement: putting more of them together at once holds presses up. */
const ROWS_AT_ONCE = 200;

/** Columns of each table by the name of the field that they hold. */
const columnsOf = Object.fromEntries(
  NAMES.map((name) => [
    name,
    Object.entries(getTableColumns(tables[name] as PgTable)).map(
      ([field, column]) => [field, column.name, column.default] as const,
    ),
  ]),
) as unknown as Record<EntityName, readonly (readonly [field: string, column: string, usual: unknown])[]>;

/**
 * Rows go in as one JSON text that PostgreSQL takes apart: building a statement with a parameter for each field takes the engine's thread longer
 * than everything else of an edit.
 */
async function insertRows(
  tx: Pick<Database, 'execute'>,
  name: EntityName,
  entries: readonly object[],
  showId: string,
): Promise<void> {
  const table = sql.identifier(getTableConfig(tables[name] as PgTable).name);
  for (let at = 0; at < entries.length; at += ROWS_AT_ONCE) {
    const rows = entries.slice(at, at + ROWS_AT_ONCE).map((entry) => {
      const row: Row = {};
      // What an entry of an earlier version does not have is what the table says.
      for (const [field, column, usual] of columnsOf[name])
        row[column] = field === 'showId' ? showId : ((entry as Row)[field] ?? usual ?? null);
      return row;
    });
    await tx.execute(
      sql`insert into ${table} select * from jsonb_populate_recordset(null::${table}, ${JSON.stringify(rows)}::jsonb)`,
    );
  }
}

/** The show in PostgreSQL. */
export class PgShowStore implements ShowStore {
  constructor(
    private readonly db: Database,
    /** Brings the tables up to date, once; a database that was away at the start is brought up when it comes. */
    private readonly ready: () => Promise<void> = () => Promise.resolve(),
  ) {}

  async load(): Promise<StoredShow | null> {
    await this.ready();
    const { db } = this;
    const [show] = await db.select().from(tables.shows).limit(1);
    if (show === undefined) return null;
    const lists: Record<string, Row[]> = {};
    for (const name of NAMES) {
      const rows = (await db.select().from(tables[name] as PgTable)) as Row[];
      lists[name] = rows
        .filter((row) => row.showId === show.id)
        .map(({ showId: _showId, ...entry }) => entry)
        .sort((a, b) => (String(a.order ?? a.number) < String(b.order ?? b.number) ? -1 : 1));
    }
    const { id, name, frameRate, airOutputs, stick, timeZone } = show;
    const stored = { show: { id, name, frameRate, airOutputs, stick, timeZone }, ...lists };
    return { document: ShowDocument.parse(upgradeShow(stored, show.version)), revision: show.revision };
  }

  async revision(): Promise<number | null> {
    await this.ready();
    const [show] = await this.db.select({ revision: tables.shows.revision }).from(tables.shows).limit(1);
    return show?.revision ?? null;
  }

  async replace(document: ShowDocument, revision: number): Promise<void> {
    await this.ready();
    await this.db.transaction(async (tx) => {
      await tx.delete(tables.shows);
      await tx.insert(tables.shows).values({ ...document.show, revision, version: SHOW_VERSION });
      // An earlier version's show lacks the lists that came since.
      const lists: Partial<ShowDocument> = document;
      for (const name of NAMES) await insertRows(tx, name, lists[name] ?? [], document.show.id);
    });
  }

  async store(before: ShowDocument, after: ShowDocument, edit: StoredEdit, revision: number): Promise<void> {
    await this.ready();
    const showId = after.show.id;
    const touched = new Map<EntityName, Set<string>>();
    for (const { entity, id } of edit.changes)
      if (entity !== 'show') touched.set(entity, (touched.get(entity) ?? new Set()).add(id));
    await this.db.transaction(async (tx) => {
      const { id: _id, ...head } = after.show;
      const moved = await tx
        .update(tables.shows)
        .set({ ...(before.show === after.show ? {} : head), revision })
        .where(and(eq(tables.shows.id, showId), eq(tables.shows.revision, revision - 1)))
        .returning({ version: tables.shows.version });
      const [stored] = moved;
      if (stored === undefined) throw new OtherRevision();
      // Rows of an earlier version are all written anew with the first edit, so that one version holds for the whole show.
      if (stored.version !== SHOW_VERSION) {
        await tx.update(tables.shows).set({ version: SHOW_VERSION }).where(eq(tables.shows.id, showId));
        for (const name of NAMES) touched.set(name, new Set([...before[name], ...after[name]].map((item) => item.id)));
      }
      for (const [name, ids] of touched) {
        const table = tables[name] as typeof tables.panels;
        const now = [...ids].flatMap((item) => entryOf(after, name, item) ?? []);
        await tx
          .delete(table)
          .where(sql`${table.id} in (select jsonb_array_elements_text(${JSON.stringify([...ids])}::jsonb))`);
        await insertRows(tx, name, now, showId);
      }
      const { editId, label, by, changes, kind, of } = edit;
      await tx
        .insert(tables.edits)
        .values({ editId, showId, revision, label, by, changes, kind, version: SHOW_VERSION });
      if (of !== undefined)
        await tx
          .update(tables.edits)
          .set({ undone: kind === 'undo' })
          .where(eq(tables.edits.editId, of));
    });
  }

  async revisionOf(editId: string): Promise<number | null> {
    await this.ready();
    const [row] = await this.db
      .select({ revision: tables.edits.revision })
      .from(tables.edits)
      .where(eq(tables.edits.editId, editId));
    return row?.revision ?? null;
  }

  async next(by: string, which: 'undo' | 'redo', show: ShowDocument): Promise<NextEdit> {
    await this.ready();
    const { edits } = tables;
    const own = and(sql`coalesce(${edits.owner}, ${edits.by}) = ${by}`, eq(edits.kind, 'edit'));
    const columns = {
      editId: edits.editId,
      label: edits.label,
      changes: edits.changes,
      revision: edits.revision,
      version: edits.version,
    };
    const [standing] = await this.db
      .select(columns)
      .from(edits)
      .where(and(own, eq(edits.undone, false)))
      .orderBy(desc(edits.revision))
      .limit(1);
    const found =
      which === 'undo'
        ? standing
        : (
            await this.db
              .select(columns)
              .from(edits)
              .where(and(own, eq(edits.undone, true), gt(edits.revision, standing?.revision ?? 0)))
              .orderBy(asc(edits.revision))
              .limit(1)
          )[0];
    if (found === undefined) return null;
    const changes = upgradeChanges(found.changes as Change[], found.version, show);
    return { editId: found.editId, label: found.label, changes };
  }

  async handOver(from: string, to: string): Promise<number> {
    await this.ready();
    const { edits } = tables;
    const theirs = sql`coalesce(${edits.owner}, ${edits.by}) = ${from}`;
    const rows = await this.db
      .update(edits)
      .set({ owner: to })
      .where(and(theirs, inArray(edits.kind, ['edit', 'tonight'])))
      .returning({ kind: edits.kind });
    return rows.filter(({ kind }) => kind === 'edit').length;
  }

  async since(editId: string, show: ShowDocument): Promise<EditsSince | null> {
    await this.ready();
    const { edits } = tables;
    const [row] = await this.db.select().from(edits).where(eq(edits.editId, editId));
    if (row === undefined) return null;
    const rows = await this.db
      .select({ changes: edits.changes, version: edits.version })
      .from(edits)
      .where(and(eq(edits.showId, row.showId), gt(edits.revision, row.revision)))
      .orderBy(asc(edits.revision));
    return {
      label: row.label,
      at: row.takenAt.toISOString(),
      edits: rows.map(({ changes, version }) => upgradeChanges(changes as Change[], version, show)),
    };
  }

  async tonight(): Promise<Tonight | null> {
    await this.ready();
    const { edits } = tables;
    const [mark] = await this.db
      .select()
      .from(edits)
      .where(inArray(edits.kind, ['tonight', 'tonightOver']))
      .orderBy(desc(edits.revision))
      .limit(1);
    if (mark === undefined || mark.kind !== 'tonight') return null;
    const [counted] = await this.db
      .select({ edits: count() })
      .from(edits)
      .where(and(gt(edits.revision, mark.revision), eq(edits.kind, 'edit'), eq(edits.undone, false)));
    return {
      editId: mark.editId,
      by: mark.owner ?? mark.by,
      at: mark.takenAt.toISOString(),
      edits: counted?.edits ?? 0,
    };
  }

  async history(limit: number): Promise<HistoryEntries> {
    await this.ready();
    const rows = await this.db.select().from(tables.edits).orderBy(desc(tables.edits.revision)).limit(limit);
    return rows.map(({ editId, revision, label, by, owner, takenAt, kind, undone, changes }) => ({
      editId,
      revision,
      label,
      by,
      ...(owner === null || owner === by ? {} : { handedTo: owner }),
      at: takenAt.toISOString(),
      kind: kind as 'edit',
      undone,
      first: (changes as Change[]).slice(0, 1).map(referenceOfChange)[0] ?? null,
    }));
  }
}
