import type { z } from 'zod';
import type { PlainValue } from '../show/index';

/** What a device is told: the command's key and its parameters as plain values, everything named already turned into numbers. */
export interface DeviceCommand {
  readonly command: string;
  readonly params: Readonly<Record<string, PlainValue>>;
}

export type Params = Readonly<Record<string, PlainValue>>;
/** A point of the device by its name; undefined when it is not known at present. */
export type ReadPoint = (name: string) => PlainValue | undefined;

/** What a command does to its device's own points, and what undoes it. Parameters are as the device is told them. */
export interface CommandEffect {
  /** What the points become, as far as that is known beforehand; empty when nothing of it is. */
  readonly makes: (params: Params, read: ReadPoint) => Points;
  /** What brings back what stands now, in order; null when nothing can, or what stands now is not known. */
  readonly undo: (params: Params, read: ReadPoint) => readonly DeviceCommand[] | null;
  /** What it makes depends on what stands before it, such as a cut: it is never so already. */
  readonly relative?: true;
}

/** One thing a device can be told. Parameters carry unit, words and reference in their Zod metadata. */
export interface CommandDefinition {
  readonly words: string;
  /** A step of it as a sentence, parameters and device in braces: `Recall {position} on {device}`. */
  readonly phrase?: string;
  /** The same where its parameter `on` is false: "Unmute channel {channel}". Where it is true, `: {on}` at the end of the phrase is left out. */
  readonly phraseOff?: string;
  /** How a number is said in the phrase, by parameter, where it alone says nothing: "the latest mark" for 0. */
  readonly spoken?: Readonly<Record<string, (value: number) => string>>;
  readonly params: z.ZodObject;
  /** The command that the device is told in its place, once what it names has been looked up. */
  readonly sentAs?: string;
  /** True when the picture on air may change by it. */
  readonly seenOnAir: boolean;
  /** True when doing it twice is the same as doing it once. */
  readonly repeatable: boolean;
  /** `stop` goes ahead of everything; a `nudge` not yet sent is replaced by a newer one. */
  readonly lane?: 'stop' | 'nudge';
  /** True when it is accepted first and done later (a move). */
  readonly long?: boolean;
  /** Points nobody can vouch for between sending and the device's first answer. */
  readonly unsettles?: readonly string[];
  /** True when it moves the picture of the camera: while that is on air, the head's own guard decides. */
  readonly movesPicture?: boolean;
  /** Changes what a guest line (its parameter `line`) carries: while a source of that line is on air, a press asks for a second touch. */
  readonly changesLine?: true;
  /** Lamps, alternating buttons and what takes a press back follow from it; left out: it cannot be taken back. */
  readonly effect?: CommandEffect;
  /** A position reaches it as the number of a memory: one that the head does not hold cannot be recalled. */
  readonly byMemory?: true;
  /** Moves until told otherwise: this command ends it, also when the engine has died. */
  readonly endedBy?: DeviceCommand;
}

/** One state a device gives back. */
export interface PointDefinition {
  readonly words: string;
  readonly type: 'number' | 'text' | 'switch';
  readonly unit?: string;
  /** Belongs to how the device is set up: what puts it back to a content that was saved with the show. Sources are told by number. */
  readonly restore?: (value: PlainValue) => DeviceCommand;
  /** Moments of it that people make triggers of, as the end of "When {device}: …": a condition on it with `{}` in its place, or that it changes. */
  readonly moments?: readonly ({ readonly words: string } & ({ readonly so: string } | { readonly changes: true }))[];
  /** It lists, one entry a line: conditions ask whether an entry is among them. */
  readonly lines?: true;
  /**
   * `input`: its number is an input of the switcher, 0 for none: people read the source's name. `timecode`: it is seconds of real time since
   * 00:00:00:00, and people read SMPTE ST 12 timecode at the show's frame rate.
   */
  readonly means?: 'input' | 'timecode';
  /** A running number: it goes on while what shows it stays the same thing, so that *while* rules do not go by it. */
  readonly counts?: true;
  /** Counts whole seconds, down or up, while a switch of the same device is on; at the moment at which it is told, it is exactly that. */
  readonly ticks?: { readonly by: 1 | -1; readonly while: string };
  /** A sound level that nobody hears while this switch of the same device is on, wherever the device measures it. */
  readonly silentWhile?: string;
  /** Changes many times a second and is only looked at: pages are told five times a second. */
  readonly often?: true;
}

/** Things that a device has and that come and go, such as its clips. Each is kept at one place for as long as it is there: strips follow the places. */
export interface ListDefinition {
  readonly words: string;
  /** The device's own point that lists them, one a line, in its order. */
  readonly point: string;
  readonly type: 'number' | 'text';
  /** So many places. */
  readonly most: number;
  /** What a line names one by; left out: the line itself. */
  readonly id?: (line: string) => PlainValue;
}

/** Name of the point that tells what stands at a place of a list, counted from 1: an empty text, or 0, where nothing does. */
export const placeOf = (list: string, place: number): string => `${list}At${place}`;

/** What goes into a model: a command, the moment it asked to be woken at, or a look at its points. Times are milliseconds of its clock. */
export type ModelInput =
  | { readonly type: 'command'; readonly id: string; readonly command: DeviceCommand; readonly now: number }
  | { readonly type: 'wake'; readonly now: number }
  | { readonly type: 'read'; readonly now: number };

