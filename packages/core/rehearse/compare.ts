import type { JournalEvent, Outcome, RunEnding } from '../engine/index';

/** What a line is about, without ids of runs and commands and without times: equal in a rehearsal and in the run that it foretold. */
export type LineSubject =
  | { readonly kind: 'step'; readonly stepId: string; readonly path: string; readonly words: string }
  | { readonly kind: 'stepEnd'; readonly stepId: string; readonly path: string; readonly ok: boolean }
  | { readonly kind: 'command'; readonly device: string; readonly command: string }
  | { readonly kind: 'accepted'; readonly device: string }
  | { readonly kind: 'outcome'; readonly device: string; readonly outcome: Outcome }
  | { readonly kind: 'runStart' }
  | { readonly kind: 'runEnd'; readonly how: RunEnding };

/** One line of a comparison: what was predicted, what was, and the difference in milliseconds (real − predicted). */
export interface ComparedLine {
  readonly what: LineSubject;
  /** Why a step or a run failed, where it did. */
  readonly why?: string;
  readonly predictedMs: number | null;
  readonly realMs: number | null;
  readonly errorMs: number | null;
}

export interface Comparison {
  readonly lines: readonly ComparedLine[];
  readonly sameOrder: boolean;
  /** Largest difference without sign, milliseconds; null when nothing could be compared. */
  readonly worstMs: number | null;
}

/** Null for entries that only one side has (presses, devices). */
function subjectOf(event: JournalEvent): LineSubject | null {
  switch (event.kind) {
    case 'step':
      return { kind: 'step', stepId: event.stepId, path: event.path, words: event.words };
    case 'stepEnd':
      return { kind: 'stepEnd', stepId: event.stepId, path: event.path, ok: event.ok };
    case 'command':
      return { kind: 'command', device: event.device, command: event.command.command };
    case 'accepted':
      return { kind: 'accepted', device: event.device };
    case 'outcome':
      return { kind: 'outcome', device: event.device, outcome: event.outcome };
    case 'runStart':
      return { kind: 'runStart' };
    case 'runEnd':
      return { kind: 'runEnd', how: event.how };
    default:
      return null;
  }
}

/** Things foreseen this near to each other, on different devices, have no order between them: milliseconds. */
const TOGETHER_MS = 60;

interface Line {
  readonly what: LineSubject;
  /** The same as one text, to find its like. */
  readonly subject: string;
  readonly t: number;
  /** Device that it is about; empty for steps and runs. */
  readonly device: string;
  readonly why?: string;
}

const linesOf = (events: readonly JournalEvent[]): Line[] => {
  const start = events.find((event) => event.kind === 'runStart')?.t ?? events[0]?.t ?? 0;
  return events.flatMap((event) => {
    const what = subjectOf(event);
    if (what === null) return [];
    const device = 'device' in event ? event.device : '';
    const why = 'why' in event && event.why !== undefined ? { why: event.why } : {};
    return [{ what, subject: JSON.stringify(what), t: event.t - start, device, ...why }];
  });
};

/**
 * Whether the real lines came in the order that was foreseen: on each device exactly; between devices and steps wherever what was foreseen
 * lies apart by more than replies do.
 */
function inOrder(predicted: readonly Line[], real: readonly Line[], foreseen: readonly (number | null)[]): boolean {
  if (predicted.length !== real.length || foreseen.includes(null)) return false;
  const devices = new Set(predicted.map((line) => line.device).filter(Boolean));
  const commandsTo = (lines: readonly Line[], device: string): string =>
    lines.flatMap((line) => (line.device === device ? [line.subject] : [])).join('\n');
  if ([...devices].some((device) => commandsTo(predicted, device) !== commandsTo(real, device))) return false;
  let latest = -Infinity;
  return foreseen.every((t) => {
    if (t === null || t < latest - TOGETHER_MS) return false;
    latest = Math.max(latest, t);
    return true;
  });
}

/** Holds a predicted timeline and a live run side by side. Both count from their run's start. */
export function compare(predicted: readonly JournalEvent[], real: readonly JournalEvent[]): Comparison {
  const [left, right] = [linesOf(predicted), linesOf(real)];
  const rest = [...left];
  const lines: ComparedLine[] = right.map(({ what, subject, t, why }) => {
    const at = rest.findIndex((line) => line.subject === subject);
    const match = at < 0 ? undefined : rest.splice(at, 1)[0];
    return {
      what,
      predictedMs: match?.t ?? null,
      realMs: t,
      errorMs: match ? t - match.t : null,
      ...(why === undefined ? {} : { why }),
    };
  });
  for (const line of rest) lines.push({ what: line.what, predictedMs: line.t, realMs: null, errorMs: null });
  const errors = lines.flatMap((line) => (line.errorMs === null ? [] : [Math.abs(line.errorMs)]));
  return {
    lines,
    sameOrder: inOrder(
      left,
      right,
      lines.slice(0, right.length).map((line) => line.predictedMs),
    ),
    worstMs: errors.length === 0 ? null : Math.max(...errors),
  };
}
