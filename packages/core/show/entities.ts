import { z } from 'zod';
import { Argument, Family, Id, Key, Legend, Name, Order, PlainValue } from './primitives';
import { ProfileFile } from './profile';
import { type Step, Steps } from './step';
import { STICK } from './stick';

/** A thing that takes commands and gives states, at an address. */
export const Device = z.strictObject({
  id: Id,
  key: Key,
  name: Name,
  /** Key of the device kind. */
  kind: z.string().min(1).max(40),
  host: z.string().min(1).max(253),
  port: z.number().int().min(1).max(65_535),
  /** Where it stands; devices are listed by it. */
  room: z.string().max(60).default(''),
  /** Checked against the settings schema of the kind. */
  settings: z.record(z.string(), z.unknown()).default({}),
  order: Order,
});
export type Device = z.infer<typeof Device>;

/** A named picture or sound. The number that the switcher counts it by is stored here and nowhere else. */
export const Source = z.strictObject({
  id: Id,
  key: Key,
  name: Name,
  shortName: z.string().max(16),
  family: Family,
  /** Switcher input, counted from 1; null when no input carries it. */
  input: z.number().int().min(1).max(1024).nullable(),
  /** Key of the head that moves this source's camera, when it has one. */
  camera: Key.nullable().default(null),
  /** What a fixed source is drawn as while stand-ins take the place of pictures. */
  picture: z.enum(['none', 'sky', 'chart', 'black']).default('none'),
  /** Line of the guest gateway that it carries, counted from 1; null when none. */
  line: z.number().int().min(1).max(64).nullable().default(null),
  order: Order,
});
export type Source = z.infer<typeof Source>;

/** A stored camera position. Angles in degrees (right and up positive), zoom as a ratio (1 = wide end). */
export const Position = z.strictObject({
  id: Id,
  key: Key,
  name: Name,
  camera: Key,
  pan: z.number().min(-180).max(180),
  tilt: z.number().min(-90).max(90),
  zoom: z.number().min(1).max(60),
  /** Focus 0 (far) to 100 (near) and iris step 0 to 20; null leaves it to the camera. */
  focus: z.number().min(0).max(100).nullable().default(null),
  iris: z.number().int().min(0).max(20).nullable().default(null),
  /** Memory of the head that holds it, 0..127; null when only the show keeps it. */
  headNumber: z.number().int().min(0).max(127).nullable(),
  /** What was last written into that memory, as far as known here: VISCA cannot read it back. */
  inHead: z.strictObject({ pan: z.number(), tilt: z.number(), zoom: z.number() }).nullable().default(null),
  order: Order,
});
export type Position = z.infer<typeof Position>;

/** A person or a job that points at a source: a button that names the role finds whoever has it. */
export const Role = z.strictObject({
  id: Id,
  key: Key,
  name: Name,
  /** Name of the person as the guest gateway tells it: on whichever line they sit, its source is meant. Empty for none. */
  person: z.string().max(120).default(''),
  /** Key of the source that is meant while the person sits on no line; null for none. */
  source: Key.nullable().default(null),
  order: Order,
});
export type Role = z.infer<typeof Role>;

/** Somebody whom captions name. The list of a show is in the order in which they come on. */
export const Person = z.strictObject({
  id: Id,
  key: Key,
  name: Name,
  /** What stands below the name, such as a profession. */
  title: z.string().max(120).default(''),
  /** Where they sit or speak from. */
  place: z.string().max(120).default(''),
  order: Order,
});
export type Person = z.infer<typeof Person>;

/** A stored window of a source without motors. Centre in fractions of the frame from its top left, scale ≥ 1. */
export const Reframe = z.strictObject({
  id: Id,
  key: Key,
  name: Name,
  source: Key,
  x: z.number().min(0).max(1),
  y: z.number().min(0).max(1),
  scale: z.number().min(1).max(8),
  order: Order,
});
export type Reframe = z.infer<typeof Reframe>;

/** How a device was set up when it was saved with the show: its own points, to compare with what it shows now. */
export const SetUp = z.strictObject({
  id: Id,
  device: Key,
  savedAt: z.string().max(40),
  points: z.record(z.string().max(60), PlainValue),
});
export type SetUp = z.infer<typeof SetUp>;

