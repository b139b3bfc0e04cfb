import { Rights, type Right } from '@umbek/protocol';
import { asc, eq } from 'drizzle-orm';
import type { Database } from '../database/database';
import { stationKeys } from '../database/schema';
import { z } from 'zod';

/** A station that was let in, as it is kept: never its key. */
export interface KeptStation {
  readonly id: string;
  readonly name: string;
  readonly person: string;
  /** What it said of itself, such as *Phone, Firefox*. */
  readonly device: string;
  readonly rights: readonly Right[];
  /** SHA-256 of its key, in hexadecimal. */
  readonly hash: string;
  /** Of the key that was offered in its place, and not used yet. */
  readonly nextHash: string | null;
  /** Of the key before this one: whoever still comes with it has a copy. */
  readonly retiredHash: string | null;
  /** Since when it has its key. */
  readonly keyFrom: string;
  readonly joinedAt: string;
  /** Who of the crew is signed in at it, and until when; null: nobody. */
  readonly signedIn: SignedIn | null;
}

export const SignedIn = z.object({ crew: z.string(), until: z.iso.datetime() });
export type SignedIn = z.infer<typeof SignedIn>;

/** Where stations that were let in are kept. Every call throws when the database is away. */
export interface StationStore {
  list(): Promise<KeptStation[]>;
  /** Keeps it as it is now, new or changed. */
  save(station: KeptStation): Promise<void>;
  drop(id: string): Promise<void>;
}

/** Stations in PostgreSQL. */
export class PgStationStore implements StationStore {
  constructor(
    private readonly db: Database,
    private readonly ready: () => Promise<void>,
  ) {}

  async list(): Promise<KeptStation[]> {
    await this.ready();
    const rows = await this.db.select().from(stationKeys).orderBy(asc(stationKeys.joinedAt), asc(stationKeys.id));
    return rows.map(({ rights, keyFrom, joinedAt, signedIn, ...row }) => ({
      ...row,
      // What cannot be read may look, and nothing else.
      rights: Rights.safeParse(rights).data ?? ['see'],
      keyFrom: keyFrom.toISOString(),
      joinedAt: joinedAt.toISOString(),
      signedIn: SignedIn.nullable().safeParse(signedIn).data ?? null,
    }));
  }

  async save({ keyFrom, joinedAt, rights, ...station }: KeptStation): Promise<void> {
    await this.ready();
    const row = { ...station, rights: [...rights], keyFrom: new Date(keyFrom), joinedAt: new Date(joinedAt) };
    await this.db.insert(stationKeys).values(row).onConflictDoUpdate({ target: stationKeys.id, set: row });
  }

  async drop(id: string): Promise<void> {
    await this.ready();
    await this.db.delete(stationKeys).where(eq(stationKeys.id, id));
  }
}
