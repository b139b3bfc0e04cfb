import { readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { compileProgram, type Program } from '@umbek/core/engine';
import { type AppError, applyEdit, type Edit, fail, inverseOf, ok, type Result, ShowDocument } from '@umbek/core/show';
import type { Database } from '../database/database';
import {
  history,
  loadShow,
  nextOf,
  replaceShow,
  revisionOfEdit,
  type StoredEdit,
  storeEdit,
} from '../database/showStore';

const SNAPSHOT = 'show.json';
const REPLACED = 'replaced-show.json';

/** A show with nothing in it yet. */
export const emptyShow = (id: string): ShowDocument => ({
  show: { id, name: 'New show', frameRate: 50 },
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
});

/** Holds the show: from PostgreSQL, or from the last copy on the local disk while the database is away. Takes edits one after the other. */
export class ShowKeeper {
  private last: Promise<unknown> = Promise.resolve();

  private constructor(
    private readonly db: Database,
    private readonly folder: string,
    private program: Program,
  ) {}

  /** @throws when there is neither a database nor a local copy, or what they hold is no valid show */
  static async open(db: Database, folder: string, seed: ShowDocument | null, newId: () => string): Promise<ShowKeeper> {
    const { document, revision } = await load(db, folder, seed, newId);
    const compiled = compileProgram(document, revision);
    if (!compiled.ok)
      throw new Error(
        `The stored show is not valid: ${compiled.error.map((error) => `${error.path ?? ''} ${error.message}`).join('; ')}`,
      );
    const keeper = new ShowKeeper(db, folder, compiled.value);
    keeper.keepCopy();
    return keeper;
  }

  current(): Program {
    return this.program;
  }

  /** Takes an edit: checked as a whole, stored, then live. All or nothing; the same edit id again is answered with its first revision. */
  edit(edit: Edit): Promise<Result<Program>> {
    return this.inTurn(async () => {
      if ((await revisionOfEdit(this.db, edit.editId)) !== null) return ok(this.program);
      return this.take({ ...edit, kind: 'edit' });
    });
  }

  /** Takes an engineer's last edit back, or does the one taken back last again; what others changed since stays and is told. */
  step(
    by: string,
    which: 'undo' | 'redo',
    editId: string,
  ): Promise<Result<{ program: Program; label: string; kept: readonly string[] }>> {
    return this.inTurn(async () => {
      const target = await nextOf(this.db, by, which);
      if (target === null)
        return fail([
          {
            code: 'nothing-to-undo',
            message: which === 'undo' ? 'There is nothing of yours to undo.' : 'There is nothing to do again.',
            mend: 'See the history for who changed what.',
          },
        ]);
      const meant =
        which === 'undo'
          ? target.changes
          : [...target.changes].reverse().map((change) => ({ ...change, from: change.to, to: change.from }));
      const { changes, kept } = inverseOf(this.program.document, { changes: meant });
      const label = `${which === 'undo' ? 'Undo' : 'Again'}: ${target.label}`.slice(0, 200);
      const taken = await this.take({ editId, label, by, changes, kind: which, of: target.editId });
      return taken.ok ? ok({ program: taken.value, label: target.label, kept }) : taken;
    });
  }

  history(limit: number): Promise<Awaited<ReturnType<typeof history>>> {
    return history(this.db, limit);
  }

  async next(by: string): Promise<{ undo: string | null; redo: string | null }> {
    return {
      undo: (await nextOf(this.db, by, 'undo'))?.label ?? null,
      redo: (await nextOf(this.db, by, 'redo'))?.label ?? null,
    };
  }

  /** Puts another show in place of this one: checked first, stored in one transaction. The former one is kept as a file beside the journal. */
  replace(document: ShowDocument): Promise<Result<Program>> {
    return this.inTurn(async () => {
      const compiled = compileProgram(document, this.program.revision + 1);
      if (!compiled.ok) return compiled;
      writeFileSync(join(this.folder, REPLACED), JSON.stringify(this.program.document));
      await replaceShow(this.db, document, compiled.value.revision);
      this.program = compiled.value;
      this.keepCopy();
      return compiled;
    });
  }

  /** The show that was replaced last, or null. */
  replaced(): ShowDocument | null {
    try {
      return ShowDocument.parse(JSON.parse(readFileSync(join(this.folder, REPLACED), 'utf8')));
    } catch {
      return null;
    }
  }

  /** One after the other; a database that is away refuses in words. */
  private inTurn<T>(work: () => Promise<Result<T>>): Promise<Result<T>> {
    const guarded = this.last.then(work).catch((error: unknown) => {
      if (error instanceof Error && error.name === 'RangeError') {
        return fail<readonly AppError[]>([
          { code: 'too-deep', message: 'The steps are nested too deep.', mend: 'Take some of the levels out.' },
        ]);
      }
      return fail<readonly AppError[]>([
        {
          code: 'database-away',
          message: 'The database does not answer, so the edit was not taken. Presses go on.',
          mend: 'Try again when the database is back.',
        },
      ]);
    });
    this.last = guarded;
    return guarded;
  }

  private async take(edit: StoredEdit): Promise<Result<Program>> {
    const { document, revision } = this.program;
    const changed = applyEdit(document, edit);
    if (!changed.ok) return changed;
    const compiled = compileProgram(changed.value, revision + 1);
    if (!compiled.ok) return compiled;
    await storeEdit(this.db, document, changed.value, edit, revision + 1);
    this.program = compiled.value;
    this.keepCopy();
    return ok(this.program);
  }

  private keepCopy(): void {
    const path = join(this.folder, SNAPSHOT);
    const { document, revision } = this.program;
    writeFileSync(`${path}.new`, JSON.stringify({ document, revision }));
    renameSync(`${path}.new`, path);
  }
}

async function load(
  db: Database,
  folder: string,
  seed: ShowDocument | null,
  newId: () => string,
): Promise<{ document: ShowDocument; revision: number }> {
  try {
    const stored = await loadShow(db);
    if (stored) return stored;
    const document = seed ?? emptyShow(newId());
    await replaceShow(db, document);
    return { document, revision: 1 };
  } catch (error) {
    try {
      const copy = JSON.parse(readFileSync(join(folder, SNAPSHOT), 'utf8')) as { document: unknown; revision: number };
      return { document: ShowDocument.parse(copy.document), revision: copy.revision };
    } catch {
      throw error;
    }
  }
}
