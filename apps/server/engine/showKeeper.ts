import { compileProgram, type Program } from '@umbek/core/engine';
import { ulid } from 'ulid';
import {
  type AppError,
  type Change,
  changesBack,
  type Edit,
  fail,
  inverseOf,
  ok,
  type Result,
  type ShowDocument,
  STICK,
} from '@umbek/core/show';
import {
  type EditsSince,
  type HistoryEntries,
  OtherRevision,
  type ShowStore,
  type StoredEdit,
  type StoredShow,
  type Tonight,
} from '../database/showStore';
import type { ShowCopy } from './showCopy';
import { type Breathe, programAfter } from './slicedEdit';

/** A show with nothing in it yet. */
export const emptyShow = (id: string): ShowDocument => ({
  show: { id, name: 'New show', frameRate: 50, airOutputs: [], stick: STICK, timeZone: '' },
  devices: [],
  sources: [],
  positions: [],
  values: [],
  panels: [],
  strips: [],
  buttons: [],
  macros: [],
  profiles: [],
  roles: [],
  reframes: [],
  setUps: [],
  shortcuts: [],
  stations: [],
  people: [],
  triggers: [],
});

/** So many edits are kept as lines beside the local copy before it is written whole. */
const EDITS_BESIDE_COPY = 500;

const AWAY: AppError = {
  code: 'database-away',
  message: 'The database does not answer, so the edit was not taken. Presses go on.',
  mend: 'Try again when the database is back.',
};

const REFUSED: AppError = {
  code: 'not-stored',
  message: 'The database refused this. Nothing was changed.',
  mend: 'Undo it here. If it comes again, keep umbek.log for whoever looks after Umbek.',
};

/** Whether the database answered and refused what it was given: SQLSTATE classes 22 (data), 23 (constraint) and 42 (statement) of PostgreSQL's list. */
function refusedByStore(error: unknown): boolean {
  for (let now = error, depth = 0; now instanceof Error && depth < 5; now = now.cause, depth += 1)
    if ('code' in now && typeof now.code === 'string' && /^(22|23|42)[0-9A-Z]{3}$/.test(now.code)) return true;
  return false;
}

/**
 * Holds the show: from the store, or from the last copy on the local disk while the store is away. Takes edits one after the other. Only what
 * its schema does not allow is refused; what does not hold together is taken and refuses its own press.
 */
export class ShowKeeper {
  private last: Promise<unknown> = Promise.resolve();
  private beside = 0;
  /** What the local copy last said; null while it is written as it should be. */
  copyTrouble: string | null = null;
  /** Told when the local copy begins to fail, and when it works again. */
  onCopy: (trouble: string | null) => void = () => undefined;

  private constructor(
    private readonly store: ShowStore,
    private readonly copy: ShowCopy,
    private program: Program,
    /** Told when the store turns out to hold another show than this one: the engineer must know. */
    private readonly onOther: (program: Program, words: string) => void,
    private readonly breathe: Breathe,
  ) {}

  /**
   * @param pause waits so many milliseconds before a store that does not answer is asked again, where there is no copy to begin with; left out: it is asked once
   * @throws in words when there is neither a store nor a local copy
   */
  static async open(
    store: ShowStore,
    copy: ShowCopy,
    seed: () => ShowDocument | null,
    newId: () => string,
    onOther: (program: Program, words: string) => void = () => undefined,
    breathe: Breathe = () => Promise.resolve(),
    pause?: (ms: number) => Promise<void>,
  ): Promise<ShowKeeper> {
    const { document, revision } = await first(store, copy, seed, newId, pause);
    const keeper = new ShowKeeper(store, copy, compileProgram(document, revision), onOther, breathe);
    await keeper.keepCopy();
    return keeper;
  }

  current(): Program {
    return this.program;
  }

  /** Takes an edit: checked by its schema, stored, then live. All or nothing; the same edit id again is answered with its first revision. */
  edit(edit: Edit): Promise<Result<Program>> {
    return this.inTurn(async () => {
      const stored = await this.store.revisionOf(edit.editId);
      if (stored !== null) {
        // It was stored although its answer got lost: what is stored is what counts.
        if (stored > this.program.revision) await this.reload('An edit had been stored although its answer got lost.');
        return ok(this.program);
      }
      return this.accept({ ...edit, kind: 'edit' });
    });
  }

