import { jsonpath } from 'json-p3';
import { RE2JS } from 're2js';
import { argumentWith, partKindOf, partParams } from '../devices/index';
import { compileExpression, compileLiveText, type Expression, type LiveText } from '../expression/index';
import {
  type AppError,
  type Argument,
  fail,
  ok,
  type PlainValue,
  type ProfileAsk,
  type ProfileFile,
  type ProfileMessage,
  type ProfilePoint,
  type Result,
} from '../show/index';

/** A message ready for its transport. */
export type Outgoing =
  | {
      readonly as: 'osc';
      readonly address: string;
      readonly args: readonly { readonly type: 'i' | 'f' | 's' | 'b'; readonly value: PlainValue }[];
    }
  | {
      readonly as: 'http';
      readonly method: string;
      readonly path: string;
      readonly body: string | null;
      readonly contentType: string;
    }
  | { readonly as: 'text'; readonly text: string }
  | { readonly as: 'bytes'; readonly bytes: Uint8Array }
  | {
      readonly as: 'midi';
      readonly message: Extract<ProfileMessage, { as: 'midi' }>['message'];
      readonly channel: number;
      readonly number: number;
      readonly value: number;
    };

/** Something that a device said. */
export type Incoming =
  | { readonly as: 'osc'; readonly address: string; readonly values: readonly PlainValue[] }
  | { readonly as: 'text'; readonly text: string }
  | { readonly as: 'bytes'; readonly bytes: Uint8Array }
  | {
      readonly as: 'midi';
      readonly message: string;
      readonly channel: number;
      readonly number: number;
      readonly value: number;
    };

export interface CompiledProfile {
  readonly profile: ProfileFile;
  /** What a command is on the wire. @returns the reason for which it cannot be put together as an error */
  messagesOf(command: string, params: Readonly<Record<string, PlainValue>>): Result<readonly Outgoing[], AppError>;
  readonly asks: readonly { readonly everyMs: number; readonly message: Outgoing }[];
  /** Points that this tells, none when it means nothing to the profile. */
  read(incoming: Incoming): Readonly<Record<string, PlainValue>>;
}

/** Which messages each transport can carry. */
const CARRIES: Readonly<Record<ProfileFile['transport']['kind'], readonly ProfileMessage['as'][]>> = {
  osc: ['osc'],
  http: ['http'],
  webSocket: ['text', 'json', 'bytes'],
  tcp: ['text', 'bytes'],
  udp: ['text', 'bytes'],
  midi: ['midi'],
};
/** Where each transport's points may come from. */
const TELLS: Readonly<Record<ProfileFile['transport']['kind'], readonly ProfilePoint['from']['as'][]>> = {
  osc: ['osc'],
  http: ['json', 'text'],
  webSocket: ['json', 'text', 'bytes'],
  tcp: ['text', 'json', 'bytes'],
  udp: ['text', 'json', 'bytes'],
  midi: ['midi'],
};

const NO_PARAMS = {};
type Params = Readonly<Record<string, PlainValue>>;
/** Thrown inside, caught at the border of this file. */
class CannotSay extends Error {}

/**
 * Checks a profile as a whole and makes it ready.
 * @returns every fault with its path: messages that do not suit the transport, unknown parameters and points, bad patterns, paths and expressions
 */
export function compileProfile(profile: ProfileFile): Result<CompiledProfile> {
  let made = known.get(profile);
  if (made === undefined) known.set(profile, (made = new Compiler(profile).compile()));
  return made;
}

/** Profiles are never changed in place: the same object is the same profile. */
const known = new WeakMap<ProfileFile, Result<CompiledProfile>>();

type Reader = (incoming: Incoming) => PlainValue | undefined;

class Compiler {
  private readonly errors: AppError[] = [];
  private readonly expressions = new Map<string, Expression>();
  private readonly texts = new Map<string, LiveText>();

  constructor(private readonly profile: ProfileFile) {}

