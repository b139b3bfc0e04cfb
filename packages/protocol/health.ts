/** How engine, disk and devices are; the show as the Desk needs it. */
import { z } from 'zod';
import { Reference } from '@umbek/core/show';

export const LinkStateSchema = z.enum(['reached', 'silent', 'foreign', 'off']);

export const DeviceHealth = z.object({
  id: z.string(),
  key: z.string(),
  name: z.string(),
  kind: z.string(),
  address: z.string(),
  state: LinkStateSchema,
  lastReplyMs: z
    .number()
    .nullable()
    .meta({ description: 'Milliseconds since the last reply; null when there was none.' }),
  words: z.string(),
  malformed: z.number().meta({ description: 'Datagrams that were not understood.' }),
});

export type DeviceHealth = z.infer<typeof DeviceHealth>;

export const Health = z
  .object({
    status: z.enum(['ok', 'degraded']),
    version: z.string(),
    show: z.object({ id: z.string(), name: z.string() }).nullable(),
    database: z.enum(['reached', 'away']),
    epoch: z.number(),
    /** How the as-run reaches the disk: bytes that wait, entries left out, what the disk last said. */
    disk: z.object({ waiting: z.number(), dropped: z.number(), trouble: z.string().nullable() }),
    /** What failed inside, where, and how often; nothing of it ended anything else. */
    troubles: z.array(z.object({ where: z.string(), words: z.string(), count: z.number() })),
    /** Pages that are connected, and link groups that are kept for them, each with its lamps. */
    live: z.object({ pages: z.number(), groups: z.number() }),
    /** Milliseconds for which the engine's thread has been busy since its process began. */
    busyMs: z.number(),
    devices: z.array(DeviceHealth),
  })
  .meta({ id: 'Health' });

export type Health = z.infer<typeof Health>;

export const DeskReply = z
  .looseObject({
    revision: z.number(),
    held: z.array(z.string()).meta({ description: 'Panels whose buttons are in it.' }),
  })
  .meta({
    id: 'DeskShow',
    description: 'The show without macros; of buttons those of the panels, without what they do.',
  });

export const FaultsReply = z
  .object({
    faults: z.array(
      z.object({
        code: z.string(),
        message: z.string(),
        mend: z.string(),
        path: z.string(),
        at: Reference.nullable().meta({ description: 'The same place by ids; null when the show has no such place.' }),
        weight: z.enum(['schema', 'press', 'listed']),
      }),
    ),
  })
  .meta({
    id: 'Faults',
    description: 'What of the show does not hold together. `press`: what it stands in refuses its press.',
  });
