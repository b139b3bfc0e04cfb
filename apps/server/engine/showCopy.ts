import { appendFile, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { applyEdit, type Change, SHOW_VERSION, ShowDocument, upgradeChanges, upgradeShow } from '@umbek/core/show';
import type { StoredShow } from '../database/showStore';

const SNAPSHOT = 'show.json';
const EDITS = 'show-edits.jsonl';
const REPLACED = 'replaced-show.json';

/** The show on the local disk, so that the engine can start while the database is away. Every call may fail; the show goes on. */
export interface ShowCopy {
  /** @returns null when there is none that can be read */
  load(): Promise<StoredShow | null>;
  /** The whole show. */
  keep(show: StoredShow): Promise<void>;
  /** One edit on top of it. */
  add(changes: readonly Change[], revision: number): Promise<void>;
  keepReplaced(document: ShowDocument): Promise<void>;
  replaced(): Promise<ShowDocument | null>;
}

const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null;

/** A stored show file of whatever version, as a show of today; null when it is none. */
export function showIn(text: string): ShowDocument | null {
  try {
    const stored: unknown = JSON.parse(text);
    if (!isRecord(stored)) return null;
    const document = isRecord(stored.document) ? stored.document : stored;
    const parsed = ShowDocument.safeParse(
      upgradeShow(document, typeof stored.version === 'number' ? stored.version : 1),
    );
    return parsed.success ? parsed.data : null;
  } catch {
    return null;
  }
}

/** The last whole show as JSON, and a line for each edit since: an edit costs a line, not the whole show. */
export class FileCopy implements ShowCopy {
  private last: Promise<unknown> = Promise.resolve();

  constructor(private readonly folder: string) {}

  async load(): Promise<StoredShow | null> {
    const text = await readFile(join(this.folder, SNAPSHOT), 'utf8').catch(() => null);
    if (text === null) return null;
    let document = showIn(text);
    if (document === null) return null;
    let revision = Number((JSON.parse(text) as { revision?: unknown }).revision ?? 1);
    const lines = await readFile(join(this.folder, EDITS), 'utf8').catch(() => '');
    for (const line of lines.split('\n')) {
      const edit = editIn(line);
      if (edit === null || edit.revision !== revision + 1) continue;
      const changed = applyEdit(document, { changes: upgradeChanges(edit.changes, edit.version, document) });
      if (!changed.ok) break;
      document = changed.value;
      revision = edit.revision;
    }
    return { document, revision };
  }

  keep({ document, revision }: StoredShow): Promise<void> {
    return this.inTurn(async () => {
      const path = join(this.folder, SNAPSHOT);
      await writeFile(`${path}.new`, JSON.stringify({ version: SHOW_VERSION, revision, document }));
      await rename(`${path}.new`, path);
      await writeFile(join(this.folder, EDITS), '');
    });
  }

  add(changes: readonly Change[], revision: number): Promise<void> {
    return this.inTurn(() =>
      appendFile(join(this.folder, EDITS), `${JSON.stringify({ version: SHOW_VERSION, revision, changes })}\n`),
    );
  }

  keepReplaced(document: ShowDocument): Promise<void> {
    return writeFile(join(this.folder, REPLACED), JSON.stringify({ version: SHOW_VERSION, document }));
  }

  async replaced(): Promise<ShowDocument | null> {
    const text = await readFile(join(this.folder, REPLACED), 'utf8').catch(() => null);
    return text === null ? null : showIn(text);
  }

  /** One after the other: lines of edits stand in the order of their revisions. */
  private inTurn(work: () => Promise<void>): Promise<void> {
    const done = this.last.then(work);
    this.last = done.catch(() => undefined);
    return done;
  }
}

function editIn(line: string): { version: number; revision: number; changes: Change[] } | null {
  try {
    const edit = JSON.parse(line) as { version: number; revision: number; changes: Change[] };
    return typeof edit.revision === 'number' && Array.isArray(edit.changes) ? edit : null;
  } catch {
    return null;
  }
}