  compile(): Result<CompiledProfile> {
    const { profile } = this;
    this.once(profile.commands, 'commands');
    this.once(profile.points, 'points');
    const points = new Set(profile.points.map((point) => point.key));
    profile.commands.forEach((command, index) => {
      const path = `commands.${index}`;
      this.once(command.params, `${path}.params`);
      const params = new Set([...command.params.map((param) => param.key), ...partParams(profile, command.key)]);
      command.params.forEach((param, at) => this.range(param, `${path}.params.${at}`));
      command.send.forEach((message, at) => this.message(message, `${path}.send.${at}`, params));
      for (const [point, argument] of Object.entries(command.sets)) {
        if (!points.has(point))
          this.add(
            'unknown-name',
            `There is no point ${point}.`,
            'Choose one of the points, or make it first.',
            `${path}.sets.${point}`,
          );
        this.argument(argument, `${path}.sets.${point}`, params);
      }
    });
    this.ends();
    profile.asks.forEach((ask, index) => this.message(ask.send, `asks.${index}.send`, new Set()));
    const readers = profile.points.map((point, index): readonly [ProfilePoint, Reader] => [
      point,
      this.reader(point, `points.${index}.from`),
    ]);
    if (this.errors.length > 0) return fail(this.errors);
    const commands = new Map(profile.commands.map((command) => [command.key, command]));
    return ok({
      profile,
      messagesOf: (key, params) =>
        this.said(() => (commands.get(key)?.send ?? []).map((message) => this.made(message, params))),
      asks: profile.asks.map((ask: ProfileAsk) => ({ everyMs: ask.everyMs, message: this.made(ask.send, NO_PARAMS) })),
      read: (incoming) => {
        const points: Record<string, PlainValue> = {};
        for (const [point, reader] of readers) {
          const raw = reader(incoming);
          const value = raw === undefined ? undefined : converted(point, raw);
          if (value !== undefined) points[point.key] = value;
        }
        return points;
      },
    });
  }

  /** What moves until it is told to stop must be told so by something. */
  private ends(): void {
    const { profile } = this;
    const part = partKindOf(profile);
    const commands = new Set(profile.commands.map(({ key }) => key));
    profile.commands.forEach(({ key }, index) => {
      const endedBy = part?.commands[key]?.endedBy;
      if (endedBy === undefined || commands.has(endedBy.command)) return;
      this.add(
        'no-end',
        `The command ${key} moves until it is told to stop, and nothing of the profile stops it.`,
        `Add a command with the key ${endedBy.command}.`,
        `commands.${index}`,
      );
    });
  }

  private message(message: ProfileMessage, path: string, params: ReadonlySet<string>): void {
    const { kind } = this.profile.transport;
    if (!CARRIES[kind].includes(message.as)) {
      this.add(
        'wrong-transport',
        `${kind} does not carry a message as ${message.as}.`,
        `Send it as ${CARRIES[kind].join(' or ')}.`,
        `${path}.as`,
      );
      return;
    }
    switch (message.as) {
      case 'osc':
        if (!message.address.startsWith('/'))
          this.add('bad-address', 'An OSC address begins with a slash.', 'Write it as /part/part.', `${path}.address`);
        this.text(message.address, `${path}.address`, params);
        return message.args.forEach((argument, at) =>
          this.argument(argument.value, `${path}.args.${at}.value`, params),
        );
      case 'http':
        if (!message.path.startsWith('/'))
          this.add(
            'bad-address',
            'A path begins with a slash.',
            'Write it as /part/part, without the host.',
            `${path}.path`,
          );
        if (message.json !== undefined && message.text !== undefined)
          this.add(
            'two-bodies',
            'The request has a JSON body and a text body.',
            'Leave one of them out.',
            `${path}.text`,
          );
        this.text(message.path, `${path}.path`, params);
        if (message.text !== undefined) this.text(message.text, `${path}.text`, params);
        return this.json(message.json, `${path}.json`, params);
      case 'text':
        return this.text(message.text, `${path}.text`, params);
      case 'json':
        return this.json(message.json, `${path}.json`, params);
      case 'bytes':
        return message.bytes.forEach(
          (byte, at) => typeof byte === 'object' && this.argument(byte, `${path}.bytes.${at}`, params),
        );
      case 'midi':
        return (['channel', 'number', 'value'] as const).forEach((field) =>
          this.argument(message[field], `${path}.${field}`, params),
        );
    }
  }

