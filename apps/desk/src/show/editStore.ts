import type { LiveEdit } from '@umbek/protocol';
import type { applyEdit, Change, Edit, Reference, ShowDocument } from '@umbek/core/show';
import { applyChanges, madeAndChangedOn } from '@umbek/core/view';
import { ulid } from 'ulid';
import { act } from '../live/deeds';
import { ask } from './ask';
import { keptEdits, keepEdits } from './keptEdits';
import { replyWords } from './replyWords';

/** One field that somebody else changed while this page was changing it. */
export interface FieldConflict {
  readonly change: Change;
  readonly newer: unknown;
}

export interface EditState {
  /** The server's show with this page's unanswered edits on it; null until it was loaded. */
  readonly document: ShowDocument | null;
  readonly revision: number;
  /** Edits that have not been answered. */
  readonly waiting: number;
  /** Edits of this page that were stored since it was opened. */
  readonly saved: number;
  /** Who is not there to take edits, while they are kept; null while they go out. */
  readonly kept: 'engine' | 'database' | null;
  readonly conflict: { readonly edit: Edit; readonly fields: readonly FieldConflict[] } | null;
  /** Last thing to be told: what was refused and the mend, or what an undo did. */
  readonly notice: { readonly words: string; readonly bad: boolean } | null;
  /** Why entries that this page changed do not do what they say, by id: their press is refused. */
  readonly faults: ReadonlyMap<string, string>;
  readonly failed: boolean;
}

interface Refusal {
  readonly code?: string;
  readonly message?: string;
  readonly mend?: string;
  readonly path?: string;
  readonly newer?: unknown;
  readonly others?: readonly Refusal[];
}

const MAY_NOT = 'This station may look, and not change the show. Ask somebody who may let others in: Rig, Stations.';
const AGAIN_MS = 1000;
/** For so long after its own change a page is told that somebody else changed the same field. */
const TOUCHED_MS = 10_000;
const MOST_TOUCHED = 500;
/** An undo waits so long for edits that are on their way. */
const SETTLE_MS = 4000;
const SETTLE_STEP_MS = 50;

const fieldKey = ({ entity, id, field }: Change): string => `${entity} ${id} ${field}`;
/** What people call a field: its name in words. */
export const fieldWords = (field: string): string =>
  field === '*' ? 'same thing' : field.replace(/([A-Z])/g, ' $1').toLowerCase();

/**
 * The show as this page sees it, and the way that its edits go. An edit is seen at once, sent in order, kept while the engine cannot be
 * reached, and taken off again when it is refused.
 */
export class EditStore {
  private state: EditState = {
    document: null,
    revision: 0,
    waiting: 0,
    saved: 0,
    kept: null,
    conflict: null,
    notice: null,
    faults: new Map(),
    failed: false,
  };
  private server: ShowDocument | null = null;
  /** Works an edit into the show, checked by its schemas; null until it was fetched, before the show is. */
  private apply: typeof applyEdit | null = null;
  /** The show that an edit made of another one: looked at again and again while the edit is on its way, and the same one once it is stored. */
  private readonly made = new WeakMap<
    Edit,
    { readonly of: ShowDocument; readonly show: ReturnType<typeof applyEdit> }
  >();
  private pending: Edit[] = [];
  private sending = false;
  private latestHeard = 0;
  private loading: Promise<void> | null = null;
  /** Nobody has asked for the show yet: it is not loaded. */
  private asleep = true;
  private readonly listeners = new Set<() => void>();
  /** Conflicts that wait until the one before them is decided. */
  private readonly conflicts: NonNullable<EditState['conflict']>[] = [];
  /** Fields that this page changed of late, with when: somebody else's change of one of them is told. */
  private readonly touched = new Map<string, number>();

  constructor(
    private readonly by: () => string,
    /** Fetches what works edits in: a page that only operates has no use for it. */
    private readonly fetchApply: () => Promise<typeof applyEdit>,
    private readonly call: (path: string, body?: unknown) => Promise<Response> = ask,
    private readonly deed: (path: string, body?: unknown) => Promise<Response> = act,
    /** Whether this station may change the show. */
    private readonly may: () => boolean = () => true,
  ) {
    this.pending = keptEdits();
    if (this.pending.length > 0) {
      this.asleep = false;
      this.state = { ...this.state, waiting: this.pending.length };
      void this.load().then(() => this.pump());
    }
  }

