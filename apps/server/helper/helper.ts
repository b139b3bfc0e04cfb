import type { Learned, TravelRun } from '@umbek/core/devices';
import type { Fault } from '@umbek/core/engine';
import type { Comparison, RehearsedPress, Rehearsal } from '@umbek/core/rehearse';
import type { AppError, Change, PlainValue, Result, ShowDocument } from '@umbek/core/show';
import type { AsRunEntry } from '../journal/entry';
import type { LogFilter } from '../journal/logReader';

/** What is asked of a rehearsal over the API. */
export interface RehearsalQuestion {
  readonly what:
    | { readonly buttonId: string; readonly holdMs: number }
    | { readonly macroId: string; readonly params: Readonly<Record<string, PlainValue>> }
    | { readonly triggerId: string }
    | { readonly presses: readonly RehearsedPress[]; readonly untilMs?: number };
  readonly linkGroup?: string;
  /** From how things are now, or from devices just switched on; left out: now. */
  readonly from?: 'live' | 'start';
  /** Also what becomes of points and values. */
  readonly watches?: boolean;
}

/** Questions whose answers take longer than a press may wait: each is a name, what goes in, what comes out. */
export interface Questions {
  rehearse: { in: RehearsalQuestion; out: Result<Rehearsal, AppError> };
  /** When a run that began would end, milliseconds after its beginning; null when that cannot be said. */
  predictEnd: { in: { readonly runId: string }; out: number | null };
  /** A live run beside its rehearsal from the state that it began in; null when that is no longer kept. */
  compare: { in: { readonly runId: string; readonly real: readonly AsRunEntry[] }; out: Comparison | null };
  learn: {
    in: { readonly runs: readonly TravelRun[]; readonly settings: Readonly<Record<string, unknown>> };
    out: Learned | null;
  };
  /** A show file as a show, or why it is none. */
  readShow: { in: { readonly body: unknown }; out: Result<ShowDocument, readonly AppError[]> };
  /** Triggers that may set each other off without end: of a large show what takes a second to be found. */
  circles: { in: null; out: readonly Fault[] };
  /** The whole show with its revision as JSON: what a large show takes to write, a press must not wait for. */
  showText: { in: null; out: string };
  /** Reading the as-run from its files. */
  logAfter: { in: { readonly after: number; readonly limit: number }; out: AsRunEntry[] };
  logLatest: { in: { readonly filter: LogFilter; readonly limit: number }; out: AsRunEntry[] };
  logRun: { in: { readonly runId: string }; out: AsRunEntry[] };
}
export type QuestionName = keyof Questions;

/** What the helper is told and answers nothing to, in the order in which it happened. */
export type Telling =
  | { readonly type: 'show'; readonly document: ShowDocument; readonly revision: number }
  | { readonly type: 'edit'; readonly changes: readonly Change[]; readonly revision: number }
  /** Keys of the board that changed; null: no longer known. */
  | { readonly type: 'board'; readonly changes: readonly (readonly [key: string, value: PlainValue | null])[] }
  | { readonly type: 'runBegan'; readonly runId: string; readonly buttonId: string }
  /** Settings of heads with what was learned of them. */
  | {
      readonly type: 'learned';
      readonly settings: readonly (readonly [device: string, settings: Record<string, unknown>])[];
    };

/**
 * Work beside the engine, with a show and a board of its own: rehearsals, predictions, comparisons, learning, reading the log. What throws or
 * hangs there costs a press nothing.
 */
export interface Helper {
  tell(telling: Telling): void;
  /** @throws when the helper failed at it, or did not answer in time */
  ask<Name extends QuestionName>(name: Name, question: Questions[Name]['in']): Promise<Questions[Name]['out']>;
  close(): void;
}
