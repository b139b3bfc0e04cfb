import type { ShowDocument } from '@umbek/core/show';
import { toldOf } from '@umbek/core/programming';
import type { Timeline } from './rehearsal';

/** A stretch of a lane, milliseconds from the press. */
export interface Bar {
  readonly start: number;
  readonly end: number;
  readonly words: string;
  /** What became of it when that was not as wished. */
  readonly trouble: boolean;
}

export interface Lane {
  readonly key: string;
  readonly name: string;
  readonly kind: 'air' | 'device' | 'waits';
  readonly bars: readonly Bar[];
}

type Read = (key: string) => string | number | boolean | undefined;

/** What is on air, then each device that is told something, then what is waited for: one lane each. @param now what is so before the press */
export function lanesOf(timeline: Timeline, document: ShowDocument, now: Read): Lane[] {
  const { entries, durationMs } = timeline;
  const devices = new Map<string, Bar[]>();
  const open = new Map<string, { at: number; bars: Bar[]; words: string }>();
  const waits: Bar[] = [];
  const sentences = new Map<string, string>();
  const waiting = new Map<string, { at: number; words: string }>();
  for (const entry of entries) {
    const { kind, t, device = '', commandId = '', path = '', words = '' } = entry;
    if (kind === 'command') {
      const bars = devices.get(device) ?? [];
      devices.set(device, bars);
      // A command is named by its run and the place of its step: that one's sentence tells it.
      const said = sentences.get(commandId.slice(commandId.indexOf('/') + 1));
      open.set(commandId, { at: t, bars, words: said ?? entry.command?.command ?? '' });
    } else if (kind === 'outcome') {
      const begun = open.get(commandId);
      open.delete(commandId);
      begun?.bars.push({ start: begun.at, end: t, words: begun.words, trouble: entry.outcome !== 'done' });
    } else if (kind === 'step') {
      sentences.set(path, words);
      waiting.set(path, { at: t, words });
    } else if (kind === 'stepEnd') {
      const begun = waiting.get(path);
      waiting.delete(path);
      if (begun !== undefined && /^(Pause|Wait|Ask)/.test(begun.words) && t > begun.at)
        waits.push({ start: begun.at, end: t, words: begun.words, trouble: entry.ok === false });
    }
  }
  // What nobody heard the end of goes on to the end of what is foreseen.
  for (const { at, bars, words } of open.values()) bars.push({ start: at, end: durationMs, words, trouble: false });
  const nameOf = (key: string): string => document.devices.find((device) => device.key === key)?.name ?? key;
  const air = airLane(timeline, document, now);
  return [
    ...(air === null ? [] : [air]),
    ...[...devices].map(([key, bars]): Lane => ({
      key,
      name: nameOf(key),
      kind: 'device',
      bars: [...bars].sort((a, b) => a.start - b.start),
    })),
    ...(waits.length === 0 ? [] : [{ key: 'waits', name: 'Waits', kind: 'waits' as const, bars: waits }]),
  ];
}

/** What is on program of the first switcher, as long as it is. */
function airLane({ changes = [], durationMs }: Timeline, document: ShowDocument, now: Read): Lane | null {
  const switcher = document.devices.find(({ kind }) => kind === 'switcher');
  if (switcher === undefined) return null;
  const key = `${switcher.key}.program`;
  const bars: Bar[] = [];
  let from = 0;
  let words = toldOf(key, now(key), document)?.is ?? 'not known';
  const end = (at: number): void => {
    if (at > from || (at === 0 && bars.length === 0 && durationMs === 0))
      bars.push({ start: from, end: at, words, trouble: false });
  };
  for (const [t, changed, value] of changes) {
    // Unknown for a moment while a cut goes out: what comes after it is told.
    if (changed !== key || value === null) continue;
    const next = toldOf(key, value, document)?.is ?? 'not known';
    if (next === words) continue;
    end(t);
    from = t;
    words = next;
  }
  end(Math.max(durationMs, from + 1));
  return { key: 'air', name: 'On air', kind: 'air', bars };
}

/** What changes more often than this in a rehearsal runs on by itself, as a clock does. */
const RUNS_ON = 3;

/** What has become of points and values by a time, the latest first; what runs on by itself comes last. */
export function stateAt(
  { changes = [] }: Timeline,
  t: number,
  document: ShowDocument,
): { readonly key: string; readonly about: string; readonly is: string }[] {
  const latest = new Map<string, string | number | boolean | null>();
  const times = new Map<string, number>();
  for (const [at, key, value] of changes) {
    times.set(key, (times.get(key) ?? 0) + 1);
    if (at > t) continue;
    latest.delete(key);
    latest.set(key, value);
  }
  const runsOn = (key: string): number => ((times.get(key) ?? 0) > RUNS_ON ? 1 : 0);
  return [...latest]
    .reverse()
    .sort(([a], [b]) => runsOn(a) - runsOn(b))
    .flatMap(([key, value]) => {
      // Unknown for a moment, while a command goes out: nothing to tell.
      const content = key.includes('@') || value === null ? null : toldOf(key, value, document);
      return content === null ? [] : [{ key, ...content }];
    });
}

/** Seconds between two marks of the axis, so that there are four to ten. */
export function markEvery(durationMs: number): number {
  const seconds = durationMs / 1000;
  for (const step of [0.1, 0.2, 0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 1800, 3600])
    if (seconds / step <= 10) return step;
  return 7200;
}