  getState = (): EditState => this.state;

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** The engine has told of a revision: brings the show up to it with the edits that came along, or loads it when they do not reach from here to there. */
  heard(revision: number, edits: readonly LiveEdit[] = []): void {
    this.latestHeard = revision;
    if (this.asleep || revision === this.state.revision || this.sending) return;
    if (!this.loading && this.followed(revision, edits)) return;
    void this.load();
  }

  /** The show is needed from now on. */
  wake(): void {
    if (!this.asleep) return;
    this.asleep = false;
    if (this.latestHeard > 0) void this.load();
  }

  private followed(revision: number, edits: readonly LiveEdit[]): boolean {
    let [document, reached] = [this.server, this.state.revision];
    for (const edit of edits) {
      if (edit.revision <= reached) continue;
      if (document === null || edit.revision !== reached + 1 || madeAndChangedOn(edit.changes)) return false;
      // The engine has checked it; whoever follows need not do so again.
      const applied = applyChanges(document, edit.changes);
      if (!applied.ok) return false;
      [document, reached] = [applied.value, edit.revision];
    }
    if (reached !== revision) return false;
    for (const edit of edits) if (edit.revision > this.state.revision) this.othersChanged(edit.changes);
    this.server = document;
    this.set({ revision });
    return true;
  }

  /** Two people at one field: this page's value was there first, and is no longer. */
  private othersChanged(changes: readonly Change[]): void {
    const since = performance.now() - TOUCHED_MS;
    for (const change of changes) {
      if ((this.touched.get(fieldKey(change)) ?? -Infinity) < since) continue;
      const value = typeof change.to === 'string' ? `“${change.to.slice(0, 60)}”` : 'another value';
      this.tell(`Another station changed the ${fieldWords(change.field)} after you. It is ${value} now.`, true);
    }
  }

  load(): Promise<void> {
    this.loading ??= this.fetchShow().finally(() => {
      this.loading = null;
    });
    return this.loading;
  }

  /** Changes the show. @param label what the edit does, as the history and undo will name it */
  edit(label: string, changes: readonly Change[]): void {
    if (changes.length === 0) return;
    if (!this.may()) return this.tell(MAY_NOT, true);
    this.pending.push({ editId: ulid(), label: label.slice(0, 200), by: this.by(), changes: [...changes] });
    for (const change of changes) this.touched.set(fieldKey(change), performance.now());
    if (this.touched.size > MOST_TOUCHED) this.touched.clear();
    keepEdits(this.pending);
    this.set({});
    void this.pump();
  }

  /** The same from the show as it is now, with this page's own edits on it: several may be made faster than a place is drawn. */
  change(label: string, make: (show: ShowDocument) => readonly Change[]): void {
    const { document } = this.state;
    if (document !== null) this.edit(label, make(document));
  }

  /** Decides a conflict: this page's value after all, or the newer one. */
  decide(mine: boolean): void {
    const conflict = this.conflicts.shift();
    this.set({ conflict: this.conflicts[0] ?? null });
    if (!conflict || !mine) return;
    const newer = new Map(conflict.fields.map((field) => [field.change, field.newer]));
    this.edit(
      conflict.edit.label,
      conflict.edit.changes.map((change) =>
        newer.has(change) ? { ...change, from: newer.get(change) ?? null } : change,
      ),
    );
  }

  async undo(which: 'undo' | 'redo'): Promise<void> {
    // An edit that is still on its way is the one to be undone.
    for (
      let waited = 0;
      this.pending.length > 0 && this.state.kept === null && waited < SETTLE_MS;
      waited += SETTLE_STEP_MS
    )
      await new Promise((next) => setTimeout(next, SETTLE_STEP_MS));
    if (this.pending.length > 0)
      return this.tell(
        'Edits are still waiting for the engine, so nothing was undone. Try again when they are saved.',
        true,
      );
    try {
      const response = await this.deed(`/api/${which}`, { by: this.by() });
      const reply = (await response.json()) as Refusal & { label?: string; kept?: string[] };
      if (!response.ok) return this.tell(replyWords(reply), true);
      const kept = reply.kept ?? [];
      this.tell(
        `${which === 'undo' ? 'Undone' : 'Redone'}: ${reply.label ?? ''}${kept.length > 0 ? `. Left as it is: ${kept.join(' ')}` : ''}`,
        kept.length > 0,
      );
      await this.load();
    } catch (error) {
      this.tell(error instanceof Error ? error.message : 'Nothing was undone.', true);
    }
  }