/** A profile of this show; devices of the kind `generic` name it by its key. */
export const Profile = z.strictObject({ id: Id, key: Key, content: ProfileFile, order: Order });
export type Profile = z.infer<typeof Profile>;

/** What a show value holds, for whoever edits it; `plain`: whatever its start is. A duration is a number of seconds, a thing its key, a list a text with one entry a line. */
export const ValueType = z.enum([
  'plain',
  'text',
  'number',
  'switch',
  'choice',
  'source',
  'role',
  'camera',
  'destination',
  'duration',
  'list',
]);
export type ValueType = z.infer<typeof ValueType>;

/** A named value of the show with the content it starts with. */
export const ShowValue = z.strictObject({
  id: Id,
  key: Key,
  name: Name,
  type: ValueType.default('plain'),
  /** What a choice is made from. */
  choices: z.array(z.string().min(1).max(120)).max(200).default([]),
  /** Of a list up to a thousand entries, one a line. */
  start: z.union([PlainValue, z.string().max(60_000)]),
  /** What "begin show" does to it: put it back to its start, or leave it as it is. */
  atShowStart: z.enum(['reset', 'keep']).default('reset'),
  order: Order,
});
export type ShowValue = z.infer<typeof ShowValue>;

/** What a lamp can say. The first rule of a button that holds wins. */
export const LampSign = z.enum(['onAir', 'onPreview', 'chosen', 'up', 'arrived', 'armed', 'recording']);
export type LampSign = z.infer<typeof LampSign>;
export const LampRule = z.strictObject({ when: z.string().min(1).max(2000), show: LampSign });
export type LampRule = z.infer<typeof LampRule>;

/** One of the sets that a button alternates between, beside its own steps. */
export const ButtonSet = z.strictObject({
  id: z.string().min(1).max(40),
  /** What the cap says while this set is what the next press does. */
  legend: Legend,
  steps: Steps,
  /** A condition that tells that what this set does is so; empty: the devices' own states tell. */
  so: z.string().max(2000).default(''),
});
export type ButtonSet = z.infer<typeof ButtonSet>;

/** What a button does beside its press. `release`: at release. `held`: once, after so long. `again`: at a second press within that time, in place of the press. */
export const Addition = z.strictObject({
  at: z.enum(['release', 'held', 'again']),
  /** Milliseconds; not used at release. */
  ms: z.number().int().min(150).max(10_000).default(600),
  steps: Steps,
});
export type Addition = z.infer<typeof Addition>;

/** A value in the hand: a button that turns a parameter of its first step, by dragging or step by step. */
export const Dial = z.strictObject({
  /** Parameter of the first step; of a step that sets a value: `to`. */
  param: z.string().min(1).max(60),
  /** 0: it is dragged. Otherwise each press goes so far up or down, and repeats while it is held. */
  by: z.number().min(-100_000).max(100_000).default(0),
  min: z.number(),
  max: z.number(),
  /** Smallest change. */
  step: z.number().positive(),
  unit: z.string().max(20).default(''),
  /** What tells the present value, as an expression. */
  reads: z.string().min(1).max(2000),
});
export type Dial = z.infer<typeof Dial>;

