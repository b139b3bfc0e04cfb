import type { VersionReply, VersionsReply } from '@umbek/protocol';
import { SHOW_VERSION, ShowDocument, upgradeShow } from '@umbek/core/show';
import { desc, eq } from 'drizzle-orm';
import type { Database } from './database';
import { versions } from './schema';

/** A version that was kept when shows were described otherwise. */
export class UnreadableVersion extends Error {}

/** Kept versions of shows. Every call throws when the database is away. */
export class VersionStore {
  constructor(private readonly db: Database) {}

  async list(): Promise<VersionsReply['versions']> {
    const rows = await this.db
      .select({ id: versions.id, name: versions.name, by: versions.by, at: versions.at })
      .from(versions)
      .orderBy(desc(versions.at), desc(versions.id));
    return rows.map((row) => ({ ...row, at: row.at.toISOString() }));
  }

  /** Keeps a show; the same id again keeps nothing more. */
  async keep(
    version: { readonly id: string; readonly name: string; readonly by: string },
    document: ShowDocument,
  ): Promise<void> {
    await this.db
      .insert(versions)
      .values({ ...version, document, version: SHOW_VERSION })
      .onConflictDoNothing();
  }

  /** @returns the version with its show, or null when there is none of this id. @throws {@link UnreadableVersion} when its show is none of today's */
  async read(id: string): Promise<VersionReply | null> {
    const [row] = await this.db.select().from(versions).where(eq(versions.id, id)).limit(1);
    if (row === undefined) return null;
    const document = ShowDocument.safeParse(upgradeShow(row.document, row.version));
    if (!document.success) throw new UnreadableVersion(row.name);
    return { id: row.id, name: row.name, by: row.by, at: row.at.toISOString(), document: document.data };
  }

  /** @returns whether there was one */
  async drop(id: string): Promise<boolean> {
    return (await this.db.delete(versions).where(eq(versions.id, id)).returning({ id: versions.id })).length > 0;
  }
}
