/** Devices that nobody wrote a driver for: a kind made from a profile. */
import { z } from 'zod';
import { compileExpression, type Expression, ExpressionFault, UNKNOWN } from '../../expression/index';
import { type Argument, Key, type PlainValue, type ProfileFile, type ProfileParam } from '../../show/index';
import { modelOf, unknownCommand } from '../behaviour';
import {
  type CommandEffect,
  type DeviceCommand,
  type DeviceKind,
  defineKind,
  type Params,
  type ReadPoint,
} from '../kind';
import { partCommand, partPoints } from './parts';

export { partKindOf, partParams, tellsArrival, usedParams } from './parts';
export const GENERIC = 'generic';

/** What a device by profile is set up with: the profile it follows. */
export const GenericSettings = z.strictObject({ profile: Key });
/** The same of one that fills the part of a head. */
const GenericHeadSettings = GenericSettings.extend({
  /** A move while this camera is on air: goes at once, or asks for a second touch. */
  onAirMoves: z.enum(['allow', 'secondTouch']).default('secondTouch'),
});

interface Pending {
  readonly at: number;
  readonly points: Readonly<Record<string, PlainValue>>;
}

interface State {
  readonly points: Readonly<Record<string, PlainValue>>;
  /** Effects of commands that the device has not carried out yet, in order. */
  readonly pending: readonly Pending[];
}

const TRANSPORT_WORDS = {
  osc: 'OSC',
  http: 'HTTP',
  webSocket: 'WebSocket',
  tcp: 'lines over TCP',
  udp: 'text over UDP',
  midi: 'MIDI',
} as const;

/** A parameter of a profile as the schema that forms and checks are made from. */
function schemaOf(param: ProfileParam): z.ZodType {
  const meta = {
    title: param.title === '' ? param.key : param.title,
    ...(param.unit === '' ? {} : { unit: param.unit }),
  };
  if (param.type === 'switch')
    return (typeof param.start === 'boolean' ? z.boolean().default(param.start) : z.boolean()).meta(meta);
  if (param.type === 'text')
    return (typeof param.start === 'string' ? z.string().max(2000).default(param.start) : z.string().max(2000)).meta(
      meta,
    );
  let number = param.whole ? z.number().int() : z.number();
  if (param.min !== null) number = number.min(param.min);
  if (param.max !== null) number = number.max(param.max);
  return (typeof param.start === 'number' ? number.default(param.start) : number).meta(meta);
}

/** Works a profile's argument out with the parameters of one command. @returns undefined when it cannot be worked out */
export function argumentWith(
  argument: Argument,
  params: Readonly<Record<string, PlainValue>>,
  compiled: (text: string) => Expression | undefined,
): PlainValue | undefined {
  if (typeof argument !== 'object') return argument;
  const value = compiled(argument.cel)?.evaluate((key) => params[key.slice('param.'.length)] ?? UNKNOWN);
  return value === undefined || value === UNKNOWN || value instanceof ExpressionFault ? undefined : value;
}

function makeKind(profile: ProfileFile): DeviceKind {
  const expressions = new Map<string, Expression>();
  for (const command of profile.commands) {
    for (const argument of Object.values(command.sets)) {
      if (typeof argument !== 'object') continue;
      const compiled = compileExpression(argument.cel);
      if (compiled.ok) expressions.set(argument.cel, compiled.value);
    }
  }
  const points = partPoints(profile);
  const names = new Set(Object.keys(points));
  const effectOf = ({ command, params }: DeviceCommand): Record<string, PlainValue> => {
    const definition = profile.commands.find((candidate) => candidate.key === command);
    const sets = Object.entries(definition?.sets ?? {}).flatMap(([point, argument]): [string, PlainValue][] => {
      const value = argumentWith(argument, params, (text) => expressions.get(text));
      return value === undefined ? [] : [[point, value]];
    });
    return { ...(profile.part === 'ptzHead' ? headEnds(command, params, names) : {}), ...Object.fromEntries(sets) };
  };
  const begins = (command: DeviceCommand): Record<string, PlainValue> | null =>
    profile.part === 'ptzHead' ? headBegins(command.command, names) : null;
  const delays = new Map(profile.commands.map((command) => [command.key, command.delayMs]));
  return defineKind({
    key: GENERIC,
    words: profile.name,
    ...(profile.part === null ? {} : { part: profile.part }),
    protocol: TRANSPORT_WORDS[profile.transport.kind],
    wire: 'profile',
    settings: ModelSettings,
    commands: Object.fromEntries(
      profile.commands.map((command) => [
        command.key,
        partCommand(profile, command) ?? {
          words: command.words,
          params: z.strictObject(Object.fromEntries(command.params.map((param) => [param.key, schemaOf(param)]))),
          seenOnAir: command.seenOnAir,
          repeatable: command.repeatable,
          ...(Object.keys(command.sets).length === 0 ? {} : { effect: effectBySets(command.key, profile, effectOf) }),
        },
      ]),
    ),
    points,
    model: modelWith(effectOf, begins, names, delays),
  });
}

const MOVES: ReadonlySet<string> = new Set(['recall', 'goTo', 'home', 'nudge', 'drive']);
const only = (values: Record<string, PlainValue | undefined>, names: ReadonlySet<string>): Record<string, PlainValue> =>
  Object.fromEntries(
    Object.entries(values).flatMap(([key, value]) => (names.has(key) && value !== undefined ? [[key, value]] : [])),
  );

