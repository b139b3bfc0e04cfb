/** Triggers, and why something is as it is. */
import { z } from 'zod';
import { Id } from '@umbek/core/show';

const at = z.string().meta({ description: 'Time of day, ISO 8601 in UTC.' });

export const TriggerRow = z
  .object({
    id: z.string(),
    name: z.string(),
    group: z.string(),
    kind: z.enum(['when', 'while', 'follow']),
    armed: z.boolean(),
    holds: z
      .boolean()
      .optional()
      .meta({ description: 'Of a while rule: whether it holds something now. Of a follow rule: whether it follows.' }),
    state: z.enum(['rests', 'holds', 'changed', 'waiting']).meta({
      description:
        'changed: somebody put something else where the rule holds, or cut by hand where it follows. waiting: something keeps it from doing so.',
    }),
    lastFired: at.optional(),
    lastWords: z.string().meta({ description: 'What it did last, or why it did nothing.' }),
  })
  .meta({ id: 'TriggerRow' });
export type TriggerRow = z.infer<typeof TriggerRow>;

export const TriggersReply = z.array(TriggerRow).meta({ id: 'Triggers' });
export type TriggersReply = z.infer<typeof TriggersReply>;

const Because = z.object({
  kind: z.enum(['lamp', 'point', 'command', 'run', 'press', 'trigger', 'device']),
  id: z.string(),
  at: at.nullable().meta({ description: 'Null: it was so before the engine began.' }),
  words: z.string(),
});
export type Because = z.infer<typeof Because>;

const TriggerEdge = z.object({
  at,
  what: z.enum(['fired', 'notFired', 'holds', 'left', 'changed']),
  words: z.string(),
  read: z.array(z.string()).meta({ description: 'What its condition read then, in words.' }),
  runId: z.string().optional(),
  because: z.array(Because).meta({ description: 'What led to it, the newest cause first, as it was then.' }),
});

export const TriggerReply = TriggerRow.extend({
  edges: z.array(TriggerEdge).meta({ description: 'Its last fifty events, the newest first.' }),
  leaving: z.array(z.string()).meta({ description: 'What disarming it would take back now, as sentences.' }),
}).meta({ id: 'Trigger' });
export type TriggerReply = z.infer<typeof TriggerReply>;

const Station = z.string().min(1).max(120).default('API');
const Person = z.string().max(120).optional();

export const ArmBody = z
  .strictObject({ armed: z.boolean(), station: Station, person: Person })
  .meta({ id: 'Arm', description: 'Arm or disarm one trigger.' });

export const ArmManyBody = z
  .strictObject({
    armed: z.boolean(),
    ids: z.array(Id).max(2000).optional().meta({
      description:
        'Left out: all of them; to be armed, those that were armed before all were disarmed, or else those that begin armed.',
    }),
    station: Station,
    person: Person,
  })
  .meta({
    id: 'ArmMany',
    description: 'Arm or disarm several triggers. Disarming all at once sends nothing: what while rules hold stays.',
  });
export const ArmManyReply = z.object({ changed: z.number() }).meta({ id: 'Armed' });

export const FireBody = z
  .strictObject({ rehearse: z.boolean().default(false), station: Station, person: Person })
  .meta({ id: 'Fire', description: 'Fire a trigger by hand, or rehearse it.' });

export const WhyQuery = z.object({
  key: z.string().min(1).max(120).meta({
    description: 'A point such as switcher.program, or the id of a button (its lamp), macro, run, press or trigger.',
  }),
});

export const WhyReply = z
  .object({
    chain: z.array(Because),
  })
  .meta({ id: 'Why', description: 'Causes, the newest first.' });
export type WhyReply = z.infer<typeof WhyReply>;
