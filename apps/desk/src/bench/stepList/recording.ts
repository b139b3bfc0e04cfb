import { type RecordedLine, recordedSteps } from '@umbek/core/programming';
import type { ShowDocument, Step } from '@umbek/core/show';
import { useSyncExternalStore } from 'react';
import { ask } from '../../show/ask';

/** Touches that are recorded for a list of steps: they go on while the page shows another place. */
export interface Recording {
  readonly owner: string;
  readonly list: string;
  readonly station: string;
  /** Number of the last line of the as-run before it. */
  readonly after: number;
}

const KEY = 'umbek.recording';
const MOST_LINES = 5000;
/** Kinds of line that the engine itself writes all the time. */
const LINES = ['press', 'refusal', 'runStart', 'runEnd', 'command', 'outcome', 'set', 'device'];
const listeners = new Set<() => void>();
let now: Recording | null | undefined;

function read(): Recording | null {
  if (now !== undefined) return now;
  try {
    now = JSON.parse(window.sessionStorage.getItem(KEY) ?? 'null') as Recording | null;
  } catch {
    now = null;
  }
  return now;
}

function setRecording(next: Recording | null): void {
  now = next;
  try {
    window.sessionStorage.setItem(KEY, JSON.stringify(next));
  } catch {
    // It is there until the page is loaded again.
  }
  for (const listener of listeners) listener();
}

export const useRecording = (): Recording | null =>
  useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => void listeners.delete(listener);
  }, read);

interface Lines {
  readonly entries: readonly (RecordedLine & { readonly seq: number })[];
}

async function linesFrom(path: string): Promise<Lines['entries']> {
  const response = await ask(path);
  if (!response.ok) throw new Error('The engine did not answer. Try again.');
  return ((await response.json()) as Lines).entries;
}

/** From now on the touches of a station are recorded. @throws when the engine does not answer */
export async function beginRecording(owner: string, list: string, station: string): Promise<void> {
  // What the watcher of the engine adds has numbers of its own, behind those of the whole epoch.
  const [last] = await linesFrom(`/api/log?limit=1&kind=${LINES.join(',')}`);
  setRecording({ owner, list, station, after: last?.seq ?? 0 });
}

export const cancelRecording = (): void => setRecording(null);

/** Ends it. @returns what was touched, as steps. @throws when the engine does not answer: it goes on then */
export async function endRecording(recording: Recording, document: ShowDocument, pauses: boolean): Promise<Step[]> {
  const lines: RecordedLine[] = [];
  for (let after = recording.after; ;) {
    const more = await linesFrom(`/api/as-run?after=${after}&limit=${MOST_LINES}`);
    lines.push(...more);
    const last = more.at(-1);
    if (last === undefined || more.length < MOST_LINES) break;
    after = last.seq;
  }
  setRecording(null);
  return recordedSteps(lines, recording.station, document, pauses);
}