export const Button = z.strictObject({
  id: Id,
  stripId: Id,
  /** May hold live text `{{ CEL }}`. */
  legend: Legend,
  /** What it says where the legend has no room; empty: as much of the legend as fits. */
  short: z.string().max(40).default(''),
  /** Name of a sign that stands before the legend; empty for none. */
  icon: z.string().max(40).default(''),
  /** What its cap shows a picture of, as it is now: `source:key`, or as it is stored: `position:key`; empty for none. */
  picture: z
    .string()
    .regex(/^((source|position):[a-z][A-Za-z0-9]{0,39})?$/, 'A picture is of a source or of a position.')
    .default(''),
  /** Second, smaller line of the cap; may hold live text `{{ CEL }}`. */
  note: Legend.default(''),
  /** `press`: the steps run once. `hold`: on while held; the release steps run at release, lost station or end of lease. */
  mode: z.enum(['press', 'hold']).default('press'),
  /** `secondTouch`: the first touch only asks; a second one within three seconds does it. */
  guard: z.enum(['none', 'secondTouch']).default('none'),
  /** A family of its own; null takes the strip's. */
  family: Family.nullable().default(null),
  steps: Steps,
  releaseSteps: Steps.default([]),
  /** What ends a hold: its release steps, or whatever brings back what stood before the press. */
  atRelease: z.enum(['steps', 'asBefore']).default('steps'),
  /** Sets that follow the button's own steps, one a press: which is next, the devices' states tell. Of a press button only. */
  sets: z.array(ButtonSet).max(8).default([]),
  /** One of each kind at most. Of a press button only; a guarded button has no second press of its own. */
  additions: z.array(Addition).max(3).default([]),
  /** Set where the button is a value in the hand. */
  dial: Dial.nullable().default(null),
  /** A condition while which its cap is there, such as a clip at its place; empty: always. Its place stays free while it is not. */
  there: z.string().max(2000).default(''),
  /** Belongs to the second set of its strip, which is shown while Shift is held. */
  shift: z.boolean().default(false),
  lamps: z.array(LampRule).max(20).default([]),
  order: Order,
});
export type Button = z.infer<typeof Button>;

/** Every list of steps that a button has, with where it stands in it. */
export const listsOf = (
  button: Pick<Button, 'steps' | 'releaseSteps' | 'sets' | 'additions'>,
): readonly (readonly [path: string, steps: readonly Step[]])[] => [
  ['steps', button.steps],
  ['releaseSteps', button.releaseSteps],
  ...button.sets.map(({ steps }, at) => [`sets.${at}.steps`, steps] as const),
  ...button.additions.map(({ steps }, at) => [`additions.${at}.steps`, steps] as const),
];

/** What a button is that does nothing beside its press: for whoever makes one. */
export const PLAIN_BUTTON: Omit<Button, 'id' | 'stripId' | 'legend' | 'steps' | 'order'> = {
  short: '',
  icon: '',
  picture: '',
  note: '',
  mode: 'press',
  guard: 'none',
  family: null,
  releaseSteps: [],
  atRelease: 'steps',
  sets: [],
  additions: [],
  dial: null,
  there: '',
  shift: false,
  lamps: [],
};

export const Strip = z.strictObject({
  id: Id,
  panelId: Id,
  name: Name,
  family: Family,
  /** Page of its panel that it stands on; empty: it stays on every page that does not cover it. */
  page: z.string().max(40).default(''),
  order: Order,
});
export type Strip = z.infer<typeof Strip>;

/** One sheet of a panel. */
export const Page = z.strictObject({
  id: z.string().min(1).max(40),
  name: Name,
  /** Staying strips that this page is shown without. */
  covers: z.array(Id).max(200).default([]),
});
export type Page = z.infer<typeof Page>;

export const Panel = z.strictObject({
  id: Id,
  name: Name,
  /** None: all of its strips stand on one sheet. */
  pages: z.array(Page).max(60).default([]),
  order: Order,
});
export type Panel = z.infer<typeof Panel>;

/** A script of steps with parameters. */
export const Macro = z.strictObject({
  id: Id,
  number: z.number().int().min(1).max(99_999),
  name: Name,
  /** Macros are listed by it; empty for none. */
  folder: z.string().max(60).default(''),
  params: z
    .array(z.strictObject({ key: Key, start: Argument }))
    .max(40)
    .default([]),
  steps: Steps,
  /** Run when the macro is stopped or fails: take the graphic down, stop the move. */
  stopSteps: Steps.default([]),
  /** What follows when it is stopped or fails: its stop steps, or whatever brings back what stood before it. */
  atStop: z.enum(['steps', 'asBefore']).default('steps'),
  /** Started again with the same parameters while it runs: start over, ignore the second press, run again afterwards, end it. */
  again: z.enum(['startOver', 'ignore', 'runAfterwards', 'end']).default('startOver'),
  /** Devices that only one run may hold at a time; the run that loses one is stopped. */
  owns: z.array(Key).max(40).default([]),
});
export type Macro = z.infer<typeof Macro>;

