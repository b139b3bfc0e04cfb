import { Rights, type Right } from '@umbek/protocol';
import { asc, eq } from 'drizzle-orm';
import type { Database } from '../database/database';
import { crewMembers } from '../database/schema';

/** Somebody who works here, as kept: never the pass phrase. */
export interface KeptMember {
  readonly id: string;
  readonly name: string;
  /** What a station may do beside its own rights while this person is signed in at it. */
  readonly rights: readonly Right[];
  /** Argon2id of the pass phrase, with its salt and its cost; null: there is none. */
  readonly phrase: string | null;
}

/** Where the crew is kept. Every call throws when the database is away. */
export interface CrewStore {
  list(): Promise<KeptMember[]>;
  /** Keeps somebody as they are now, new or changed. */
  save(member: KeptMember): Promise<void>;
  drop(id: string): Promise<void>;
}

/** The crew in PostgreSQL. */
export class PgCrewStore implements CrewStore {
  constructor(
    private readonly db: Database,
    private readonly ready: () => Promise<void>,
  ) {}

  async list(): Promise<KeptMember[]> {
    await this.ready();
    const rows = await this.db.select().from(crewMembers).orderBy(asc(crewMembers.name), asc(crewMembers.id));
    // What cannot be read may look, and nothing else.
    return rows.map((row) => ({ ...row, rights: Rights.safeParse(row.rights).data ?? ['see'] }));
  }

  async save({ rights, ...member }: KeptMember): Promise<void> {
    await this.ready();
    const row = { ...member, rights: [...rights] };
    await this.db.insert(crewMembers).values(row).onConflictDoUpdate({ target: crewMembers.id, set: row });
  }

  async drop(id: string): Promise<void> {
    await this.ready();
    await this.db.delete(crewMembers).where(eq(crewMembers.id, id));
  }
}