  private reader({ from }: ProfilePoint, path: string): Reader {
    const { kind } = this.profile.transport;
    if (!TELLS[kind].includes(from.as)) {
      this.add(
        'wrong-transport',
        `Over ${kind} no point comes as ${from.as}.`,
        `Take it from ${TELLS[kind].join(' or ')}.`,
        `${path}.as`,
      );
      return () => undefined;
    }
    switch (from.as) {
      case 'osc':
        return (incoming) =>
          incoming.as === 'osc' && incoming.address === from.address ? incoming.values[from.argument - 1] : undefined;
      case 'midi':
        return (incoming) => {
          if (incoming.as !== 'midi' || incoming.channel !== from.channel) return undefined;
          if (from.message === 'programChange')
            return incoming.message === 'programChange' ? incoming.number : undefined;
          if (incoming.number !== from.number) return undefined;
          if (from.message === 'control') return incoming.message === 'control' ? incoming.value : undefined;
          return incoming.message === 'noteOn' ? incoming.value : incoming.message === 'noteOff' ? 0 : undefined;
        };
      case 'json': {
        const query = this.guarded('bad-path', `${path}.path`, 'Write a path such as $.state.level.', () =>
          jsonpath.compile(from.path),
        );
        return (incoming) => {
          if (incoming.as !== 'text' || !query) return undefined;
          const value: unknown = query.query(parsed(incoming) as never).values()[0];
          return typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean'
            ? value
            : undefined;
        };
      }
      case 'text':
      case 'bytes': {
        const pattern = this.guarded(
          'bad-pattern',
          `${path}.pattern`,
          'Correct the regular expression; look-around and back-references are not taken.',
          () => RE2JS.compile(from.pattern),
        );
        if (pattern && from.group > pattern.groupCount())
          this.add(
            'bad-pattern',
            `The pattern has ${pattern.groupCount()} groups, not ${from.group}.`,
            'Put brackets round what is meant, or choose group 0 for all of it.',
            `${path}.group`,
          );
        return (incoming) => {
          if (!pattern || incoming.as !== from.as) return undefined;
          const matcher = pattern.matcher(incoming.as === 'text' ? incoming.text : hexOf(incoming.bytes));
          if (!matcher.find()) return undefined;
          const group = matcher.group(from.group) ?? undefined;
          return group !== undefined && from.as === 'bytes' && /^[0-9A-F ]+$/.test(group)
            ? parseInt(group.replaceAll(' ', ''), 16)
            : group;
        };
      }
    }
  }

  /** A message with its parameters in it. @throws CannotSay when one of them is missing or out of range */
  private made(message: ProfileMessage, params: Params): Outgoing {
    switch (message.as) {
      case 'osc':
        return {
          as: 'osc',
          address: this.rendered(message.address, params),
          args: message.args.map(({ type, value }) => ({ type, value: typed(type, this.value(value, params)) })),
        };
      case 'http': {
        const body =
          message.json !== undefined
            ? JSON.stringify(this.filled(message.json, params))
            : message.text === undefined
              ? null
              : this.rendered(message.text, params);
        return {
          as: 'http',
          method: message.method,
          path: this.rendered(message.path, params, encodeURIComponent),
          body,
          contentType: message.json === undefined ? 'text/plain; charset=utf-8' : 'application/json',
        };
      }
      case 'text':
        return { as: 'text', text: this.rendered(message.text, params) };
      case 'json':
        return { as: 'text', text: JSON.stringify(this.filled(message.json, params)) };
      case 'bytes':
        return { as: 'bytes', bytes: Uint8Array.from(message.bytes, (byte) => this.number(byte, params, 0, 255)) };
      case 'midi':
        return {
          as: 'midi',
          message: message.message,
          channel: this.number(message.channel, params, 1, 16),
          number: this.number(message.number, params, 0, 127),
          value: this.number(message.value, params, 0, 127),
        };
    }
  }

  private said<T>(work: () => T): Result<T, AppError> {
    try {
      return ok(work());
    } catch (error) {
      if (error instanceof CannotSay)
        return fail({ code: 'cannot-say', message: error.message, mend: 'Correct the profile or the parameter.' });
      throw error;
    }
  }

  private value(argument: Argument, params: Params): PlainValue {
    const value = argumentWith(argument, params, (text) => this.expressions.get(text));
    if (value === undefined)
      throw new CannotSay(`"${typeof argument === 'object' ? argument.cel : String(argument)}" cannot be worked out.`);
    return value;
  }

  private number(argument: Argument, params: Params, low: number, high: number): number {
    const value = this.value(argument, params);
    if (typeof value !== 'number' || !Number.isInteger(value) || value < low || value > high)
      throw new CannotSay(`${String(value)} is no whole number from ${low} to ${high}.`);
    return value;
  }

  private rendered(text: string, params: Params, escape: (part: string) => string = (part) => part): string {
    const live = this.texts.get(text);
    if (!live) return text;
    for (const key of live.reads)
      if (!(key.slice('param.'.length) in params)) throw new CannotSay(`${key} is not given.`);
    return live.render((key) => {
      const value = params[key.slice('param.'.length)] ?? '';
      return typeof value === 'string' ? escape(value) : value;
    });
  }

  private filled(json: unknown, params: Params): unknown {
    if (typeof json === 'string') return this.rendered(json, params);
    if (Array.isArray(json)) return json.map((item) => this.filled(item, params));
    if (typeof json !== 'object' || json === null) return json;
    if (isCel(json)) return this.value(json, params);
    return Object.fromEntries(Object.entries(json).map(([key, item]) => [key, this.filled(item, params)]));
  }

  private json(json: unknown, path: string, params: ReadonlySet<string>): void {
    if (typeof json === 'string') this.text(json, path, params);
    else if (Array.isArray(json)) json.forEach((item, at) => this.json(item, `${path}.${at}`, params));
    else if (typeof json === 'object' && json !== null) {
      if (isCel(json)) this.argument(json, path, params);
      else for (const [key, item] of Object.entries(json)) this.json(item, `${path}.${key}`, params);
    }
  }

