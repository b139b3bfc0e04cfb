import type {
  Argument,
  PlainValue,
  ProfileCommand,
  ProfileFile,
  ProfileMessage,
  ProfilePoint,
  ProfileTransport,
} from '@umbek/core/show';
import { findNodeAtLocation, parseTree, type ParseError, printParseErrorCode } from 'jsonc-parser';

type TransportKind = ProfileTransport['kind'];

/** Transports by what people call them. */
export const TRANSPORTS: readonly { readonly value: TransportKind; readonly label: string }[] = [
  { value: 'osc', label: 'OSC' },
  { value: 'http', label: 'HTTP' },
  { value: 'webSocket', label: 'WebSocket' },
  { value: 'tcp', label: 'TCP' },
  { value: 'udp', label: 'UDP' },
  { value: 'midi', label: 'MIDI' },
];

/** A transport as it begins. */
export function transportOf(kind: TransportKind): ProfileTransport {
  switch (kind) {
    case 'osc':
      return { kind };
    case 'http':
      return { kind, headers: {} };
    case 'webSocket':
      return { kind, path: '/' };
    case 'tcp':
      return { kind, ending: '\r\n' };
    case 'udp':
      return { kind, ending: '' };
    case 'midi':
      return { kind, over: 'tcp' };
  }
}

/** The ways a message can be written over a transport, the usual one first. */
export const WRITTEN: Readonly<Record<TransportKind, readonly ProfileMessage['as'][]>> = {
  osc: ['osc'],
  http: ['http'],
  webSocket: ['text', 'json', 'bytes'],
  tcp: ['text', 'bytes'],
  udp: ['text', 'bytes'],
  midi: ['midi'],
};
/** The ways a state can be found in what comes over a transport. */
export const FOUND: Readonly<Record<TransportKind, readonly ProfilePoint['from']['as'][]>> = {
  osc: ['osc'],
  http: ['json', 'text'],
  webSocket: ['json', 'text', 'bytes'],
  tcp: ['text', 'json', 'bytes'],
  udp: ['text', 'json', 'bytes'],
  midi: ['midi'],
};

/** A message that holds together as it stands, to be filled in. */
export function messageOf(as: ProfileMessage['as'], name: string): ProfileMessage {
  switch (as) {
    case 'osc':
      return { as, address: `/${name}`, args: [] };
    case 'http':
      return { as, method: 'POST', path: `/${name}` };
    case 'text':
      return { as, text: name.toUpperCase() };
    case 'json':
      return { as, json: { command: name } };
    case 'bytes':
      return { as, bytes: [0] };
    case 'midi':
      return { as, message: 'noteOn', channel: 1, number: 60, value: 100 };
  }
}

export function fromOf(as: ProfilePoint['from']['as'], name: string): ProfilePoint['from'] {
  switch (as) {
    case 'osc':
      return { as, address: `/${name}`, argument: 1 };
    case 'json':
      return { as, path: `$.${name}` };
    case 'text':
      return { as, pattern: `${name.toUpperCase()}=(.*)`, group: 1 };
    case 'bytes':
      return { as, pattern: '^(..)', group: 1 };
    case 'midi':
      return { as, message: 'control', channel: 1, number: 1 };
  }
}

const firstOf = <T>(list: readonly T[]): T => list[0] as T;

export const commandOf = (transport: TransportKind, key: string, words: string): ProfileCommand => ({
  key,
  words,
  params: [],
  send: [messageOf(firstOf(WRITTEN[transport]), key)],
  seenOnAir: false,
  repeatable: true,
  delayMs: 20,
  sets: {},
});
export const pointOf = (transport: TransportKind, key: string, words: string): ProfilePoint => ({
  key,
  words,
  type: transport === 'osc' || transport === 'midi' ? 'number' : 'text',
  unit: '',
  from: fromOf(firstOf(FOUND[transport]), key),
  map: {},
});

/** The same profile over another transport: each message and each state is written anew where the new one does not carry it. */
export function overTransport(profile: ProfileFile, kind: TransportKind): ProfileFile {
  const fitting = (message: ProfileMessage, key: string): ProfileMessage =>
    WRITTEN[kind].includes(message.as) ? message : messageOf(firstOf(WRITTEN[kind]), key);
  return {
    ...profile,
    transport: transportOf(kind),
    commands: profile.commands.map((command) => ({
      ...command,
      send: command.send.map((message) => fitting(message, command.key)),
    })),
    points: profile.points.map((point) =>
      FOUND[kind].includes(point.from.as) ? point : { ...point, from: fromOf(firstOf(FOUND[kind]), point.key) },
    ),
    asks: profile.asks.map((ask) => ({ ...ask, send: fitting(ask.send, 'state') })),
  };
}

