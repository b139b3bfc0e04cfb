/** The protocol of pads with keys, at `/api/pad`: each message is one JSON object in a text frame of a WebSocket. */
import { Family, Id, LampSign } from '@umbek/core/show';
import { z } from 'zod';
import { PressId } from './presses';

/** Counts up when a pad of before would not do any more. What is only added leaves it as it is: a pad passes over what it does not know. */
export const PAD_PROTOCOL = 1;

const Key = z
  .number()
  .int()
  .min(0)
  .max(1023)
  .meta({ description: 'Number of a key, counted from 0 at the top left, row by row.' });
const at = z.number().optional().meta({
  description:
    'Time of the touch on the engine’s clock, milliseconds, as `time` tells it. More than 2 s old, it is refused.',
});
const press = PressId.meta({
  description: 'ULID made by the pad, one for each touch. Sent again, it is the same touch.',
});

export const PadHello = z
  .strictObject({
    type: z.literal('hello'),
    protocol: z
      .number()
      .int()
      .min(0)
      .max(1_000_000)
      .meta({ description: `Protocol that the pad speaks: ${PAD_PROTOCOL}.` }),
    name: z.string().trim().min(1).max(60).meta({ description: 'What people call it.' }),
    serial: z
      .string()
      .regex(/^[\x21-\x7e]{1,60}$/)
      .meta({ description: 'Tells it from others of its kind, and stays: by it the pad keeps its place.' }),
    columns: z.number().int().min(1).max(32),
    rows: z.number().int().min(1).max(32),
    picture: z
      .strictObject({ width: z.number().int().min(24).max(256), height: z.number().int().min(24).max(256) })
      .nullable()
      .default(null)
      .meta({ description: 'Size of the display in a key, pixels; null: no pictures are sent.' }),
  })
  .meta({ description: 'The first message.' });

export const PadDown = z
  .strictObject({ type: z.literal('down'), key: Key, press, at })
  .meta({ description: 'A finger goes down.' });
export const PadHold = z.strictObject({ type: z.literal('hold'), press }).meta({
  description:
    'The finger is still there. Send it every 100 ms: without it for `leaseMs`, what the key holds is let go.',
});
export const PadUp = z
  .strictObject({ type: z.literal('up'), press })
  .meta({ description: 'The finger lifts. It belongs to its touch, also when the key shows something else by now.' });
export const PadShift = z
  .strictObject({ type: z.literal('shift'), on: z.boolean() })
  .meta({ description: 'While it is on, strips with a second set of buttons show that.' });
export const PadTime = z.strictObject({ type: z.literal('time'), sent: z.number() }).meta({
  description:
    'Asks for the engine’s time. Send it at least every second: without an answer for 2.5 s nothing shown is known to be true.',
});

export const PadMessage = z.discriminatedUnion('type', [PadHello, PadDown, PadHold, PadUp, PadShift, PadTime]);
export type PadMessage = z.infer<typeof PadMessage>;
export type PadHello = z.infer<typeof PadHello>;

export const PadLamp = z.enum([...LampSign.options, 'working', 'failed']);

export const PadCap = z.object({
  key: Key,
  legend: z.string().meta({ description: 'Empty: nothing stands here.' }),
  note: z.string().meta({ description: 'Second, smaller line.' }),
  family: Family.nullable().meta({ description: 'Colour family of its strip; null: none.' }),
  lamp: PadLamp.nullable(),
  lost: z.boolean().meta({ description: 'The device behind it does not answer.' }),
  holds: z.boolean().meta({ description: 'It acts as long as the finger stays.' }),
  picture: z.string().optional().meta({
    description:
      'PNG of the asked size in base 64. Left out: none was asked for, or none could be drawn; show the words.',
  }),
});
export type PadCap = z.infer<typeof PadCap>;

export const PadWelcome = z
  .object({
    type: z.literal('welcome'),
    protocol: z.number(),
    leaseMs: z.number().meta({ description: 'A touch that is not renewed within it is let go, milliseconds.' }),
    station: z
      .string()
      .nullable()
      .meta({ description: 'Name of the station that the pad acts as; null: it has no place yet.' }),
    engine: z.number().meta({ description: 'The engine’s clock, milliseconds.' }),
  })
  .meta({ description: 'Answer to `hello`, and again when its place is another one.' });
export const PadCaps = z
  .object({
    type: z.literal('caps'),
    whole: z.boolean().meta({ description: 'Every key stands here. Otherwise only those that changed.' }),
    panel: z.string().nullable().meta({ description: 'Name of the panel.' }),
    page: z.number().meta({ description: 'From 1.' }),
    pages: z.number(),
    caps: z.array(PadCap),
  })
  .meta({ description: 'What the keys show from now on.' });
export const PadAnswer = z
  .object({
    type: z.literal('answer'),
    press: z.string(),
    phase: z.enum(['down', 'hold', 'up']),
    accepted: z.boolean(),
    words: z.string().optional().meta({ description: 'Why it was refused.' }),
    mend: z.string().optional().meta({ description: 'What helps.' }),
  })
  .meta({ description: 'What became of a touch, before any device has replied. An accepted `hold` is not answered.' });
export const PadTaken = z
  .object({
    type: z.literal('taken'),
    press: z.string(),
    mine: z.boolean().meta({ description: 'This pad took it. Otherwise its touch is over, whatever its finger does.' }),
    words: z.string(),
  })
  .meta({ description: 'Two hands moved one device: the later one has it, and both are told.' });
export const PadFlash = z
  .object({ type: z.literal('flash'), name: z.string(), forMs: z.number() })
  .meta({ description: 'Somebody looks for this pad: show the name on all keys for so long, milliseconds.' });
export const PadTold = z
  .object({ type: z.literal('time'), sent: z.number(), engine: z.number() })
  .meta({ description: 'Answer to `time`: what was sent, and the engine’s clock, milliseconds.' });
export const PadError = z
  .object({ type: z.literal('error'), code: z.string(), words: z.string(), mend: z.string() })
  .meta({ description: 'Something sent was not done. With `pad-too-old` and `pad-too-new` the connection ends.' });

export const PadTelling = z.discriminatedUnion('type', [
  PadWelcome,
  PadCaps,
  PadAnswer,
  PadTaken,
  PadFlash,
  PadTold,
  PadError,
]);
export type PadTelling = z.infer<typeof PadTelling>;

export const PadPlaceBody = z
  .strictObject({
    serial: PadHello.shape.serial,
    station: Id.nullable().meta({ description: 'Station of the show that the pad acts as; null: none.' }),
  })
  .meta({ id: 'PadPlace' });
