import type { TravelRun } from '@umbek/core/devices';
import { applyEdit, type Change, type ShowDocument } from '@umbek/core/show';
import {
  type HistoryEntries,
  type NextEdit,
  OtherRevision,
  type ShowStore,
  type StoredEdit,
  type StoredShow,
} from '../apps/server/database/showStore';
import type { ShowCopy } from '../apps/server/engine/showCopy';
import type { Helper, QuestionName, Questions, Telling } from '../apps/server/helper/helper';
import { HelperWork } from '../apps/server/helper/helperWork';
import { LogReader } from '../apps/server/journal/logReader';
import type { TravelStore } from '../apps/server/learning/travelStore';
import type { SimClock, SimProcess } from './processes';

/** A database in memory. Away, it answers nothing; its answers can get lost although the work was done. */
export class MemoryStore implements ShowStore {
  away = false;
  loseAnswers = 0;
  private stored: StoredShow | null = null;
  private readonly edits = new Map<string, { revision: number; edit: StoredEdit; undone: boolean }>();

  constructor(
    private readonly clock: SimClock,
    private readonly delayMs: () => number,
  ) {}

  get now(): StoredShow | null {
    return this.stored;
  }

  private async call<T>(work: () => T): Promise<T> {
    await this.clock.pause(this.delayMs());
    if (this.away) throw new Error('The database is away.');
    const result = work();
    if (this.loseAnswers > 0) {
      this.loseAnswers -= 1;
      await this.clock.pause(10);
      throw new Error('The connection broke before the answer came.');
    }
    await this.clock.pause(this.delayMs());
    return result;
  }

  load(): Promise<StoredShow | null> {
    return this.call(() => this.stored);
  }

  revision(): Promise<number | null> {
    return this.call(() => this.stored?.revision ?? null);
  }

  replace(document: ShowDocument, revision: number): Promise<void> {
    return this.call(() => void (this.stored = { document, revision }));
  }

  store(_before: ShowDocument, after: ShowDocument, edit: StoredEdit, revision: number): Promise<void> {
    return this.call(() => {
      if (this.stored?.revision !== revision - 1) throw new OtherRevision();
      this.stored = { document: after, revision };
      this.edits.set(edit.editId, { revision, edit, undone: false });
      const of = edit.of === undefined ? undefined : this.edits.get(edit.of);
      if (of) of.undone = edit.kind === 'undo';
    });
  }

  revisionOf(editId: string): Promise<number | null> {
    return this.call(() => this.edits.get(editId)?.revision ?? null);
  }

  next(by: string, which: 'undo' | 'redo'): Promise<NextEdit> {
    return this.call(() => {
      const own = [...this.edits.values()].filter(({ edit }) => edit.by === by && edit.kind === 'edit');
      const standing = own.filter(({ undone }) => !undone).at(-1);
      const found =
        which === 'undo'
          ? standing
          : own.find(({ undone, revision }) => undone && revision > (standing?.revision ?? 0));
      return found?.edit ?? null;
    });
  }

  handOver(): Promise<number> {
    return this.call(() => 0);
  }

  since(): Promise<null> {
    return this.call(() => null);
  }

  tonight(): Promise<null> {
    return this.call(() => null);
  }

  history(): Promise<HistoryEntries> {
    return this.call(() => []);
  }
}

/** A copy of the show on the simulated disk. */
export class MemoryCopy implements ShowCopy {
  full = false;
  private kept: StoredShow | null = null;
  private lines: { changes: readonly Change[]; revision: number }[] = [];

  constructor(private readonly clock: SimClock) {}

  async load(): Promise<StoredShow | null> {
    await this.clock.pause(1);
    if (this.kept === null) return null;
    let { document, revision } = this.kept;
    for (const line of this.lines) {
      if (line.revision !== revision + 1) continue;
      const changed = applyEdit(document, line);
      if (!changed.ok) break;
      document = changed.value;
      ({ revision } = line);
    }
    return { document, revision };
  }

  async keep(show: StoredShow): Promise<void> {
    await this.write();
    this.kept = show;
    this.lines = [];
  }

  async add(changes: readonly Change[], revision: number): Promise<void> {
    await this.write();
    this.lines.push({ changes, revision });
  }

  keepReplaced(): Promise<void> {
    return this.write();
  }

  replaced(): Promise<ShowDocument | null> {
    return Promise.resolve(null);
  }

  private async write(): Promise<void> {
    await this.clock.pause(2);
    if (this.full) throw new Error('ENOSPC');
  }
}

export class MemoryTravels implements TravelStore {
  private readonly rows = new Map<string, { at: Date; run: TravelRun }[]>();

  constructor(private readonly clock: SimClock) {}

  async latest(device: string, limit: number) {
    await this.clock.pause(2);
    return (this.rows.get(device) ?? []).slice(-limit);
  }

  async add(device: string, at: Date, run: TravelRun): Promise<void> {
    await this.clock.pause(2);
    this.rows.set(device, [...(this.rows.get(device) ?? []), { at, run }]);
  }

  async forget(device: string): Promise<void> {
    await this.clock.pause(2);
    this.rows.delete(device);
  }
}

/** The helper of one simulated process: the same work, its answers a little later. Settled for a living process alone. */
export class SimHelper implements Helper {
  private readonly work = new HelperWork(new LogReader('/nowhere'));

  constructor(
    private readonly clock: SimClock,
    private readonly process: SimProcess,
  ) {}

  tell(telling: Telling): void {
    this.work.tell(telling);
  }

  ask<Name extends QuestionName>(name: Name, question: Questions[Name]['in']): Promise<Questions[Name]['out']> {
    return this.process.own(this.clock.pause(5).then(() => this.work.ask(name, question)));
  }

  close(): void {
    // Nothing runs here by itself.
  }
}
