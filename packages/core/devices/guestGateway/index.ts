/** The gateway for remote guests: they join, wait, are put on a line, drop and come back; their picture and sound go on and off, they speak and share a screen. */
import { z } from 'zod';
import { type Behaviour, earliest, modelOf, unknownCommand } from '../behaviour';
import { USUAL } from '../drawn';
import { NOTHING, puts } from '../effects';
import { type CommandEffect, defineKind, type Params, type PointDefinition } from '../kind';

const MOST_LINES = 12;

const Settings = z.strictObject({
  replyDelayMs: z.number().min(0).max(1000).default(5),
  lines: z.number().int().min(1).max(MOST_LINES).default(USUAL.guestGateway.lines),
  /** A stand-in's guests, in the order in which they come. */
  guests: z.array(z.string().min(1).max(60)).max(50).default([]),
  /** One guest comes every so often after it was switched on, seconds; null: only when told to. */
  joinEvery: z.number().min(0.1).max(3600).nullable().default(null),
  /** Guests who join, drop, return, speak and share by themselves, every 4 to 20 seconds, drawn from this seed; null: only when told to. */
  seed: z.number().int().min(0).max(0xffff_ffff).nullable().default(null),
});
type Settings = z.infer<typeof Settings>;

interface Line {
  readonly guest: string;
  readonly connected: boolean;
  readonly muted: boolean;
  /** Their picture is sent; a caller may have switched it off. */
  readonly picture: boolean;
  /** Height of the picture that comes, lines. */
  readonly height: number;
}

interface State {
  readonly began: number;
  /** Line that speaks, counted from 1; 0 for nobody. */
  readonly speaking: number;
  /** Line that shares a screen; 0 for nobody. */
  readonly sharing: number;
  /** The sequence that the seed began, and when it next brings something about; null without a seed. */
  readonly chance: { readonly drawn: number; readonly at: number } | null;
  /** How many of the guests have come so far. */
  readonly come: number;
  readonly waiting: readonly string[];
  readonly lines: readonly Line[];
}

const EMPTY: Line = { guest: '', connected: false, muted: false, picture: false, height: 0 };
const HEIGHT = 720;
/** Where a line is narrow: half of it comes. */
const LOW_HEIGHT = 360;
/** Something happens this many milliseconds after the last, plus up to so many more. */
const [EVENT_AFTER, EVENT_SPREAD] = [4000, 16_000];

/** The next number of a seeded sequence, 32 bits (linear congruence with the constants of Numerical Recipes, 2nd edition, 7.1). */
const drawNext = (drawn: number): number => (Math.imul(drawn, 1664525) + 1013904223) >>> 0;
/** Its high bits as a choice among so many: the low ones repeat after a few. */
const pick = (drawn: number, count: number): number => Math.floor((drawn / 2 ** 32) * count);
const happening = (drawn: number, now: number): State['chance'] => ({
  drawn,
  at: now + EVENT_AFTER + pick(drawn, EVENT_SPREAD),
});

/** What the seed brings about on the lines, in the order of its choices. */
const HAPPENS = ['guestJoins', 'guestSpeaks', 'guestDrops', 'guestReturns', 'guestSpeaks', 'guestShares'] as const;

function joined(state: State, settings: Settings): State {
  const guest = settings.guests[state.come];
  return guest === undefined ? state : { ...state, come: state.come + 1, waiting: [...state.waiting, guest] };
}

const nextJoin = (state: State, settings: Settings): number | null =>
  settings.joinEvery === null || state.come >= settings.guests.length
    ? null
    : state.began + (state.come + 1) * settings.joinEvery * 1000;

/** What guests do of themselves. @returns the new state, why it cannot be, or undefined when it is none of these */
function happens(state: State, what: string, settings: Settings): State | string | undefined {
  /** The first line behind the one that has it now, in a round, on which a guest is there. */
  const nextLine = (present: number): number => {
    const order = state.lines.map((_, index) => ((present + index) % state.lines.length) + 1);
    return order.find((line) => state.lines[line - 1]?.connected === true) ?? 0;
  };
  const change = (wanted: (line: Line) => boolean, to: Partial<Line>, otherwise: string): State | string => {
    const index = state.lines.findIndex(wanted);
    return index < 0
      ? otherwise
      : quiet({ ...state, lines: state.lines.map((line, at) => (at === index ? { ...line, ...to } : line)) });
  };
  switch (what) {
    case 'guestJoins':
      return state.come >= settings.guests.length ? 'Everybody has come.' : joined(state, settings);
    case 'guestDrops':
      return change((line) => line.connected, { connected: false, picture: false, height: 0 }, 'Nobody is on a line.');
    case 'guestReturns':
      return change(
        (line) => line.guest !== '' && !line.connected,
        { connected: true, picture: true, height: HEIGHT },
        'Nobody has dropped.',
      );
    case 'guestSpeaks':
      return nextLine(state.speaking) === 0 ? 'Nobody is on a line.' : { ...state, speaking: nextLine(state.speaking) };
    case 'nobodySpeaks':
      return { ...state, speaking: 0 };
    case 'guestShares':
      return nextLine(state.sharing) === 0
        ? 'Nobody is on a line.'
        : { ...state, sharing: state.sharing === 0 ? nextLine(0) : 0 };
    case 'lineNarrow':
      return change((line) => line.height === HEIGHT, { height: LOW_HEIGHT }, 'No line comes in full.');
    default:
      return undefined;
  }
}