  tell(words: string, bad: boolean): void {
    this.set({ notice: { words, bad } });
  }

  dismiss(): void {
    this.set({ notice: null });
  }

  private async fetchShow(): Promise<void> {
    try {
      this.apply ??= await this.fetchApply();
      const response = await this.call('/api/show');
      if (!response.ok) throw new Error(String(response.status));
      const { revision, ...document } = (await response.json()) as ShowDocument & { revision: number };
      if (!Array.isArray(document.buttons) || !Array.isArray(document.devices)) throw new Error('No show.');
      this.server = document;
      this.set({ revision, failed: false });
    } catch {
      this.set({ failed: true });
    }
  }

  private async pump(): Promise<void> {
    if (this.sending) return;
    this.sending = true;
    for (let edit = this.pending[0]; edit; edit = this.pending[0]) {
      const answer = await this.send(edit);
      if (answer !== 'answered') {
        this.set({ kept: answer });
        await new Promise((next) => setTimeout(next, AGAIN_MS));
        continue;
      }
      if (this.pending[0] === edit) this.answered();
      this.set({ kept: null });
    }
    this.sending = false;
    // Somebody else's edit that was told meanwhile.
    if (this.latestHeard > this.state.revision) void this.load();
  }

  /** The answer is worked into the state; otherwise who was not there to take it. */
  private async send(edit: Edit): Promise<'answered' | 'engine' | 'database'> {
    let response: Response;
    try {
      response = await this.call('/api/edits', edit);
    } catch {
      return 'engine';
    }
    const reply = (await response.json().catch(() => ({}))) as Refusal & {
      revision?: number;
      faults?: readonly { message: string; mend: string; at: Reference }[];
    };
    // It is not refused: it waits.
    if (reply.code === 'database-away') return 'database';
    if (response.status === 503) return 'engine';
    if (response.ok) {
      this.state = { ...this.state, saved: this.state.saved + 1 };
      const applied = this.server && this.worked(this.server, edit);
      if (applied?.ok && reply.revision === this.state.revision + 1) {
        this.server = applied.value;
        this.state = { ...this.state, revision: reply.revision };
        this.answered();
      } else await this.load();
      // It is stored, and may not do what it says yet: better told now than found out live.
      const faults = new Map(this.state.faults);
      for (const { id } of edit.changes) faults.delete(id);
      for (const { at, message, mend } of reply.faults ?? []) faults.set(at.id, `${message} ${mend}`);
      // Told with the end of this edit: the page is drawn once for both.
      this.state = { ...this.state, faults };
      return 'answered';
    }
    const all = [reply, ...(reply.others ?? [])];
    const fields = all.flatMap((refusal): FieldConflict[] => {
      const change =
        refusal.code === 'conflict' ? edit.changes[Number(/^changes\.(\d+)/.exec(refusal.path ?? '')?.[1])] : undefined;
      return change ? [{ change, newer: refusal.newer }] : [];
    });
    await this.load();
    if (fields.length > 0) {
      this.conflicts.push({ edit, fields });
      this.set({ conflict: this.conflicts[0] ?? null });
    } else this.tell(`Not changed. ${replyWords(reply, 'The engine refused.')}`, true);
    return 'answered';
  }

  /** The first edit that waits has its answer. */
  private answered(): void {
    this.pending.shift();
    keepEdits(this.pending);
  }

  private worked(of: ShowDocument, edit: Edit): ReturnType<typeof applyEdit> | undefined {
    const known = this.made.get(edit);
    if (known?.of === of) return known.show;
    const show = this.apply?.(of, edit);
    if (show !== undefined) this.made.set(edit, { of, show });
    return show;
  }

  private set(change: Partial<EditState>): void {
    let document = this.server;
    for (const edit of this.pending) {
      const applied = document && this.worked(document, edit);
      if (applied?.ok) document = applied.value;
    }
    this.state = { ...this.state, ...change, document, waiting: this.pending.length };
    for (const listener of this.listeners) listener();
  }
}
