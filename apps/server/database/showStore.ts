import type { HistoryReply } from '@umbek/core/api';
import { type Change, ENTITIES, type EntityName, ShowDocument } from '@umbek/core/show';
import { and, asc, desc, eq, gt, inArray } from 'drizzle-orm';
import type { PgTable } from 'drizzle-orm/pg-core';
import type { Database } from './database';
import * as tables from './schema';

export interface StoredShow {
  readonly document: ShowDocument;
  readonly revision: number;
}

const NAMES = Object.keys(ENTITIES) as EntityName[];
type Row = Record<string, unknown>;

/** The one show of this database, or null when none was made. @throws when the database is away or holds what no schema allows */
export async function loadShow(db: Database): Promise<StoredShow | null> {
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
  const document = ShowDocument.parse({ show: { id: show.id, name: show.name, frameRate: show.frameRate }, ...lists });
  return { document, revision: show.revision };
}

/** Puts a whole show in place of whatever is there, in one transaction. */
export async function replaceShow(db: Database, document: ShowDocument, revision = 1): Promise<void> {
  await db.transaction(async (tx) => {
    await tx.delete(tables.shows);
    await tx.insert(tables.shows).values({ ...document.show, revision });
    for (const name of NAMES) {
      const rows = document[name].map((entry) => ({ ...entry, showId: document.show.id }));
      if (rows.length > 0) await tx.insert(tables[name] as PgTable).values(rows);
    }
  });
}

/** An edit as it is stored. */
export interface StoredEdit {
  readonly editId: string;
  readonly label: string;
  readonly by: string;
  readonly changes: readonly Change[];
  readonly kind: 'edit' | 'undo' | 'redo';
  /** For an undo or redo: the edit that is meant. */
  readonly of?: string;
}

/** Stores what an edit changed, with the edit itself, in one transaction. */
export async function storeEdit(
  db: Database,
  before: ShowDocument,
  after: ShowDocument,
  edit: StoredEdit,
  revision: number,
): Promise<void> {
  const showId = after.show.id;
  const touched = new Set(edit.changes.map((change) => change.entity));
  await db.transaction(async (tx) => {
    for (const name of NAMES.filter((one) => touched.has(one))) {
      const table = tables[name] as typeof tables.panels;
      const [old, now] = [
        new Map<string, unknown>(before[name].map((one) => [one.id, one])),
        after[name] as readonly { id: string }[],
      ];
      const kept = new Set(now.map((one) => one.id));
      const gone = [...old.keys()].filter((one) => !kept.has(one));
      const changed = now.filter((one) => JSON.stringify(old.get(one.id)) !== JSON.stringify(one));
      const drop = [...gone, ...changed.map((one) => one.id)];
      if (drop.length > 0) await tx.delete(table).where(inArray(table.id, drop));
      if (changed.length > 0) await tx.insert(table).values(changed.map((entry) => ({ ...entry, showId })) as never);
    }
    await tx.update(tables.shows).set({ revision }).where(eq(tables.shows.id, showId));
    const { editId, label, by, changes, kind, of } = edit;
    await tx.insert(tables.edits).values({ editId, showId, revision, label, by, changes, kind });
    if (of !== undefined)
      await tx
        .update(tables.edits)
        .set({ undone: kind === 'undo' })
        .where(eq(tables.edits.editId, of));
  });
}

/**
 * The edit that an engineer's undo would take back (the last one that stands) or that their redo would do again (the first one taken back
 * since then: a new edit makes an end of what could be done again).
 */
export async function nextOf(
  db: Database,
  by: string,
  which: 'undo' | 'redo',
): Promise<{ editId: string; label: string; changes: Change[] } | null> {
  const { edits } = tables;
  const own = and(eq(edits.by, by), eq(edits.kind, 'edit'));
  const columns = { editId: edits.editId, label: edits.label, changes: edits.changes, revision: edits.revision };
  const [standing] = await db
    .select(columns)
    .from(edits)
    .where(and(own, eq(edits.undone, false)))
    .orderBy(desc(edits.revision))
    .limit(1);
  const found =
    which === 'undo'
      ? standing
      : (
          await db
            .select(columns)
            .from(edits)
            .where(and(own, eq(edits.undone, true), gt(edits.revision, standing?.revision ?? 0)))
            .orderBy(asc(edits.revision))
            .limit(1)
        )[0];
  return found ? { editId: found.editId, label: found.label, changes: found.changes as Change[] } : null;
}

/** The last edits, newest first. */
export async function history(db: Database, limit: number): Promise<HistoryReply['entries']> {
  const rows = await db.select().from(tables.edits).orderBy(desc(tables.edits.revision)).limit(limit);
  return rows.map(({ editId, revision, label, by, takenAt, kind, undone }) => ({
    editId,
    revision,
    label,
    by,
    at: takenAt.toISOString(),
    kind: kind as 'edit',
    undone,
  }));
}

/** The revision that an edit id was stored under, or null. */
export async function revisionOfEdit(db: Database, editId: string): Promise<number | null> {
  const [row] = await db
    .select({ revision: tables.edits.revision })
    .from(tables.edits)
    .where(eq(tables.edits.editId, editId));
  return row?.revision ?? null;
}
