import type { LiveRun } from '@umbek/protocol';
import type { PressBook } from './pressBook';

/** What became of the last press of a button: its run, or why there was none. */
export type LastRun =
  | { readonly how: 'done' | 'failed' | 'stopped' | 'interrupted'; readonly run: LiveRun; readonly why?: string }
  | { readonly how: 'refused'; readonly buttonId: string; readonly why: string }
  /** Another hand took what it moved, or it took that from another. */
  | { readonly how: 'taken'; readonly buttonId: string; readonly why: string; readonly at: number };

const ENDED_KEPT = 200;

/** What runs, and how the last ones ended. */
export class RunBook {
  private runs_: readonly LiveRun[] = [];
  /** Ids of runs whose end was taken: it may be told twice. */
  private readonly ended = new Set<string>();

  constructor(
    private readonly presses: PressBook,
    private readonly now: () => number,
    /** What runs is another, or a run of a button ended. */
    private readonly onChange: (runs: readonly LiveRun[], last?: LastRun) => void,
  ) {}

  /** After a gap: what runs is what the engine says, and what ended meanwhile ended so. @param ended the newest at the end */
  takeAll(runs: readonly LiveRun[], ended: readonly LiveRun[]): void {
    const before = new Set(this.runs_.map(({ runId }) => runId));
    this.change(runs);
    this.presses.onlyGoing(new Set(runs.flatMap(({ buttonId }) => buttonId ?? [])));
    for (const run of runs) this.show(run);
    for (const run of ended) {
      // A page that comes for the first time is told how the last one ended; it did not press the others.
      if (this.ended.has(run.runId) || (!before.has(run.runId) && run !== ended.at(-1))) continue;
      this.record(run, before.has(run.runId));
    }
  }

  /** A run may be told twice: at once to the station that pressed, and with the changes that all get. The first end counts. */
  record(run: LiveRun, show = true): void {
    if (this.ended.has(run.runId)) return;
    const others = this.runs_.filter((liveRun) => liveRun.runId !== run.runId);
    if (!run.ended) {
      this.change([...others, run]);
      return this.show(run);
    }
    this.ended.add(run.runId);
    const [oldest] = this.ended;
    if (this.ended.size > ENDED_KEPT && oldest !== undefined) this.ended.delete(oldest);
    const { why } = run.ended;
    const how = run.ended.how as Exclude<LastRun['how'], 'refused' | 'taken'>;
    this.change(others, run.buttonId === undefined ? undefined : { how, run, ...(why === undefined ? {} : { why }) });
    if (show) this.show(run);
  }

  private change(runs: readonly LiveRun[], last?: LastRun): void {
    this.runs_ = runs;
    this.onChange(runs, last);
  }

  /** On the cap of its button. */
  private show({ buttonId, ended, leftMs }: LiveRun): void {
    // That another hand took it says more than that its release ran.
    if (buttonId === undefined || this.presses.state(buttonId)?.taken === true) return;
    const since = this.now();
    if (!ended) this.presses.tell(buttonId, { phase: 'working', leftMs, since });
    else if (ended.how === 'done') this.presses.tell(buttonId, { phase: 'done', since });
    else if (ended.how === 'stopped') this.presses.tell(buttonId, undefined);
    else this.presses.tell(buttonId, { phase: 'failed', why: ended.why ?? ended.how, since });
  }
}
