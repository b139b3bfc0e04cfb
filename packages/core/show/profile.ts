import { z } from 'zod';
import { Argument, Key, PlainValue } from './primitives';

/** A text of a message, with `{{ CEL }}` where a parameter goes: `LEVEL {{ param.level }}`. */
const Template = z.string().max(4000);
const Words = z.string().min(1).max(120);

/** Any JSON in which `{ "cel": "param.level" }` stands for a value and `{{ param.level }}` inside a text for its words. */
const JsonBody = z.json();

/** One message as it is put together. `as` must suit the transport of the profile. */
export const ProfileMessage = z.discriminatedUnion('as', [
  z.strictObject({
    as: z.literal('osc'),
    address: Template.min(1),
    args: z
      .array(z.strictObject({ type: z.enum(['i', 'f', 's', 'b']), value: Argument }))
      .max(40)
      .default([]),
  }),
  z.strictObject({
    as: z.literal('http'),
    method: z.enum(['GET', 'POST', 'PUT', 'PATCH', 'DELETE']).default('POST'),
    path: Template.min(1),
    json: JsonBody.optional(),
    text: Template.optional(),
  }),
  z.strictObject({ as: z.literal('text'), text: Template }),
  z.strictObject({ as: z.literal('json'), json: JsonBody }),
  z.strictObject({
    as: z.literal('bytes'),
    bytes: z
      .array(z.union([z.number().int().min(0).max(255), z.strictObject({ cel: z.string().min(1).max(2000) })]))
      .min(1)
      .max(2000),
  }),
  z.strictObject({
    as: z.literal('midi'),
    message: z.enum(['noteOff', 'noteOn', 'control', 'programChange']),
    channel: Argument,
    number: Argument,
    value: Argument.default(0),
  }),
]);
export type ProfileMessage = z.infer<typeof ProfileMessage>;

/** Where a point's content is found in what the device says. Counted from 1; JSON paths are RFC 9535, patterns are regular expressions without look-around. */
export const ProfileFrom = z.discriminatedUnion('as', [
  z.strictObject({
    as: z.literal('osc'),
    address: z.string().min(1).max(200),
    argument: z.number().int().min(1).max(40).default(1),
  }),
  z.strictObject({ as: z.literal('json'), path: z.string().min(1).max(400) }),
  z.strictObject({
    as: z.literal('text'),
    pattern: z.string().min(1).max(400),
    group: z.number().int().min(0).max(20).default(1),
  }),
  /** The bytes written as `02 4F 03`; a number is read from its group as hexadecimal. */
  z.strictObject({
    as: z.literal('bytes'),
    pattern: z.string().min(1).max(400),
    group: z.number().int().min(0).max(20).default(1),
  }),
  z.strictObject({
    as: z.literal('midi'),
    message: z.enum(['note', 'control', 'programChange']),
    channel: z.number().int().min(1).max(16),
    number: z.number().int().min(0).max(127).default(0),
  }),
]);
export type ProfileFrom = z.infer<typeof ProfileFrom>;

export const ProfileTransport = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('osc') }),
  z.strictObject({ kind: z.literal('http'), headers: z.record(z.string().max(100), z.string().max(1000)).default({}) }),
  z.strictObject({ kind: z.literal('webSocket'), path: z.string().max(400).default('/') }),
  /** Lines end with this text; with none, what arrives together is one message. */
  z.strictObject({ kind: z.literal('tcp'), ending: z.string().max(8).default('\r\n') }),
  z.strictObject({ kind: z.literal('udp'), ending: z.string().max(8).default('') }),
  /** MIDI 1.0 bytes over a byte stream or in datagrams, as network converters carry them. */
  z.strictObject({ kind: z.literal('midi'), over: z.enum(['tcp', 'udp']).default('tcp') }),
]);
export type ProfileTransport = z.infer<typeof ProfileTransport>;

export const ProfileParam = z.strictObject({
  key: Key,
  title: z.string().max(60).default(''),
  type: z.enum(['number', 'text', 'switch']).default('number'),
  unit: z.string().max(20).default(''),
  /** Range of a number. */
  min: z.number().nullable().default(null),
  max: z.number().nullable().default(null),
  whole: z.boolean().default(false),
  start: PlainValue.nullable().default(null),
});
export type ProfileParam = z.infer<typeof ProfileParam>;

export const ProfileCommand = z.strictObject({
  key: Key,
  words: Words,
  params: z.array(ProfileParam).max(40).default([]),
  /** Sent one after the other. */
  send: z.array(ProfileMessage).min(1).max(20),
  seenOnAir: z.boolean().default(false),
  repeatable: z.boolean().default(true),
  /** How long the device takes, for rehearsals; milliseconds. */
  delayMs: z.number().min(0).max(600_000).default(20),
  /** What the points are after it, for rehearsals. */
  sets: z.record(z.string().max(60), Argument).default({}),
});
export type ProfileCommand = z.infer<typeof ProfileCommand>;

export const ProfilePoint = z.strictObject({
  key: Key,
  words: Words,
  type: z.enum(['number', 'text', 'switch']).default('text'),
  unit: z.string().max(20).default(''),
  from: ProfileFrom,
  /** What the device's own words stand for: `{ "ON": true }`. */
  map: z.record(z.string().max(200), PlainValue).default({}),
});
export type ProfilePoint = z.infer<typeof ProfilePoint>;

/** A question that is asked again and again. What asks knows whether the device answers; without one an unconnected device is only told. */
export const ProfileAsk = z.strictObject({
  everyMs: z.number().int().min(100).max(600_000).default(500),
  send: ProfileMessage,
});
export type ProfileAsk = z.infer<typeof ProfileAsk>;

export const PROFILE_VERSION = 1;

/** Kinds of device whose place one by profile may take: what is offered, guarded and stopped of them goes for it too. */
export const PROFILE_PARTS = ['ptzHead', 'recorder', 'router', 'captions'] as const;
export type ProfilePart = (typeof PROFILE_PARTS)[number];

/** A file that describes a device's commands and points over a generic transport. */
export const ProfileFile = z.strictObject({
  format: z.literal('umbek-profile'),
  version: z.literal(PROFILE_VERSION),
  name: Words,
  /** The kind of device that it is as far as the show goes: commands and points that are named as that kind's mean the same. */
  part: z.enum(PROFILE_PARTS).nullable().default(null),
  transport: ProfileTransport,
  commands: z.array(ProfileCommand).max(500).default([]),
  points: z.array(ProfilePoint).max(500).default([]),
  asks: z.array(ProfileAsk).max(40).default([]),
});
export type ProfileFile = z.infer<typeof ProfileFile>;
