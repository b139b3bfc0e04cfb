import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import * as schema from './schema';

export type Database = NodePgDatabase<typeof schema>;

export interface OpenDatabase {
  readonly db: Database;
  close(): Promise<void>;
}

/**
 * Opens the pool. Connecting happens with the first query; errors of connections are the next query's to tell. A connection that is lent out
 * (a transaction between two statements) has no listener of the pool's: without one of ours, a server that dies then would end the engine.
 */
export function openDatabase(url: string): OpenDatabase {
  const pool = new pg.Pool({ connectionString: url, max: 4, connectionTimeoutMillis: 1500, query_timeout: 10_000 });
  pool.on('error', () => undefined);
  pool.on('connect', (client) => client.on('error', () => undefined));
  return { db: drizzle(pool, { schema }), close: () => pool.end() };
}

/** Brings the tables up to date. @throws when the database cannot be reached */
export const migrateDatabase = (db: Database, folder: string): Promise<void> =>
  migrate(db, { migrationsFolder: folder });

/** Brings the tables up to date once, whenever the database is first there: each call waits for it, and tries again what failed before. */
export function migratedOnce(db: Database, folder: string): () => Promise<void> {
  let under: Promise<void> | null = null;
  return () => {
    under ??= migrateDatabase(db, folder).catch((error: unknown) => {
      under = null;
      throw error;
    });
    return under;
  };
}