  /** Takes an engineer's last edit back, or does the one taken back last again; what others changed since stays and is told. */
  step(
    by: string,
    which: 'undo' | 'redo',
    editId: string,
  ): Promise<Result<{ program: Program; label: string; kept: readonly string[]; changes: readonly Change[] }>> {
    return this.inTurn(async () => {
      const target = await this.store.next(by, which, this.program.document);
      if (target === null)
        return fail([
          {
            code: 'nothing-to-undo',
            message: which === 'undo' ? 'You have nothing to undo.' : 'There is nothing to redo.',
            mend: 'See the history for who changed what.',
          },
        ]);
      const meant =
        which === 'undo'
          ? target.changes
          : [...target.changes].reverse().map((change) => ({ ...change, from: change.to, to: change.from }));
      const { changes, kept } = inverseOf(this.program.document, { changes: [...meant] });
      const label = `${which === 'undo' ? 'Undo' : 'Again'}: ${target.label}`.slice(0, 200);
      const taken = await this.accept({ editId, label, by, changes, kind: which, of: target.editId });
      return taken.ok ? ok({ program: taken.value, label: target.label, kept, changes }) : taken;
    });
  }

  /** What would take the show back to where it was after an edit; null when the history has none of this id. */
  async back(editId: string): Promise<(Omit<EditsSince, 'edits'> & { edits: number; changes: Change[] }) | null> {
    const { document } = this.program;
    const since = await this.store.since(editId, document);
    if (since === null) return null;
    const { label, at, edits } = since;
    return { label, at, edits: edits.length, changes: changesBack(document, edits) };
  }

  /** Marks where tonight begins, or that it is over: an edit that changes nothing. */
  tonight(what: 'begin' | 'end', by: string, editId: string): Promise<Result<Program>> {
    return this.inTurn(async () => {
      if ((await this.store.revisionOf(editId)) !== null) return ok(this.program);
      // Begun twice by two engineers it is one evening, since the first of them.
      if (((await this.store.tonight()) !== null) === (what === 'begin')) return ok(this.program);
      const mark =
        what === 'begin'
          ? ({ kind: 'tonight', label: 'Tonight begins' } as const)
          : ({ kind: 'tonightOver', label: 'Tonight is over' } as const);
      return this.accept({ editId, by, changes: [], ...mark });
    });
  }

  /** The edits of one engineer are from now on another one's to undo. Where there are any, the history tells so. */
  handOver(from: string, to: string): Promise<Result<{ readonly program: Program; readonly edits: number }>> {
    return this.inTurn(async () => {
      let edits: number;
      try {
        edits = await this.store.handOver(from, to);
      } catch {
        return fail([
          {
            code: 'database-away',
            message: 'The database does not answer, so nothing was handed over.',
            mend: 'Try again when it is back.',
          },
        ]);
      }
      if (edits === 0) return ok({ program: this.program, edits });
      const label = `${from} handed over to ${to}`.slice(0, 200);
      const taken = await this.accept({ editId: ulid(), by: from, changes: [], kind: 'handedOver', label });
      return taken.ok ? ok({ program: taken.value, edits }) : taken;
    });
  }

  since(): Promise<Tonight | null> {
    return this.store.tonight();
  }

  history(limit: number): Promise<HistoryEntries> {
    return this.store.history(limit);
  }

  async next(by: string): Promise<{ undo: string | null; redo: string | null }> {
    const { document } = this.program;
    return {
      undo: (await this.store.next(by, 'undo', document))?.label ?? null,
      redo: (await this.store.next(by, 'redo', document))?.label ?? null,
    };
  }

  /**
   * Puts another show in place of this one, in one transaction. The former one is kept as a file beside the journal.
   * @param check whether faults of schema are looked for; false where that was done already
   */
  replace(document: ShowDocument, check = true): Promise<Result<Program>> {
    return this.inTurn(async () => {
      const next = compileProgram(document, this.program.revision + 1);
      const wrong = check ? next.faults().filter((fault) => fault.weight === 'schema') : [];
      if (wrong.length > 0) return fail(wrong);
      const former = this.program.document;
      await this.copy.keepReplaced(former).catch((error: unknown) => this.copyFailed(error));
      await this.store.replace(document, next.revision);
      this.program = next;
      await this.keepCopy();
      return ok(next);
    });
  }

  /** The show that was replaced last, or null. */
  replaced(): Promise<ShowDocument | null> {
    return this.copy.replaced();
  }