/** Who is not there neither speaks nor shares. */
function quiet(state: State): State {
  const there = (line: number): number => (state.lines[line - 1]?.connected === true ? line : 0);
  return { ...state, speaking: there(state.speaking), sharing: there(state.sharing) };
}

const behaviour: Behaviour<State, Settings> = {
  start: (settings, now, from) => ({
    began: now,
    speaking: Number(from.speaking ?? 0),
    sharing: Number(from.sharing ?? 0),
    // A rehearsal foretells nobody's coming and going.
    chance: settings.seed === null || from.waiting !== undefined ? null : happening(drawNext(settings.seed), now),
    come: 0,
    waiting: String(from.waiting ?? '')
      .split('\n')
      .filter(Boolean),
    lines: Array.from({ length: settings.lines }, (_, index) => {
      const point = (name: string) => from[`line${index + 1}${name}`];
      return {
        guest: String(point('Guest') ?? ''),
        connected: point('Connected') === true,
        muted: point('Muted') === true,
        picture: point('Picture') === true,
        height: Number(point('Height') ?? 0),
      };
    }),
  }),
  advance(state, now, settings) {
    let next = state;
    for (let at = nextJoin(next, settings); at !== null && now + 1e-6 >= at; at = nextJoin(next, settings))
      next = joined(next, settings);
    while (next.chance !== null && now + 1e-6 >= next.chance.at) {
      const { drawn, at } = next.chance;
      const after = happens(next, HAPPENS[pick(drawn, HAPPENS.length)] ?? 'guestJoins', settings);
      next = { ...(typeof after === 'string' ? next : (after ?? next)), chance: happening(drawNext(drawn), at) };
    }
    return next;
  },
  act(state, { command, params }, _now, settings) {
    const happened = happens(state, command, settings);
    if (happened !== undefined) return happened;
    const number = Number(params.line);
    const line = state.lines[number - 1];
    if (line === undefined) return `There is no line ${number}.`;
    const withLine = (next: Line): readonly Line[] => state.lines.map((item, at) => (at === number - 1 ? next : item));
    switch (command) {
      case 'putOnLine': {
        const guest = String(params.guest);
        if (!state.waiting.includes(guest)) return `${guest} is not waiting.`;
        if (line.guest !== '') return `${line.guest} is on line ${number}.`;
        return {
          ...state,
          waiting: state.waiting.filter((candidate) => candidate !== guest),
          lines: withLine({ guest, connected: true, muted: false, picture: true, height: HEIGHT }),
        };
      }
      case 'takeOff':
        if (line.guest === '') return `Nobody is on line ${number}.`;
        return quiet({
          ...state,
          waiting: line.connected ? [...state.waiting, line.guest] : state.waiting,
          lines: withLine(EMPTY),
        });
      case 'mute':
        if (line.guest === '') return `Nobody is on line ${number}.`;
        return { ...state, lines: withLine({ ...line, muted: params.on === true }) };
      case 'picture':
        if (!line.connected) return `Nobody is there on line ${number}.`;
        return { ...state, lines: withLine({ ...line, picture: params.on === true }) };
      default:
        return unknownCommand('The gateway', command);
    }
  },
  points: (state) => ({
    waiting: state.waiting.join('\n'),
    speaking: state.speaking,
    sharing: state.sharing,
    ...Object.fromEntries(
      state.lines.flatMap((line, index) => [
        [`line${index + 1}Guest`, line.guest],
        [`line${index + 1}Connected`, line.connected],
        [`line${index + 1}Dropped`, line.guest !== '' && !line.connected],
        [`line${index + 1}Muted`, line.muted],
        [`line${index + 1}Picture`, line.picture],
        [`line${index + 1}Height`, line.height],
        [`line${index + 1}Speaking`, state.speaking === index + 1],
      ]),
    ),
  }),
  wakeAt: (state, _now, settings) => earliest(nextJoin(state, settings), state.chance?.at ?? null),
};