/** An answer of a model, at an absolute time not before the input. */
export interface ModelReply {
  readonly id: string;
  readonly at: number;
  readonly event: 'accepted' | 'done' | 'refused';
  readonly why?: string;
}

export type Points = Readonly<Record<string, PlainValue>>;

export interface ModelStep<State> {
  readonly state: State;
  readonly replies: readonly ModelReply[];
  /** Points that may have changed; all of them when the input was a read. */
  readonly points: Points;
  /** When the model wants to be woken, or null. */
  readonly wakeAt: number | null;
}

/** How a kind of device behaves: pure functions over a state that only they look into. */
export interface Model<State, Settings> {
  /** @param from points as last known, so that a rehearsal begins where the device stands; empty for a device just switched on */
  start(settings: Settings, now: number, from: Points): State;
  step(state: State, input: ModelInput): ModelStep<State>;
}

/** A model under way, its state kept inside. */
export interface RunningModel {
  step(input: ModelInput): Omit<ModelStep<unknown>, 'state'>;
}

/** One source that something shows, by its number, and where. */
export interface FeedPart {
  readonly number: number;
  readonly how: string;
}

/** What an output or an inner source of a device shows. `certain` is false when some of it is not known at present. */
export interface Feed {
  readonly parts: readonly FeedPart[];
  readonly certain: boolean;
}

/** What feeds what in a device that puts pictures on air. */
export interface AirGraph {
  /** Outputs beside `program` that a show may count as air. */
  readonly outputs: readonly string[];
  /** Every point that the graph is worked out from. */
  readonly reads: readonly string[];
  /** Highest source number. */
  readonly sources: number;
  /** @param of an output by its name, or a source by its number @returns undefined for a plain input: what feeds it is not here */
  feed(of: string | number, point: (name: string) => PlainValue | undefined): Feed | undefined;
}

/** The way that a kind is spoken to: which driver and which stand-in serve it. */
export type Wire = 'visca' | 'osc' | 'http' | 'swp08' | 'tsl' | 'profile';

/** A kind of device, declared once; forms, API reference, stand-in, rehearsal and check are derived from it. */
export interface DeviceKind {
  readonly key: string;
  readonly words: string;
  /** The kind whose part a device by profile fills, by its key. */
  readonly part?: string | undefined;
  /** The protocol in plain words, for "something answers but does not speak …". */
  readonly protocol: string;
  readonly wire: Wire;
  readonly settings: z.ZodType<Record<string, unknown>>;
  readonly commands: Readonly<Record<string, CommandDefinition>>;
  readonly points: Readonly<Record<string, PointDefinition>>;
  /** Points that follow from the settings, beside `points`; once for each settings object. */
  readonly pointsFor?: ((settings: unknown) => Readonly<Record<string, PointDefinition>>) | undefined;
  /** What it lists, by the beginning of the names of its places. */
  readonly lists?: Readonly<Record<string, ListDefinition>> | undefined;
  /** What a stand-in can be made to do that no controller asks for: for rehearsing bad days. */
  readonly simulations?: Readonly<Record<string, { readonly words: string }>> | undefined;
  /** For kinds that put pictures on air: what feeds what, for a device with these settings. Settings that do not fit count as the usual ones. */
  readonly airOf?: ((settings: unknown) => AirGraph) | undefined;
  /** Starts a model. @throws when the settings do not fit the schema: check them first. */
  startModel(settings: unknown, now: number, from?: Points): RunningModel;
}

/** The same without a prototype: names come from outside, and `constructor` is none of ours. */
export const ownKeys = <T>(table: Readonly<Record<string, T>>): Readonly<Record<string, T>> =>
  Object.assign(Object.create(null) as Record<string, T>, table);

/** Ties a model to its kind without letting its state's type out. */
export function defineKind<State, Settings extends Record<string, unknown>>(definition: {
  readonly key: string;
  readonly words: string;
  readonly part?: string | undefined;
  readonly protocol: string;
  readonly wire: Wire;
  readonly settings: z.ZodType<Settings>;
  readonly commands: Readonly<Record<string, CommandDefinition>>;
  readonly points: Readonly<Record<string, PointDefinition>>;
  readonly pointsFor?: DeviceKind['pointsFor'];
  readonly lists?: DeviceKind['lists'];
  readonly simulations?: DeviceKind['simulations'];
  readonly airOf?: DeviceKind['airOf'];
  readonly model: Model<State, Settings>;
}): DeviceKind {
  const { model, ...rest } = definition;
  // Settings are never changed in place: the same object is the same settings.
  const parsed = new WeakMap<object, Settings>();
  const settingsOf = (raw: unknown): Settings => {
    if (typeof raw !== 'object' || raw === null) return definition.settings.parse(raw);
    let known = parsed.get(raw);
    if (known === undefined) parsed.set(raw, (known = definition.settings.parse(raw)));
    return known;
  };
  return {
    ...rest,
    commands: ownKeys(rest.commands),
    points: ownKeys(rest.points),
    ...(rest.simulations === undefined ? {} : { simulations: ownKeys(rest.simulations) }),
    startModel(settings, now, from = {}) {
      let state = model.start(settingsOf(settings), now, from);
      return {
        step(input) {
          const result = model.step(state, input);
          ({ state } = result);
          return result;
        },
      };
    },
  };
}
