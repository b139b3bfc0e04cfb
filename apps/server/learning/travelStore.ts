import type { TravelRun } from '@umbek/core/devices';
import { desc, eq } from 'drizzle-orm';
import { ulid } from 'ulid';
import type { Database } from '../database/database';
import { travels } from '../database/schema';

/** A recall that really happened, and when. */
export interface KeptRun {
  readonly at: Date;
  readonly run: TravelRun;
}

/** Rows of real recalls; every call may fail. */
export interface TravelStore {
  /** Oldest first. */
  latest(device: string, limit: number): Promise<KeptRun[]>;
  add(device: string, at: Date, run: TravelRun): Promise<void>;
  forget(device: string): Promise<void>;
}

/** In PostgreSQL. */
export class PgTravelStore implements TravelStore {
  constructor(private readonly db: Database) {}

  async latest(device: string, limit: number): Promise<KeptRun[]> {
    const rows = await this.db
      .select()
      .from(travels)
      .where(eq(travels.device, device))
      .orderBy(desc(travels.at))
      .limit(limit);
    return rows.reverse().map((row) => ({ at: row.at, run: row.run as TravelRun }));
  }

  async add(device: string, at: Date, run: TravelRun): Promise<void> {
    await this.db.insert(travels).values({ id: ulid(), device, at, measuredMs: run.doneMs, run });
  }

  async forget(device: string): Promise<void> {
    await this.db.delete(travels).where(eq(travels.device, device));
  }
}
