import type { ShowDocument } from '@umbek/core/show';
import { byKey, entryWords, isBad, type LogEntry, whoOf } from './entryWords';

/** One line of the log: an entry, or a whole run that opens. */
export interface LogRow {
  readonly key: number;
  readonly at: string;
  readonly kind: LogEntry['kind'];
  readonly words: string;
  readonly who: string;
  readonly bad: boolean;
  readonly runId?: string;
}

const alone = (entry: LogEntry, document: ShowDocument): LogRow => ({
  key: entry.seq,
  at: entry.at,
  kind: entry.kind,
  words: entryWords(entry, document),
  who: whoOf(entry),
  bad: isBad(entry),
  ...(entry.runId === undefined ? {} : { runId: entry.runId }),
});

/** Engine and parent number their entries apart: what people see goes by the time of day, and by the number within one moment. */
const newestFirst = (rows: readonly LogRow[]): LogRow[] =>
  [...rows].sort((a, b) => (a.at === b.at ? b.key - a.key : a.at < b.at ? 1 : -1));

type Start = Extract<LogEntry, { kind: 'runStart' }>;
type End = Extract<LogEntry, { kind: 'runEnd' }>;
type Press = Extract<LogEntry, { kind: 'press' }>;

function outcome(start: Start, end: End | undefined, troubled: boolean): string {
  if (end === undefined) return 'still running';
  const took = `${(Math.max(0, end.t - start.t) / 1000).toFixed(2)} s`;
  if (end.how === 'done') return `done in ${took}${troubled ? ', with a failed step' : ''}`;
  const why = end.why === undefined || end.why === '' ? '' : `: ${end.why}`;
  return `${end.how} after ${took}${why}`;
}

/**
 * The log with each run in one line, which opens: the press that began it, what it did and how it ended stand in its sheet. A run whose beginning is
 * not among the entries is left as it stands. @param entries newest first, as all that comes back
 */
export function logRows(entries: readonly LogEntry[], document: ShowDocument): LogRow[] {
  const starts = new Map<string, Start>();
  const ends = new Map<string, End>();
  const downs = new Map<string, Press>();
  const troubled = new Set<string>();
  for (const entry of entries) {
    if (entry.kind === 'runStart') starts.set(entry.runId, entry);
    else if (entry.kind === 'runEnd') ends.set(entry.runId, entry);
    else if (entry.kind === 'press' && entry.phase === 'down') downs.set(entry.pressId, entry);
    else if (entry.runId !== undefined && isBad(entry)) troubled.add(entry.runId);
  }
  const began = new Set([...starts.values()].flatMap(({ cause }) => (cause.kind === 'press' ? [cause.id] : [])));
  const rows = entries.flatMap((entry): LogRow[] => {
    if (entry.kind === 'runStart') {
      const press = entry.cause.kind === 'press' ? downs.get(entry.cause.id) : undefined;
      const end = ends.get(entry.runId);
      return [
        {
          key: entry.seq,
          at: (press ?? entry).at,
          kind: press === undefined ? 'runStart' : 'press',
          words: `${press === undefined ? '' : 'Pressed '}${entry.name}${press === undefined ? '' : byKey(press, document)} · ${outcome(entry, end, troubled.has(entry.runId))}`,
          who: press === undefined ? '' : whoOf(press),
          bad: troubled.has(entry.runId) || (end !== undefined && isBad(end)),
          runId: entry.runId,
        },
      ];
    }
    // What a rule holds, and that it is armed, its own lines tell.
    if (entry.kind === 'claim' || (entry.kind === 'set' && /^(armed|was|keptOff|reserved\w*)@/.test(entry.key)))
      return [];
    // A press and its usual release say no more than the run that it began.
    if (entry.kind === 'press' && began.has(entry.pressId) && entry.why === undefined) return [];
    if (entry.kind !== 'press' && entry.runId !== undefined && starts.has(entry.runId)) return [];
    return [alone(entry, document)];
  });
  return newestFirst(rows);
}

/** Each entry in a line of its own. */
export const plainRows = (entries: readonly LogEntry[], document: ShowDocument): LogRow[] =>
  newestFirst(entries.map((entry) => alone(entry, document)));
