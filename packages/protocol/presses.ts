/** Presses over HTTP, and the panels that are pressed. */
import { z } from 'zod';
import { Family, Id, LampSign, PlainValue } from '@umbek/core/show';

export const PressId = Id.meta({ description: 'ULID made by the client, one for each touch.' });

export const PressBody = z
  .strictObject({
    pressId: PressId,
    buttonId: z.string().min(1).max(40),
    phase: z.enum(['down', 'hold', 'up']),
    station: z.string().min(1).max(120),
    person: z.string().max(120).optional(),
    linkGroup: z
      .string()
      .regex(/^[a-zA-Z0-9-]{1,40}$/)
      .optional(),
    value: z
      .number()
      .optional()
      .meta({ description: 'Of a value in the hand: what it is turned to; with each hold anew.' }),
    takeBack: PressId.optional().meta({
      description: 'Takes this press of the same station back, within 10 s; buttonId then only names it in the as-run.',
    }),
    at: z
      .number()
      .optional()
      .meta({ description: 'Time of the touch, milliseconds since 1970. A press more than 2 s old is refused.' }),
  })
  .meta({ id: 'Press' });

export const Params = z.record(z.string().regex(/^[A-Za-z][A-Za-z0-9]{0,59}$/), PlainValue).default({});

export const SendBody = z
  .strictObject({
    pressId: PressId,
    phase: z.enum(['down', 'hold', 'up']),
    device: z.string().min(1).max(40),
    command: z.string().min(1).max(60),
    params: Params,
    station: z.string().min(1).max(120),
    person: z.string().max(120).optional(),
  })
  .meta({
    id: 'Send',
    description:
      'A command without a button. One that moves until told otherwise is held: renew it within 400 ms, and let go.',
  });

export const TryBody = z
  .strictObject({
    pressId: PressId,
    buttonId: z.string().min(1).max(40),
    stepId: z.string().min(1).max(40).optional().meta({ description: 'Left out: all of it, stepped through.' }),
    phase: z
      .enum(['down', 'hold', 'up'])
      .default('down')
      .meta({ description: 'A step that moves until told otherwise is held: renew it within 400 ms, and let go.' }),
    onward: z.boolean().default(false),
    stepped: z.boolean().default(false).meta({ description: 'Each step waits for POST /api/runs/{runId}/next.' }),
    station: z.string().min(1).max(120),
    person: z.string().max(120).optional(),
  })
  .meta({ id: 'Try', description: 'One step of a button alone, or with all that follow it.' });

export const PressReply = z
  .object({ accepted: z.literal(true), runId: z.string().nullable() })
  .meta({ id: 'PressAccepted' });

export const TakeBackReply = z
  .object({
    pressId: z.string(),
    legend: z.string(),
    leftMs: z.number().meta({ description: 'For so long it can still be taken back, milliseconds.' }),
    steps: z.array(z.string()).meta({ description: 'What would be done, as sentences, in order.' }),
    stays: z.array(z.string()).meta({ description: 'What would stay as it is, each with why.' }),
  })
  .meta({ id: 'TakeBack' });
export type TakeBackReply = z.infer<typeof TakeBackReply>;

export const TakeBackQuery = z.object({ station: z.string().min(1).max(120) });

export const TryLampBody = z
  .strictObject({ buttonId: z.string().min(1).max(40), sign: LampSign, station: z.string().min(1).max(120) })
  .meta({ id: 'TryLamp', description: 'Shows a lamp on every station for a moment, as if its rule held.' });

export const FaceSchema = z.object({
  sign: z.string().nullable(),
  lost: z.boolean(),
  note: z.string(),
  legend: z.string().optional(),
  asSent: z.literal(true).optional(),
  value: z.number().optional(),
});

export const PanelsReply = z
  .object({
    panels: z.array(
      z.object({
        id: z.string(),
        name: z.string(),
        strips: z.array(
          z.object({
            id: z.string(),
            name: z.string(),
            family: Family,
            buttons: z.array(
              z.object({ id: z.string(), legend: z.string(), note: z.string(), mode: z.enum(['press', 'hold']) }),
            ),
          }),
        ),
      }),
    ),
  })
  .meta({ id: 'Panels' });

export type PanelsReply = z.infer<typeof PanelsReply>;
