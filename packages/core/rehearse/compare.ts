import type { JournalEvent } from '../engine/index';

/** One line of a comparison: what was predicted, what was, and the difference in milliseconds (real − predicted). */
export interface ComparedLine {
  readonly what: string;
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

/** What a line is about, without ids and times; null for lines that only one side has (presses, devices). */
function subjectOf(event: JournalEvent): string | null {
  switch (event.kind) {
    case 'step':
      return `step ${event.path}: ${event.words}`;
    case 'stepEnd':
      return `step ${event.path} ends ${event.ok ? 'well' : 'badly'}`;
    case 'command':
      return `${event.device}: ${event.command.command}`;
    case 'accepted':
      return `${event.device}: accepted`;
    case 'outcome':
      return `${event.device}: ${event.outcome}`;
    case 'runStart':
      return 'run starts';
    case 'runEnd':
      return `run ends: ${event.how}`;
    default:
      return null;
  }
}

/** Things foreseen this near to each other, on different devices, have no order between them: milliseconds. */
const TOGETHER_MS = 60;

interface Line {
  readonly subject: string;
  readonly t: number;
  /** Device that it is about; empty for steps and runs. */
  readonly device: string;
}

const linesOf = (events: readonly JournalEvent[]): Line[] => {
  const start = events.find((event) => event.kind === 'runStart')?.t ?? events[0]?.t ?? 0;
  return events.flatMap((event) => {
    const subject = subjectOf(event);
    return subject === null ? [] : [{ subject, t: event.t - start, device: 'device' in event ? event.device : '' }];
  });
};

/**
 * Whether the real lines came in the order that was foreseen: on each device exactly; between devices and steps wherever what was foreseen
 * lies apart by more than replies do.
 */
function inOrder(predicted: readonly Line[], real: readonly Line[], foreseen: readonly (number | null)[]): boolean {
  if (predicted.length !== real.length || foreseen.includes(null)) return false;
  const devices = new Set(predicted.map((line) => line.device).filter(Boolean));
  const told = (lines: readonly Line[], device: string): string =>
    lines.flatMap((line) => (line.device === device ? [line.subject] : [])).join('\n');
  if ([...devices].some((device) => told(predicted, device) !== told(real, device))) return false;
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
  const lines: ComparedLine[] = right.map(({ subject, t }) => {
    const at = rest.findIndex((line) => line.subject === subject);
    const match = at < 0 ? undefined : rest.splice(at, 1)[0];
    return { what: subject, predictedMs: match?.t ?? null, realMs: t, errorMs: match ? t - match.t : null };
  });
  for (const line of rest) lines.push({ what: line.subject, predictedMs: line.t, realMs: null, errorMs: null });
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