  private argument(argument: Argument, path: string, params: ReadonlySet<string>): void {
    if (typeof argument !== 'object') return;
    const compiled = compileExpression(argument.cel, path);
    if (!compiled.ok) this.errors.push(compiled.error);
    else {
      this.expressions.set(argument.cel, compiled.value);
      this.names(compiled.value.reads, path, params);
    }
  }

  private text(text: string, path: string, params: ReadonlySet<string>): void {
    if (!text.includes('{{')) return;
    const compiled = compileLiveText(text, path);
    if (!compiled.ok) this.errors.push(compiled.error);
    else {
      this.texts.set(text, compiled.value);
      this.names(compiled.value.reads, path, params);
    }
  }

  /** A message knows its own parameters and nothing else of the show: profiles are shared between shows. */
  private names(reads: readonly string[], path: string, params: ReadonlySet<string>): void {
    for (const key of reads) {
      if (key.startsWith('param.') && params.has(key.slice('param.'.length))) continue;
      this.add(
        'unknown-name',
        `${key} is no parameter of this command.`,
        'Name one of its parameters, as param.level.',
        path,
      );
    }
  }

  private range({ type, min, max, start }: ProfileFile['commands'][number]['params'][number], path: string): void {
    if (min !== null && max !== null && min > max)
      this.add('bad-range', `The range goes from ${min} to ${max}.`, 'Give the smaller number first.', `${path}.min`);
    if (start !== null && typeof start !== { number: 'number', text: 'string', switch: 'boolean' }[type])
      this.add(
        'bad-start',
        `A ${type} cannot start with ${JSON.stringify(start)}.`,
        'Give a content of its own type, or none.',
        `${path}.start`,
      );
    else if (typeof start === 'number' && ((min !== null && start < min) || (max !== null && start > max)))
      this.add('bad-start', `${start} is outside its own range.`, 'Give a number inside.', `${path}.start`);
  }

  private once(entries: readonly { readonly key: string }[], path: string): void {
    const named = new Set<string>();
    entries.forEach(({ key }, index) => {
      if (named.has(key))
        this.add('key-clash', `The key ${key} is used twice.`, 'Give this one another key.', `${path}.${index}.key`);
      named.add(key);
    });
  }

  private guarded<T>(code: string, path: string, mend: string, work: () => T): T | undefined {
    try {
      return work();
    } catch (error) {
      this.add(
        code,
        (error instanceof Error ? error.message : String(error)).split('\n')[0] ?? 'It cannot be read.',
        mend,
        path,
      );
      return undefined;
    }
  }

  private add(code: string, message: string, mend: string, path: string): void {
    this.errors.push({ code, message, mend, path });
  }
}

const isCel = (json: object): json is { cel: string } =>
  'cel' in json && typeof json.cel === 'string' && Object.keys(json).length === 1;

const hexOf = (bytes: Uint8Array): string =>
  Array.from(bytes, (byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join(' ');

/** The value as the OSC type has it. */
function typed(type: 'i' | 'f' | 's' | 'b', value: PlainValue): PlainValue {
  if (type === 's') return String(value);
  if (type === 'b') return value === true || value === 1 || value === 'true';
  const number = typeof value === 'boolean' ? Number(value) : Number(value);
  if (!Number.isFinite(number)) throw new CannotSay(`${JSON.stringify(value)} is no number.`);
  return type === 'i' ? Math.round(number) : number;
}

/** What was found, as the point's type; undefined when it does not fit. */
function converted({ type, map }: ProfilePoint, raw: PlainValue): PlainValue | undefined {
  const mapped = map[String(raw)] ?? raw;
  if (type === 'text') return String(mapped).slice(0, 2000);
  if (type === 'switch') {
    if (typeof mapped === 'boolean') return mapped;
    if (typeof mapped === 'number') return mapped !== 0;
    if (/^(true|on|yes|1)$/i.test(mapped)) return true;
    return /^(false|off|no|0)$/i.test(mapped) ? false : undefined;
  }
  const number = typeof mapped === 'string' && mapped.trim() === '' ? Number.NaN : Number(mapped);
  return Number.isFinite(number) ? number : undefined;
}

const bodies = new WeakMap<object, unknown>();

/** The body as JSON, read once for all the points of a profile. */
function parsed(incoming: Extract<Incoming, { as: 'text' }>): unknown {
  if (bodies.has(incoming)) return bodies.get(incoming);
  let body: unknown;
  try {
    body = JSON.parse(incoming.text);
  } catch {
    body = null;
  }
  bodies.set(incoming, body);
  return body;
}