/** A source that a *follow* rule takes, and the position that its camera is sent to while it is not on air; empty: none. */
const Shot = z.strictObject({ source: Key, position: z.union([Key, z.literal('')]).default('') });
const Ms = (most: number, usual: number) => z.number().min(0).max(most).default(usual);

/** The microphones that a *follow* rule listens to, the shot of each, and when it changes. Levels in dB below full scale, times in milliseconds. */
export const Voices = z.strictObject({
  kind: z.literal('voices'),
  /** The switcher that takes the shots. */
  switcher: Key,
  mics: z
    .array(
      Shot.extend({
        /** Who speaks there. */
        name: Name,
        /** The point that tells its level, such as `sound.ch1Level`. */
        level: z
          .string()
          .regex(/^[a-z][A-Za-z0-9]{0,39}\.[a-z][A-Za-z0-9]{0,39}$/, 'Choose the level of a microphone.'),
      }),
    )
    .max(16),
  /** When several talk at once, or nobody does; null: the shot stays. */
  wide: Shot.nullable().default(null),
  /** Somebody talks from this level on. */
  talksDb: z.number().min(-60).max(0).default(-34),
  /** And until the level has fallen so far below it, dB. */
  hysteresisDb: z.number().min(0).max(30).default(6),
  /** For so long the level has to be over, and under. */
  attackMs: Ms(10_000, 400),
  releaseMs: Ms(10_000, 800),
  /** Two or more talk for so long, or nobody does: the wide shot. */
  togetherMs: Ms(60_000, 1500),
  nobodyMs: Ms(600_000, 4000),
  /** No shot is shorter. */
  shortestMs: z.number().min(500).max(60_000).default(3000),
  /** A cut by hand keeps the rule off for so long. */
  holdOffMs: Ms(3_600_000, 10_000),
  /** Frames of a mix to the next shot; 0: it is cut. */
  mixFrames: z.number().int().min(0).max(250).default(0),
  /** Goes on after a cut by hand to something that is none of its shots. Otherwise it waits until one of them is on air again. */
  returns: z.boolean().default(false),
});
export type Voices = z.infer<typeof Voices>;

/** What makes a trigger act. */
export const Occasion = z.discriminatedUnion('kind', [
  /** A condition turns true, or false. */
  z.strictObject({ kind: z.literal('turns'), condition: z.string().min(1).max(2000), to: z.boolean().default(true) }),
  /** What an expression says becomes something else. */
  z.strictObject({ kind: z.literal('changes'), of: z.string().min(1).max(2000) }),
  /** A time of day in the show's time zone. */
  z.strictObject({
    kind: z.literal('time'),
    at: z.string().regex(/^([01]\d|2[0-3]):[0-5]\d:[0-5]\d$/, 'A time of day is written 20:15:00.'),
    /** Only on this day; empty: every day. */
    date: z
      .string()
      .regex(/^(\d{4}-\d{2}-\d{2})?$/, 'A date is written 2026-08-12.')
      .default(''),
  }),
  Voices,
]);
export type Occasion = z.infer<typeof Occasion>;

/** A rule by which a show does something by itself. */
export const Trigger = z.strictObject({
  id: Id,
  name: Name,
  /** Rules are armed together and listed by it; empty for none. */
  group: z.string().max(60).default(''),
  /**
   * `when`: on an event, do the steps. `while`: as long as its condition holds, keep what the steps make. `follow`: microphones choose the shot; it has
   * no steps.
   */
  kind: z.enum(['when', 'while', 'follow']),
  /** Of a *while* rule a condition that turns true: it holds until that is false. Of a *follow* rule its voices, and of no other. */
  on: Occasion,
  steps: Steps,
  /** A condition that has to hold at the event; empty: none. Of a *when* rule. */
  onlyIf: z.string().max(2000).default(''),
  /** Milliseconds from the event to the first step. Of a *when* rule. */
  delayMs: z.number().min(0).max(86_400_000).default(0),
  /** Milliseconds that have to pass before it fires again. Of a *when* rule. */
  minGapMs: z.number().min(0).max(86_400_000).default(0),
  /** What a second event does while the steps of the first still run. Of a *when* rule. */
  again: z.enum(['startOver', 'ignore', 'runAfterwards', 'end']).default('startOver'),
  /** Whether it is armed after the show was opened or imported, and after *begin show*. `asLeft`: as it was. */
  atStart: z.enum(['armed', 'disarmed', 'asLeft']).default('armed'),
  order: Order,
});
export type Trigger = z.infer<typeof Trigger>;

