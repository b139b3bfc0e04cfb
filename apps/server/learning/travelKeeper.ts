import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import { type Learned, type LearnedLimits, PtzSettings, type TravelRun, travelMs } from '@umbek/core/devices';
import type { Device } from '@umbek/core/show';
import { desc, eq } from 'drizzle-orm';
import { ulid } from 'ulid';
import type { Database } from '../database/database';
import { travels } from '../database/schema';

/** From so many of the latest recalls of a head it is learned. */
const RUNS_KEPT = 40;

interface Kept {
  readonly at: Date;
  readonly run: TravelRun;
}

/** One recall beside what was predicted of it. */
export interface TravelLine {
  readonly at: string;
  readonly from: TravelRun['from'];
  readonly to: TravelRun['to'];
  readonly measuredMs: number;
  readonly declaredMs: number;
  /** Null while too little is known. */
  readonly learnedMs: number | null;
}

interface Head {
  runs: Kept[];
  /** What the stored runs were learned with; another setting needs another fit. */
  settings: Record<string, unknown>;
  learned: Learned | null;
  /** The device's settings with the learned limits in them; one object as long as nothing changes. */
  merged: Record<string, unknown> | null;
}

/** Keeps the real recalls of every head, here and in PostgreSQL, and what they teach about its limits. */
export class TravelKeeper {
  private readonly heads = new Map<string, Head>();
  private readonly worker: Worker | null;

  constructor(private readonly db: Database) {
    const file = join(dirname(fileURLToPath(import.meta.url)), 'learner.mjs');
    this.worker = existsSync(file) ? new Worker(file) : null;
    this.worker?.on('message', ({ device, learned }: { device: string; learned: Learned | null }) =>
      this.taught(device, learned),
    );
    // Without the thread nothing is learned, and everything else goes on.
    this.worker?.on('error', () => undefined);
    this.worker?.unref();
  }

  /** Reads what earlier days have left. A database that is away leaves nothing to begin with. */
  async follow(devices: readonly Device[]): Promise<void> {
    for (const device of devices) {
      if (device.kind !== 'ptzHead') continue;
      const head = this.heads.get(device.key);
      if (head) {
        if (JSON.stringify(head.settings) !== JSON.stringify(device.settings))
          this.learn(device.key, { ...head, settings: device.settings });
        continue;
      }
      const fresh: Head = { runs: [], settings: device.settings, learned: null, merged: null };
      this.heads.set(device.key, fresh);
      const rows = await this.db
        .select()
        .from(travels)
        .where(eq(travels.device, device.key))
        .orderBy(desc(travels.at))
        .limit(RUNS_KEPT)
        .catch(() => []);
      fresh.runs = [...rows.reverse().map((row) => ({ at: row.at, run: row.run as TravelRun })), ...fresh.runs].slice(
        -RUNS_KEPT,
      );
      this.learn(device.key, fresh);
    }
  }

  /** A recall that really happened, with every reply heard. */
  add(device: string, run: TravelRun): void {
    const head = this.heads.get(device);
    if (!head) return;
    const at = new Date();
    head.runs = [...head.runs, { at, run }].slice(-RUNS_KEPT);
    // A lost row teaches a little less, no more.
    void this.db
      .insert(travels)
      .values({ id: ulid(), device, at, measuredMs: run.doneMs, run })
      .catch(() => undefined);
    this.learn(device, head);
  }

  /** Forgets what was learned of a head: it was replaced, or mended. */
  async forget(device: string): Promise<void> {
    const head = this.heads.get(device);
    if (head) Object.assign(head, { runs: [], learned: null, merged: null });
    await this.db.delete(travels).where(eq(travels.device, device));
  }

  /** Settings of a head with what was learned of it; undefined while what is declared stands. */
  settingsOf(device: string): Record<string, unknown> | undefined {
    return this.heads.get(device)?.merged ?? undefined;
  }

  /** Every head that is known better than declared, for rehearsals. */
  all(): ReadonlyMap<string, Record<string, unknown>> {
    return new Map([...this.heads].flatMap(([key, { merged }]) => (merged === null ? [] : [[key, merged]])));
  }

  report(device: Device): { learned: Learned | null; limits: LearnedLimits | null; lines: TravelLine[] } {
    const declared = PtzSettings.safeParse(device.settings);
    const head = this.heads.get(device.key);
    if (!declared.success || !head) return { learned: null, limits: null, lines: [] };
    const { learned } = head;
    const better = learned === null ? null : { ...declared.data, ...learned.limits };
    const lines = head.runs.map(({ at, run }): TravelLine => {
      const { from, to, doneMs } = run;
      return {
        at: at.toISOString(),
        from,
        to,
        measuredMs: Math.round(doneMs),
        declaredMs: Math.round(travelMs(from, to, declared.data)),
        learnedMs: better === null ? null : Math.round(travelMs(from, to, better)),
      };
    });
    return { learned, limits: learned?.limits ?? null, lines };
  }

  close(): void {
    void this.worker?.terminate();
  }

  private learn(device: string, head: Head): void {
    this.heads.set(device, head);
    this.worker?.postMessage({ device, runs: head.runs.map(({ run }) => run), settings: head.settings });
  }

  private taught(device: string, learned: Learned | null): void {
    const head = this.heads.get(device);
    if (!head) return;
    head.learned = learned;
    head.merged = learned === null ? null : { ...head.settings, ...learned.limits };
  }
}
