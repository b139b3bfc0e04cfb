import type { ShowsReply } from '@umbek/protocol';
import { type PlainValue, SHOW_VERSION, ShowDocument, upgradeShow } from '@umbek/core/show';
import { desc, eq, sql } from 'drizzle-orm';
import type { Database } from './database';
import { closedShows } from './schema';
import { UnreadableVersion } from './versionStore';

/** Contents of show values by their keys. */
export type ValueContents = Readonly<Record<string, PlainValue>>;

export interface ClosedShow {
  readonly document: ShowDocument;
  readonly values: ValueContents;
}

/** Shows of this installation that are not open. Every call throws when the database is away. */
export class ShowShelf {
  constructor(private readonly db: Database) {}

  async list(): Promise<ShowsReply['shows']> {
    const count = (list: string) => sql<number>`jsonb_array_length(${closedShows.document} -> ${list})`.mapWith(Number);
    const rows = await this.db
      .select({
        id: closedShows.id,
        name: closedShows.name,
        at: closedShows.at,
        devices: count('devices'),
        panels: count('panels'),
        buttons: count('buttons'),
      })
      .from(closedShows)
      .orderBy(desc(closedShows.at), desc(closedShows.id));
    return rows.map((row) => ({ ...row, at: row.at.toISOString() }));
  }

  /** Puts a show away, in place of an earlier state of the same one. */
  async save(document: ShowDocument, values: ValueContents): Promise<void> {
    const row = { name: document.show.name, document, values, version: SHOW_VERSION, at: new Date() };
    await this.db
      .insert(closedShows)
      .values({ id: document.show.id, ...row })
      .onConflictDoUpdate({ target: closedShows.id, set: row });
  }

  /** @returns null when there is none of this id. @throws {@link UnreadableVersion} when its show is none of today's */
  async read(id: string): Promise<ClosedShow | null> {
    const [row] = await this.db.select().from(closedShows).where(eq(closedShows.id, id)).limit(1);
    if (row === undefined) return null;
    const document = ShowDocument.safeParse(upgradeShow(row.document, row.version));
    if (!document.success) throw new UnreadableVersion(row.name);
    return { document: document.data, values: row.values as ValueContents };
  }

  /** @returns whether there was one */
  async rename(id: string, name: string): Promise<boolean> {
    const renamed = await this.db
      .update(closedShows)
      .set({ name, document: sql`jsonb_set(${closedShows.document}, '{show,name}', to_jsonb(${name}::text))` })
      .where(eq(closedShows.id, id))
      .returning({ id: closedShows.id });
    return renamed.length > 0;
  }

  /** @returns whether there was one */
  async drop(id: string): Promise<boolean> {
    return (
      (await this.db.delete(closedShows).where(eq(closedShows.id, id)).returning({ id: closedShows.id })).length > 0
    );
  }
}