  /** The store is back: engine and store agree again, and the engineer is told when they did not. */
  reconcile(): Promise<void> {
    return this.inTurn(async () => {
      const stored = await this.store.revision();
      if (stored === null) await this.store.replace(this.program.document, this.program.revision);
      else if (stored !== this.program.revision)
        await this.reload('The database holds another revision of the show than the engine had.');
      return ok(undefined);
    }).then(() => undefined);
  }

  /** One after the other; a store that is away refuses in words. */
  private inTurn<T>(work: () => Promise<Result<T>>): Promise<Result<T>> {
    const guarded = this.last.then(work).catch((error: unknown) => {
      if (error instanceof Error && error.name === 'RangeError') {
        return fail<readonly AppError[]>([
          {
            code: 'too-deep',
            message: 'The steps are nested too deep.',
            mend: 'Take some of the levels out.',
          },
        ]);
      }
      return fail<readonly AppError[]>([refusedByStore(error) ? REFUSED : AWAY]);
    });
    this.last = guarded;
    return guarded;
  }

  private async accept(edit: StoredEdit, again = true): Promise<Result<Program>> {
    const { document, revision } = this.program;
    const made = await programAfter(this.program, edit.changes, this.breathe);
    if (!made.ok) return made;
    const next = made.value;
    try {
      await this.store.store(document, next.document, edit, revision + 1);
    } catch (error) {
      if (!(error instanceof OtherRevision) || !again) throw error;
      await this.reload('The database held another revision of the show than the engine.');
      const stored = await this.store.revisionOf(edit.editId);
      return stored === null ? this.accept(edit, false) : ok(this.program);
    }
    this.program = next;
    this.beside += 1;
    if (this.beside > EDITS_BESIDE_COPY) await this.keepCopy();
    else
      void this.copy.add(edit.changes, next.revision).then(
        () => this.copyWorks(),
        (error: unknown) => this.copyFailed(error),
      );
    return ok(this.program);
  }

  /** What is stored takes the place of what the engine had. */
  private async reload(words: string): Promise<void> {
    const stored = await this.store.load();
    if (stored === null) return;
    this.program = compileProgram(stored.document, stored.revision);
    await this.keepCopy();
    this.onOther(this.program, words);
  }

  private async keepCopy(): Promise<void> {
    const { document, revision } = this.program;
    try {
      await this.copy.keep({ document, revision });
      this.beside = 0;
      this.copyWorks();
    } catch (error) {
      this.copyFailed(error);
    }
  }

  private copyWorks(): void {
    this.copySaid(null);
  }

  private copyFailed(error: unknown): void {
    this.copySaid(error instanceof Error ? error.message : String(error));
  }

  private copySaid(trouble: string | null): void {
    if (trouble === this.copyTrouble) return;
    this.copyTrouble = trouble;
    this.onCopy(trouble);
  }
}

/** A database that is still on its way up at the very first start is asked so often, and so long after the last answer. */
const FIRST_TRIES = 15;
const AGAIN_MS = 1000;

async function first(
  store: ShowStore,
  copy: ShowCopy,
  seed: () => ShowDocument | null,
  newId: () => string,
  pause?: (ms: number) => Promise<void>,
): Promise<StoredShow> {
  for (let left = FIRST_TRIES - 1; ; left -= 1) {
    try {
      const stored = await store.load();
      if (stored) return stored;
    } catch (error) {
      const kept = await copy.load().catch(() => null);
      if (kept !== null) return kept;
      if (pause === undefined || left === 0) throw new Error(noStore(error));
      await pause(AGAIN_MS);
      continue;
    }
    // A database that was lost and made anew is filled from the copy: nothing that was programmed is thrown away for a seed.
    const kept = await copy.load().catch(() => null);
    const begin = kept ?? { document: seed() ?? emptyShow(newId()), revision: 1 };
    try {
      await store.replace(begin.document, begin.revision);
      return begin;
    } catch (error) {
      if (kept !== null) return kept;
      if (pause === undefined || left === 0) throw new Error(noStore(error));
      await pause(AGAIN_MS);
    }
  }
}

/** What lies at the bottom of what the query says: the query itself tells an engineer nothing. */
function noStore(error: unknown): string {
  let cause = error as { readonly message?: string; readonly cause?: unknown } | undefined;
  while (typeof cause?.cause === 'object' && cause.cause !== null) cause = cause.cause;
  const why = cause?.message ?? String(error);
  return `The database cannot be used: ${why}. There is no copy of the show on this machine yet, so Umbek cannot start. Start PostgreSQL or correct its address, then start Umbek again.`;
}
