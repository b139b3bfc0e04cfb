import type { JournalEvent } from '@umbek/core/journal';
import type { PlainValue, ShowDocument } from '@umbek/core/show';

/** An entry of the as-run with its number and time of day. */
export type LogEntry = JournalEvent & { readonly seq: number; readonly at: string };

const value = (one: PlainValue): string => (typeof one === 'string' ? one : String(one));

/** A recall by the name of its position, a source's number by its name; other parameters as they are. */
function paramsWords(params: Readonly<Record<string, PlainValue>>, document: ShowDocument): string {
  const position = document.positions.find((one) => one.key === params.position);
  if (position) return position.name;
  const named = Object.entries(params).map(([key, one]) => (key === 'source' ? (document.sources.find((source) => source.input === one)?.name ?? value(one)) : value(one)));
  return named.join(' ');
}

/** One line of the log in words, with the names of today. */
export function entryWords(entry: LogEntry, document: ShowDocument): string {
  const device = (key: string): string => document.devices.find((one) => one.key === key)?.name ?? key;
  const button = (id: string): string => document.buttons.find((one) => one.id === id)?.legend ?? id.replace(/^(\w+)\.(\w+)$/, (_all, key: string, command: string) => `${device(key)} ${command}`);
  switch (entry.kind) {
    case 'press':
      return `${entry.phase === 'down' ? 'Pressed' : 'Released'} ${button(entry.buttonId)}${entry.why === undefined ? '' : ` · ${entry.why}`}`;
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
      return `${device(entry.device)}: ${entry.command.command} ${paramsWords(entry.command.params, document)}`.trim();
    case 'accepted':
      return `${device(entry.device)}: accepted`;
    case 'outcome':
      return `${device(entry.device)}: ${entry.outcome}${entry.why === undefined ? '' : ` · ${entry.why}`}`;
    case 'settled':
      return `${device(entry.device)}: ${entry.words}`;
    case 'set':
      return `${entry.key} is ${value(entry.value)}`;
    case 'device':
      return entry.words;
    case 'stopAll':
      return `Everything was stopped: ${entry.runs} runs, ${entry.holds} holds`;
    case 'engine':
      return entry.words;
  }
}

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
export const whoOf = (entry: LogEntry): string => ('person' in entry && entry.person !== undefined && entry.person !== '' ? entry.person : 'station' in entry ? stationName(entry.station) : '');
