/** The gateway for remote guests: they join, wait, are put on a line, drop and come back. */
import { z } from 'zod';
import { type Behaviour, earliest, modelOf, unknownCommand } from '../behaviour';
import { defineKind, type PointDefinition } from '../kind';

const MOST_LINES = 12;

const Settings = z.strictObject({
  replyDelayMs: z.number().min(0).max(1000).default(5),
  lines: z.number().int().min(1).max(MOST_LINES).default(6),
  /** A stand-in's guests, in the order in which they come. */
  guests: z.array(z.string().min(1).max(60)).max(50).default([]),
  /** One guest comes every so often after it was switched on, seconds; null: only when told to. */
  joinEvery: z.number().min(0.1).max(3600).nullable().default(null),
});
type Settings = z.infer<typeof Settings>;

interface Line {
  readonly guest: string;
  readonly connected: boolean;
  readonly muted: boolean;
}

interface State {
  readonly began: number;
  /** How many of the guests have come so far. */
  readonly come: number;
  readonly waiting: readonly string[];
  readonly lines: readonly Line[];
}

const EMPTY: Line = { guest: '', connected: false, muted: false };

function joined(state: State, settings: Settings): State {
  const guest = settings.guests[state.come];
  return guest === undefined ? state : { ...state, come: state.come + 1, waiting: [...state.waiting, guest] };
}

const nextJoin = (state: State, settings: Settings): number | null => (settings.joinEvery === null || state.come >= settings.guests.length ? null : state.began + (state.come + 1) * settings.joinEvery * 1000);

const behaviour: Behaviour<State, Settings> = {
  start: (settings, now, from) => ({
    began: now,
    come: 0,
    waiting: String(from.waiting ?? '').split('\n').filter(Boolean),
    lines: Array.from({ length: settings.lines }, (_, index) => ({ guest: String(from[`line${index + 1}Guest`] ?? ''), connected: from[`line${index + 1}Connected`] === true, muted: from[`line${index + 1}Muted`] === true })),
  }),
  advance(state, now, settings) {
    let next = state;
    for (let at = nextJoin(next, settings); at !== null && now + 1e-6 >= at; at = nextJoin(next, settings)) next = joined(next, settings);
    return next;
  },
  act(state, { command, params }, _now, settings) {
    if (command === 'guestJoins') return state.come >= settings.guests.length ? 'Everybody has come.' : joined(state, settings);
    if (command === 'guestDrops' || command === 'guestReturns') {
      const index = state.lines.findIndex((line) => line.guest !== '' && line.connected === (command === 'guestDrops'));
      if (index < 0) return command === 'guestDrops' ? 'Nobody is on a line.' : 'Nobody has dropped.';
      return { ...state, lines: state.lines.map((line, at) => (at === index ? { ...line, connected: command === 'guestReturns' } : line)) };
    }
    const number = Number(params.line);
    const line = state.lines[number - 1];
    if (line === undefined) return `There is no line ${number}.`;
    const put = (next: Line): readonly Line[] => state.lines.map((one, at) => (at === number - 1 ? next : one));
    switch (command) {
      case 'putOnLine': {
        const guest = String(params.guest);
        if (!state.waiting.includes(guest)) return `${guest} is not waiting.`;
        if (line.guest !== '') return `${line.guest} is on line ${number}.`;
        return { ...state, waiting: state.waiting.filter((one) => one !== guest), lines: put({ guest, connected: true, muted: false }) };
      }
      case 'takeOff':
        if (line.guest === '') return `Nobody is on line ${number}.`;
        return { ...state, waiting: line.connected ? [...state.waiting, line.guest] : state.waiting, lines: put(EMPTY) };
      case 'mute':
        if (line.guest === '') return `Nobody is on line ${number}.`;
        return { ...state, lines: put({ ...line, muted: params.on === true }) };
      default:
        return unknownCommand('The gateway', command);
    }
  },
  points: (state) => ({
    waiting: state.waiting.join('\n'),
    ...Object.fromEntries(state.lines.flatMap((line, index) => [
      [`line${index + 1}Guest`, line.guest],
      [`line${index + 1}Connected`, line.connected],
      [`line${index + 1}Dropped`, line.guest !== '' && !line.connected],
      [`line${index + 1}Muted`, line.muted],
    ])),
  }),
  wakeAt: (state, _now, settings) => earliest(nextJoin(state, settings)),
};

const LineNumber = z.number().int().min(1).max(MOST_LINES).default(1).meta({ title: 'Line' });

export const guestGateway = defineKind({
  key: 'guestGateway',
  words: 'Guest gateway',
  protocol: 'HTTP with JSON',
  wire: 'http',
  settings: Settings,
  commands: {
    putOnLine: { words: 'Put a guest on a line', phrase: 'Put {guest} on line {line}', params: z.strictObject({ guest: z.string().min(1).max(60).meta({ title: 'Guest', listedIn: 'waiting' }), line: LineNumber }), seenOnAir: false, repeatable: false },
    takeOff: { words: 'Take the guest off a line', phrase: 'Take the guest off line {line}', params: z.strictObject({ line: LineNumber }), seenOnAir: true, repeatable: false },
    mute: { words: 'Mute a line', phrase: 'Mute line {line}: {on}', params: z.strictObject({ line: LineNumber, on: z.boolean().default(true).meta({ title: 'On' }) }), seenOnAir: true, repeatable: true },
  },
  simulations: { guestJoins: { words: 'The next guest joins' }, guestDrops: { words: 'A guest drops' }, guestReturns: { words: 'A guest that dropped returns' } },
  points: { waiting: { words: 'Guests who wait, one a line', type: 'text' } },
  pointsFor: (settings) =>
    Object.fromEntries(
      Array.from({ length: Settings.parse(settings).lines }, (_, index) => index + 1).flatMap((line): [string, PointDefinition][] => [
        [`line${line}Guest`, { words: `Guest on line ${line}`, type: 'text' }],
        [`line${line}Connected`, { words: `Line ${line} is connected`, type: 'switch' }],
        [`line${line}Dropped`, { words: `The guest on line ${line} dropped`, type: 'switch' }],
        [`line${line}Muted`, { words: `Line ${line} is muted`, type: 'switch' }],
      ]),
    ),
  model: modelOf(behaviour),
});