/** A key of a computer keyboard with what is held beside it. `code`: its physical place (W3C UI Events KeyboardEvent code Values), such as `KeyA`. */
export const KeyOn = z.strictObject({
  kind: z.literal('key'),
  code: z.string().regex(/^[A-Z][A-Za-z0-9]{0,30}$/, 'A key is named by its place, such as KeyA or F5.'),
  shift: z.boolean().default(false),
  ctrl: z.boolean().default(false),
  alt: z.boolean().default(false),
  meta: z.boolean().default(false),
});
export type KeyOn = z.infer<typeof KeyOn>;

/** A code typed on a dial pad. A macro's number is its code where none is given. */
export const CodeOn = z.strictObject({
  kind: z.literal('code'),
  code: z.string().regex(/^\d{1,6}$/, 'A code is one to six digits.'),
});
export type CodeOn = z.infer<typeof CodeOn>;

/** A MIDI note, or a controller such as a pedal: down from velocity 1 and value 64 on (MIDI 1.0: 0 to 63 is off). */
export const MidiOn = z.strictObject({
  kind: z.literal('midi'),
  message: z.enum(['note', 'control']),
  /** 1 to 16. */
  channel: z.number().int().min(1).max(16),
  number: z.number().int().min(0).max(127),
  /** Of a controller that turns a value: a knob without ends, which tells how far it was turned (1 up, 127 down). */
  endless: z.boolean().optional(),
});
export type MidiOn = z.infer<typeof MidiOn>;

/** A button of a joystick, pad or pedal that the browser knows (W3C Gamepad), counted from 0. */
export const StickOn = z.strictObject({ kind: z.literal('stick'), button: z.number().int().min(0).max(63) });
export type StickOn = z.infer<typeof StickOn>;

/** A lever of a joystick that the browser knows, counted from 0: it turns a value, from one end at −1 to the other at 1 (W3C Gamepad). */
export const AxisOn = z.strictObject({
  kind: z.literal('axis'),
  axis: z.number().int().min(0).max(31),
  /** Its far end is the least and not the most. */
  reversed: z.boolean().optional(),
});
export type AxisOn = z.infer<typeof AxisOn>;

/** What is pressed or turned outside the panels. */
export const ShortcutOn = z.discriminatedUnion('kind', [KeyOn, CodeOn, MidiOn, StickOn, AxisOn]);
export type ShortcutOn = z.infer<typeof ShortcutOn>;

/** What runs from outside the panels: a button as a finger presses it, a macro, or what a hand does to a trigger. */
export const Runs = z.union([
  z.strictObject({ button: Id }),
  z.strictObject({ macro: Id }),
  z.strictObject({ trigger: Id, does: z.enum(['fire', 'arm', 'disarm']) }),
]);
export type Runs = z.infer<typeof Runs>;

/** Something outside the panels that runs a button as a finger presses it, turns its value, runs a macro, or fires, arms or disarms a trigger. */
export const Shortcut = z.strictObject({
  id: Id,
  /** What is pressed. */
  on: ShortcutOn,
  /** Station of the show where it counts, before those that count everywhere; null: everywhere. */
  station: Id.nullable().default(null),
  runs: Runs,
  /** Of two on one key the first one counts. */
  order: Order,
});
export type Shortcut = z.infer<typeof Shortcut>;

/** Name of a link group: stations of one share what is chosen. */
export const LinkGroup = z.string().regex(/^[a-zA-Z0-9-]{1,40}$/);

/** Keys of a grid on which the buttons of a panel stand where a person put them. */
export const PlacedKeys = z.strictObject({
  panel: Id,
  columns: z.number().int().min(1).max(32),
  rows: z.number().int().min(1).max(32),
  /** Of each page its keys row by row from the top left; null: an empty one. Of several pages the last key of each turns to the next. */
  pages: z.array(z.array(Id.nullable()).max(1024)).min(1).max(50),
});
export type PlacedKeys = z.infer<typeof PlacedKeys>;