/** An argument as it is typed: `{{ CEL }}` for something worked out, anything else as it stands. */
export const argumentText = (argument: Argument): string =>
  typeof argument === 'object' ? `{{ ${argument.cel} }}` : String(argument);

/** What was typed, as an argument; numbers and yes/no where `type` wants them. */
export function argumentFrom(text: string, type: 'number' | 'switch' | 'text'): Argument {
  const cel = /^\{\{(.*)\}\}$/s.exec(text.trim())?.[1]?.trim();
  if (cel) return { cel };
  if (type === 'switch') return /^(true|yes|on|1)$/i.test(text.trim());
  const number = Number(text.replace(',', '.'));
  return type === 'number' && text.trim() !== '' && Number.isFinite(number) ? number : text;
}

/** Why a text is no argument of its type; null when it is one. */
export function argumentFault(text: string, type: 'number' | 'switch' | 'text'): string | null {
  if (/^\{\{.*\}\}$/s.test(text.trim())) return null;
  if (type === 'number' && typeof argumentFrom(text, type) !== 'number')
    return 'Give a number, or a parameter as {{ param.level }}.';
  return type === 'switch' && !/^(true|false|yes|no|on|off|0|1)$/i.test(text.trim())
    ? 'Give true or false, or a parameter as {{ param.on }}.'
    : null;
}

type Byte = Extract<ProfileMessage, { as: 'bytes' }>['bytes'][number];

/** Bytes as they are typed: `02 {{ param.level }} 03`. */
export const bytesText = (bytes: readonly Byte[]): string =>
  bytes
    .map((byte) => (typeof byte === 'object' ? `{{ ${byte.cel} }}` : byte.toString(16).toUpperCase().padStart(2, '0')))
    .join(' ');

/** @returns the bytes, or null when something is neither two hexadecimal digits nor a parameter */
export function bytesFrom(text: string): Byte[] | null {
  const parts = text.match(/\{\{.*?\}\}|\S+/gs) ?? [];
  const bytes = parts.map((part): Byte | null => {
    const cel = /^\{\{(.*)\}\}$/s.exec(part)?.[1]?.trim();
    if (cel) return { cel };
    return /^[0-9a-f]{2}$/i.test(part) ? parseInt(part, 16) : null;
  });
  return bytes.length === 0 || bytes.includes(null) ? null : (bytes as Byte[]);
}

/** The device's own words and what they stand for, one pair a line: `ON = true`. */
export const mapText = (map: Readonly<Record<string, PlainValue>>): string =>
  Object.entries(map)
    .map(([from, to]) => `${from} = ${String(to)}`)
    .join('\n');

export function mapFrom(text: string): Record<string, PlainValue> {
  return Object.fromEntries(
    text.split('\n').flatMap((line) => {
      const [from = '', to = ''] = line.split('=').map((part) => part.trim());
      return from === '' || to === ''
        ? []
        : [[from, to === 'true' ? true : to === 'false' ? false : Number.isFinite(Number(to)) ? Number(to) : to]];
    }),
  );
}

/** A fault of a profile in a text, with the line it is on, counted from 1. */
export interface LineFault {
  readonly line: number;
  readonly path: string;
  readonly words: string;
}

const lineAt = (text: string, offset: number): number => text.slice(0, offset).split('\n').length;

/** What is wrong with a text as JSON; empty when it can be read. */
export function jsonFaults(text: string): LineFault[] {
  const errors: ParseError[] = [];
  parseTree(text, errors, { allowTrailingComma: false, disallowComments: true });
  return errors.slice(0, 5).map(({ error, offset }) => ({
    line: lineAt(text, offset),
    path: '',
    words: `This is not JSON: ${printParseErrorCode(error)
      .replace(/([a-z])([A-Z])/g, '$1 $2')
      .toLowerCase()}.`,
  }));
}

/** The line of a path such as `commands.0.send`, or of what is nearest above it. */
export function lineOf(text: string, path: string): number {
  const tree = parseTree(text);
  if (!tree) return 1;
  const parts = path
    .split('.')
    .filter(Boolean)
    .map((part) => (/^\d+$/.test(part) ? Number(part) : part));
  for (let length = parts.length; length > 0; length -= 1) {
    const node = findNodeAtLocation(tree, parts.slice(0, length));
    // The property stands on the line of its name, also when its content goes on below.
    if (node) return lineAt(text, node.parent?.type === 'property' ? node.parent.offset : node.offset);
  }
  return lineAt(text, tree.offset);
}
