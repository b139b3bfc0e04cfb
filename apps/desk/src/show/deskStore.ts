import type { LiveEdit } from '@umbek/protocol';
import type { ShowDocument } from '@umbek/core/show';
import { viewAfter } from '@umbek/core/view';
import { ask } from './ask';

export interface DeskState {
  /** The show as this station needs it: of buttons those of `panels`, without what they do; null until it was loaded. */
  readonly document: ShowDocument | null;
  readonly revision: number;
  /** Panels whose buttons are in it. */
  readonly panels: ReadonlySet<string>;
  readonly failed: boolean;
}

const LISTS = ['panels', 'strips', 'buttons', 'devices', 'sources', 'positions'] as const;

type Reply = ShowDocument & { readonly revision: number; readonly held: readonly string[] };

/** The show as it is operated: it follows what edits change of the panels that are shown, and never loads the whole show. */
export class DeskStore {
  private state: DeskState = { document: null, revision: 0, panels: new Set(), failed: false };
  private wanted: ReadonlySet<string> = new Set();
  private loading: Promise<void> | null = null;
  private latestHeard = 0;
  private readonly listeners = new Set<() => void>();

  constructor(private readonly call: (path: string) => Promise<Response> = ask) {}

  getState = (): DeskState => this.state;

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Loads the first panel; nothing has to be heard of the engine before. */
  open(): void {
    if (this.state.document === null) this.load();
  }

  /** The engine has told of a revision, with the edits that led to it where they are few. */
  heard(revision: number, edits: readonly LiveEdit[] = []): void {
    this.latestHeard = revision;
    if (revision === this.state.revision || this.loading !== null) return;
    if (!this.followed(revision, edits)) this.load();
  }

  /** A panel comes to be shown. Its buttons are loaded when they are not there yet. */
  want(panel: string): void {
    if (this.wanted.has(panel)) return;
    this.wanted = new Set([...this.wanted, panel]);
    if (!this.state.panels.has(panel) && this.state.document !== null) this.load();
  }

  load(): void {
    this.loading ??= this.fetch().finally(() => {
      this.loading = null;
      const lacks = [...this.wanted].some((panel) => !this.state.panels.has(panel) && this.has(panel));
      if (!this.state.failed && (lacks || this.latestHeard > this.state.revision)) this.load();
    });
  }

  private has(panel: string): boolean {
    return this.state.document?.panels.some(({ id }) => id === panel) === true;
  }

  private followed(revision: number, edits: readonly LiveEdit[]): boolean {
    let { document, revision: reached } = this.state;
    for (const edit of edits) {
      if (edit.revision <= reached) continue;
      if (document === null || edit.revision !== reached + 1) return false;
      document = viewAfter(document, this.state.panels, edit.changes);
      reached = edit.revision;
    }
    if (document === null || reached !== revision) return false;
    this.set({ document, revision });
    return true;
  }

  private async fetch(): Promise<void> {
    try {
      const panels = [...new Set([...this.state.panels, ...this.wanted])].join(',');
      const response = await this.call(`/api/show/desk${panels === '' ? '' : `?panels=${panels}`}`);
      if (!response.ok) throw new Error(String(response.status));
      const { revision, held, ...document } = (await response.json()) as Reply;
      // One bad answer, from whatever stands in between, must not leave a blank page.
      if (!LISTS.every((list) => Array.isArray(document[list])) || !Array.isArray(held)) throw new Error('No show.');
      this.set({ document, revision, panels: new Set(held), failed: false });
    } catch {
      this.set({ failed: true });
    }
  }

  private set(change: Partial<DeskState>): void {
    this.state = { ...this.state, ...change };
    for (const listener of this.listeners) listener();
  }
}