const LineNumber = z.number().int().min(1).max(MOST_LINES).default(1).meta({ title: 'Line' });

const guestOn = (params: Params): string => `line${String(params.line)}Guest`;

const ON_LINE: CommandEffect = {
  makes: (params) => ({ [guestOn(params)]: params.guest ?? '' }),
  undo: (params, read) => {
    const before = read(guestOn(params));
    if (before === undefined) return null;
    const off = { command: 'takeOff', params: { line: params.line ?? 1 } };
    return before === '' ? [off] : [off, { command: 'putOnLine', params: { guest: before, line: params.line ?? 1 } }];
  },
};

const OFF_LINE: CommandEffect = {
  makes: (params) => ({ [guestOn(params)]: '' }),
  undo: (params, read) => {
    const before = read(guestOn(params));
    if (before === undefined) return null;
    return before === '' ? NOTHING : [{ command: 'putOnLine', params: { guest: before, line: params.line ?? 1 } }];
  },
};

export const guestGateway = defineKind({
  key: 'guestGateway',
  words: 'Guest gateway',
  protocol: 'HTTP with JSON',
  wire: 'http',
  settings: Settings,
  commands: {
    putOnLine: {
      words: 'Put a guest on a line',
      phrase: 'Put {guest} on line {line}',
      params: z.strictObject({
        guest: z.string().min(1).max(60).meta({ title: 'Guest', listedIn: 'waiting' }),
        line: LineNumber,
      }),
      seenOnAir: false,
      repeatable: false,
      changesLine: true,
      effect: ON_LINE,
    },
    takeOff: {
      words: 'Take the guest off a line',
      phrase: 'Take the guest off line {line}',
      params: z.strictObject({ line: LineNumber }),
      seenOnAir: true,
      repeatable: false,
      changesLine: true,
      effect: OFF_LINE,
    },
    mute: {
      words: 'Mute a line',
      phrase: 'Mute line {line}: {on}',
      phraseOff: 'Unmute line {line}',
      params: z.strictObject({ line: LineNumber, on: z.boolean().default(true).meta({ title: 'On' }) }),
      seenOnAir: true,
      repeatable: true,
      effect: puts('mute', 'line{line}Muted', 'on'),
    },
    picture: {
      words: 'Picture of a line on or off',
      phrase: 'Picture of line {line} on: {on}',
      phraseOff: 'Picture of line {line} off',
      params: z.strictObject({ line: LineNumber, on: z.boolean().default(true).meta({ title: 'On' }) }),
      seenOnAir: true,
      repeatable: true,
      changesLine: true,
      effect: puts('picture', 'line{line}Picture', 'on'),
    },
  },
  simulations: {
    guestJoins: { words: 'The next guest joins' },
    guestDrops: { words: 'A guest drops' },
    guestReturns: { words: 'A guest that dropped returns' },
    guestSpeaks: { words: 'The guest on the next line speaks' },
    nobodySpeaks: { words: 'Nobody speaks' },
    guestShares: { words: 'A guest shares a screen, or ends it' },
    lineNarrow: { words: 'A line comes at half its picture size' },
  },
  points: {
    waiting: { words: 'Guests who wait, one a line', type: 'text', lines: true },
    speaking: { words: 'Line that speaks, 0 for nobody', type: 'number' },
    sharing: { words: 'Line that shares a screen, 0 for nobody', type: 'number' },
  },
  pointsFor: (settings) =>
    Object.fromEntries(
      Array.from({ length: Settings.parse(settings).lines }, (_, index) => index + 1).flatMap(
        (line): [string, PointDefinition][] => [
          [`line${line}Guest`, { words: `Guest on line ${line}`, type: 'text' }],
          [`line${line}Connected`, { words: `Line ${line} is connected`, type: 'switch' }],
          [`line${line}Dropped`, { words: `The guest on line ${line} dropped`, type: 'switch' }],
          [`line${line}Muted`, { words: `Line ${line} is muted`, type: 'switch' }],
          [`line${line}Picture`, { words: `Line ${line} sends its picture`, type: 'switch' }],
          [`line${line}Height`, { words: `Height of the picture on line ${line}`, type: 'number', unit: 'lines' }],
          [`line${line}Speaking`, { words: `Line ${line} speaks`, type: 'switch' }],
        ],
      ),
    ),
  model: modelOf(behaviour),
});