/** The part of a panel that a station shows. */
export const PanelPart = z.strictObject({ panel: Id, strips: z.array(Id).min(1).max(500) });
export type PanelPart = z.infer<typeof PanelPart>;

/** One screen, pad or hardware grid of the show. A browser or a pad claims it: which one is a matter of the installation, not of the show. */
export const Station = z.strictObject({
  id: Id,
  name: Name,
  /** Where it stands, for people. */
  place: z.string().max(60).default(''),
  /** Panels that it may show; none: all of them. */
  panels: z.array(Id).max(500).default([]),
  /** Panel on which it opens; null: the first one that it may show. */
  opensOn: Id.nullable().default(null),
  linkGroup: LinkGroup.default('main'),
  /** Panels that are cut loose: what is chosen on them here counts on them here alone. */
  loose: z.array(Id).max(500).default([]),
  /** Panels of which only some strips are shown here: one may spread over several stations. */
  parts: z.array(PanelPart).max(500).default([]),
  /** Panels whose keys were placed by hand, for a pad of that size. */
  placed: z.array(PlacedKeys).max(500).default([]),
  order: Order,
});
export type Station = z.infer<typeof Station>;

/** How a joystick that moves the chosen camera answers the hand. */
export const Stick = z.strictObject({
  /** Share of its way in which it rests; no stick comes back to exactly nothing. */
  deadZone: z.number().min(0.02).max(0.5).default(0.12),
  /** Speed is the deflection to the power of this: the more, the slower most of its way is. */
  curve: z.number().min(1).max(4).default(2),
  /** Key of a show value that is full speed, as a share of the head's (0 to 1); empty, or a value that is none: all of it. */
  range: z.string().max(60).default(''),
});
export type Stick = z.infer<typeof Stick>;

export const ShowHead = z.strictObject({
  id: Id,
  name: Name,
  /** Frames a second; 29.97 and 59.94 are written as these decimals. */
  frameRate: z.number().min(1).max(120),
  /** Outputs of a switcher that count as air beside its program: points such as `aux1` or `bank2Program`. */
  airOutputs: z
    .array(z.string().regex(/^[a-z][A-Za-z0-9]{0,39}$/))
    .max(64)
    .default([]),
  stick: Stick.default(STICK),
  /** Time zone of rules that go by the time of day, as the IANA database names it; empty: that of the engine's machine. */
  timeZone: z.string().max(60).default(''),
});
export type ShowHead = z.infer<typeof ShowHead>;

/** Everything programmed for one production. */
export const ShowDocument = z.strictObject({
  show: ShowHead,
  devices: z.array(Device).max(500),
  sources: z.array(Source).max(5000),
  positions: z.array(Position).max(10_000),
  values: z.array(ShowValue).max(5000),
  panels: z.array(Panel).max(500),
  strips: z.array(Strip).max(5000),
  buttons: z.array(Button).max(20_000),
  macros: z.array(Macro).max(5000),
  profiles: z.array(Profile).max(200).default([]),
  roles: z.array(Role).max(1000).default([]),
  reframes: z.array(Reframe).max(2000).default([]),
  setUps: z.array(SetUp).max(500).default([]),
  people: z.array(Person).max(10_000).default([]),
  shortcuts: z.array(Shortcut).max(5000).default([]),
  stations: z.array(Station).max(250).default([]),
  triggers: z.array(Trigger).max(2000).default([]),
});
export type ShowDocument = z.infer<typeof ShowDocument>;

/** The lists of a show that edits name, with the schema of an entry. */
export const ENTITIES = {
  devices: Device,
  sources: Source,
  positions: Position,
  values: ShowValue,
  panels: Panel,
  strips: Strip,
  buttons: Button,
  macros: Macro,
  profiles: Profile,
  roles: Role,
  reframes: Reframe,
  setUps: SetUp,
  people: Person,
  shortcuts: Shortcut,
  stations: Station,
  triggers: Trigger,
} as const;
export type EntityName = keyof typeof ENTITIES;