/** What is no longer so of a head from the moment at which it moves; null where its moves go on. */
const headBegins = (command: string, names: ReadonlySet<string>): Record<string, PlainValue> | null =>
  MOVES.has(command) ? only({ arrived: '', travelling: true }, names) : command === 'stop' ? {} : null;

/** What is so once it stands: where it was sent, as far as it has points for that. */
const headEnds = (command: string, params: Params, names: ReadonlySet<string>): Record<string, PlainValue> =>
  command === 'recall'
    ? only(
        {
          arrived: params.position,
          memory: params.number,
          pan: params.pan,
          tilt: params.tilt,
          zoom: params.zoom,
          travelling: false,
        },
        names,
      )
    : command === 'nudge' || command === 'drive'
      ? {}
      : command === 'goTo' || command === 'home' || command === 'stop'
        ? only({ travelling: false }, names)
        : {};

const PARAMETER = /^\s*param\.([A-Za-z0-9]+)\s*$/;

/**
 * What a command makes of the points is what its profile says that it sets. What takes it back follows from the same: the command itself, or
 * another one of the profile, that sets the point to what stood before and leaves all others as they were.
 */
function effectBySets(key: string, profile: ProfileFile, effectOf: Effects): CommandEffect {
  /** A command that puts a point to a value, where the profile has one. */
  const way = (point: string, value: PlainValue, given: Params, read: ReadPoint): DeviceCommand | null => {
    const own = profile.commands.filter((command) => command.key === key);
    for (const item of [...own, ...profile.commands.filter((other) => other.key !== key)]) {
      const set = item.sets[point];
      if (set === undefined) continue;
      const param = typeof set === 'object' ? PARAMETER.exec(set.cel)?.[1] : undefined;
      const start = item.key === key ? given : startsOf(item.params);
      const command = { command: item.key, params: param === undefined ? start : { ...start, [param]: value } };
      const makes = effectOf(command);
      const complete = item.params.every((each) => command.params[each.key] !== undefined);
      const others = Object.entries(makes).every(([other, to]) => other === point || read(other) === to);
      if (complete && makes[point] === value && others) return command;
    }
    return null;
  };
  return {
    makes: (params) => effectOf({ command: key, params }),
    undo: (params, read) => {
      const back: DeviceCommand[] = [];
      for (const [point, after] of Object.entries(effectOf({ command: key, params }))) {
        const before = read(point);
        if (before === undefined) return null;
        if (before === after) continue;
        const deviceCommand = way(point, before, params, read);
        if (deviceCommand === null) return null;
        if (!back.some((other) => JSON.stringify(other) === JSON.stringify(deviceCommand))) back.push(deviceCommand);
      }
      return back;
    },
  };
}

const startsOf = (params: readonly ProfileParam[]): Params =>
  Object.fromEntries(params.flatMap(({ key, start }) => (start === null ? [] : [[key, start]])));

const ModelSettings = GenericHeadSettings.extend({ replyDelayMs: z.number().min(0).default(0) });
type ModelSettings = z.infer<typeof ModelSettings>;
type Effects = (command: DeviceCommand) => Record<string, PlainValue>;

/** Points change as the profile says, after the delay that it states; the answer comes at once, for what was sent is all that is known. */
const modelWith = (
  effectOf: Effects,
  begins: (command: DeviceCommand) => Record<string, PlainValue> | null,
  names: ReadonlySet<string>,
  delays: ReadonlyMap<string, number>,
) =>
  modelOf<State, ModelSettings>({
    start: (_settings, _now, from) => ({
      points: Object.fromEntries(Object.entries(from).filter(([key]) => names.has(key))),
      pending: [],
    }),
    advance: (state, now) => {
      const due = state.pending.filter((pending) => pending.at <= now + 1e-6);
      return due.length === 0
        ? state
        : {
            points: Object.assign({}, state.points, ...due.map((pending) => pending.points)) as State['points'],
            pending: state.pending.filter((pending) => !due.includes(pending)),
          };
    },
    act: (state, command, now) => {
      const delay = delays.get(command.command);
      if (delay === undefined) return unknownCommand('The device', command.command);
      const began = begins(command);
      // A head that is sent elsewhere never gets to where it was sent before.
      const pending = began === null ? state.pending : [];
      const { forSeconds } = command.params;
      const at = now + delay;
      const over =
        began === null || typeof forSeconds !== 'number'
          ? []
          : [{ at: at + forSeconds * 1000, points: headEnds('stop', {}, names) }];
      return {
        points: { ...state.points, ...began },
        pending: [...pending, { at, points: effectOf(command) }, ...over],
      };
    },
    points: ({ points }) => points,
    wakeAt: ({ pending }) => (pending.length === 0 ? null : Math.min(...pending.map((item) => item.at))),
  });

/** The kind as it stands in the list, before a device has named its profile: nothing is known of it. */
export const generic: DeviceKind = {
  ...makeKind({
    format: 'umbek-profile',
    version: 1,
    name: 'Device by profile',
    part: null,
    transport: { kind: 'osc' },
    commands: [],
    points: [],
    asks: [],
  }),
  settings: GenericSettings,
};

const known = new WeakMap<ProfileFile, DeviceKind>();

/** The kind that a profile describes; made once for each. */
export function kindOfProfile(profile: ProfileFile): DeviceKind {
  let kind = known.get(profile);
  if (kind === undefined)
    known.set(
      profile,
      (kind = {
        ...makeKind(profile),
        settings: profile.part === 'ptzHead' ? GenericHeadSettings : GenericSettings,
      }),
    );
  return kind;
}
