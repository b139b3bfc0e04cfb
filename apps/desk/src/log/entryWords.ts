import type { JournalEvent } from '@umbek/core/journal';
import { kindOf } from '@umbek/core/devices';
import { onWords } from '@umbek/core/shortcut';
import { commandWords } from '@umbek/core/sentence';
import type { PlainValue, ShowDocument } from '@umbek/core/show';

/** An entry of the as-run with its number and time of day. */
export type LogEntry = JournalEvent & { readonly seq: number; readonly at: string };

const value = (item: PlainValue): string => (typeof item === 'string' ? item : String(item));

/** A command as the editor words it; the wire counts sources by number, people by name. */
function sentWords({ device, command }: Extract<LogEntry, { kind: 'command' }>, document: ShowDocument): string {
  const kind = kindOf(
    document.devices.find((candidate) => candidate.key === device),
    document,
  );
  const bySource = (key: string): boolean =>
    (
      kind?.commands[command.command]?.params.shape[key] as
        { meta?: () => { reference?: string } | undefined } | undefined
    )?.meta?.()?.reference === 'source';
  const params = Object.fromEntries(
    Object.entries(command.params).map(([key, item]) => [
      key,
      bySource(key) ? (document.sources.find((source) => source.input === item)?.name ?? `input ${value(item)}`) : item,
    ]),
  );
  const words = commandWords({ device, command: command.command, params }, document);
  return kind?.commands[command.command]?.phrase?.includes('{device}') === true
    ? words
    : `${document.devices.find((candidate) => candidate.key === device)?.name ?? device}: ${words}`;
}

/** By which key a press was made, as the keys are today; empty for a hand on a cap. */
export function byKey(
  { shortcut }: Extract<LogEntry, { kind: 'press' }>,
  { shortcuts }: Pick<ShowDocument, 'shortcuts'>,
): string {
  if (shortcut === undefined) return '';
  const on = shortcuts.find(({ id }) => id === shortcut)?.on;
  return on === undefined ? ' by a shortcut' : ` by ${onWords(on)}`;
}

/** One line of the log in words, with the names of today. */
export function entryWords(entry: LogEntry, document: ShowDocument): string {
  const device = (key: string): string => document.devices.find((candidate) => candidate.key === key)?.name ?? key;
  const button = (id: string): string =>
    document.buttons.find((candidate) => candidate.id === id)?.legend ??
    document.macros.find((macro) => macro.id === id)?.name ??
    id.replace(/^(\w+)\.(\w+)$/, (_all, key: string, command: string) => `${device(key)} ${command}`);
  const trigger = (id: string): string =>
    document.triggers.find((candidate) => candidate.id === id)?.name ?? 'A trigger';
  switch (entry.kind) {
    case 'press':
      return `${entry.phase === 'down' ? 'Pressed' : 'Released'} ${button(entry.buttonId)}${byKey(entry, document)}${entry.why === undefined ? '' : ` · ${entry.why}`}`;
    case 'refusal':
      return `${entry.error.code === 'second-touch' ? 'Asked' : 'Refused'}: ${button(entry.buttonId)} · ${entry.error.message}`;
    case 'runStart':
      return `${entry.name} begins`;
    case 'runEnd':
      return `Run ends: ${entry.how}${entry.why === undefined ? '' : ` · ${entry.why}`}`;
    case 'step':
      return entry.words;
    case 'stepEnd':
      return entry.ok ? 'Step done' : `Step failed${entry.why === undefined ? '' : ` · ${entry.why}`}`;
    case 'command':
      return sentWords(entry, document);
    case 'accepted':
      return `${device(entry.device)}: accepted`;
    case 'outcome':
      return `${device(entry.device)}: ${entry.outcome}${entry.why === undefined ? '' : ` · ${entry.why}`}`;
    case 'settled':
      return `${device(entry.device)}: ${entry.words}`;
    case 'trigger':
      return `${entry.name}: ${entry.words}`;
    case 'claim':
      return entry.claim === null
        ? `${trigger(entry.trigger)} holds nothing any more`
        : `${trigger(entry.trigger)} holds ${entry.claim.parts.length === 1 ? 'one thing' : `${entry.claim.parts.length} things`}`;
    case 'set':
      if (entry.key.startsWith('armed@'))
        return `${trigger(entry.key.slice('armed@'.length))} is ${entry.value === true ? 'armed' : 'disarmed'}`;
      return entry.value === null ? `${entry.key} is empty` : `${entry.key} is ${value(entry.value)}`;
    case 'showBegin':
      return 'The show began; values that reset at show start are at their start value';
    case 'device':
      return entry.words;
    case 'stopAll':
      return `Everything was stopped: ${entry.runs} runs, ${entry.holds} holds`;
    case 'access':
    case 'engine':
      return entry.words;
  }
}

/** What sort of thing a line tells of. */
export const kindWords: Readonly<Record<LogEntry['kind'], string>> = {
  press: 'press',
  refusal: 'refusal',
  runStart: 'run',
  runEnd: 'run',
  step: 'step',
  stepEnd: 'step',
  command: 'sent',
  accepted: 'answer',
  outcome: 'answer',
  settled: 'read back',
  set: 'value',
  trigger: 'trigger',
  claim: 'trigger',
  device: 'device',
  stopAll: 'stop',
  showBegin: 'show',
  access: 'station',
  engine: 'engine',
};

/** Whether a line tells of something that went wrong. */
export const isBad = (entry: LogEntry): boolean =>
  (entry.kind === 'refusal' && entry.error.code !== 'second-touch') ||
  (entry.kind === 'runEnd' && entry.how !== 'done' && entry.how !== 'stopped') ||
  (entry.kind === 'outcome' && !['done', 'sent'].includes(entry.outcome)) ||
  (entry.kind === 'device' && entry.state !== 'reached') ||
  (entry.kind === 'stepEnd' && !entry.ok);

/** A station's name without the number that tells its connections apart. */
export const stationName = (station: string): string => station.replace(/#\d+$/, '');

/** Who stands beside a line: the person, or the station where nobody gave a name. */
export const whoOf = (entry: LogEntry): string =>
  'person' in entry && entry.person !== undefined && entry.person !== ''
    ? entry.person
    : 'station' in entry && entry.station !== undefined
      ? stationName(entry.station)
      : '';
