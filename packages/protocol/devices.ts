/** Devices as they are set up, measured and heard; stand-ins and their faults. */
import { z } from 'zod';

export const ReserveBody = z
  .strictObject({
    on: z.boolean(),
    station: z.string().min(1).max(120),
    person: z.string().max(120).optional(),
  })
  .meta({
    id: 'Reserve',
    description: 'Reserves a head, or frees it: stations with fewer rights do not move it meanwhile.',
  });

const PlaceSchema = z.object({ pan: z.number(), tilt: z.number(), zoom: z.number() });

/** Recalls of a head that really happened, oldest first. Times are milliseconds; errors are shares (0.02 is 2 %). */
export const TravelReply = z
  .object({
    learned: z
      .object({
        runs: z.object({ pan: z.number(), tilt: z.number(), zoom: z.number() }),
        medianError: z.number(),
        worstError: z.number(),
        p90: z.number(),
      })
      .nullable(),
    limits: z.record(z.string(), z.number()).nullable(),
    lines: z.array(
      z.object({
        at: z.string(),
        from: PlaceSchema,
        to: PlaceSchema,
        measuredMs: z.number(),
        declaredMs: z.number(),
        learnedMs: z.number().nullable(),
      }),
    ),
  })
  .meta({ id: 'Travel' });

export type TravelReply = z.infer<typeof TravelReply>;

const Chance = z.number().min(0).max(1);

/** What goes wrong with a stand-in. Chances are shares of all messages; the delay is the longest, milliseconds. */
export const StandinFaults = z
  .strictObject({
    dropIn: Chance.default(0),
    dropOut: Chance.default(0),
    doubleIn: Chance.default(0),
    doubleOut: Chance.default(0),
    delayMs: z.number().min(0).max(5000).default(0),
    silent: z.boolean().default(false),
    refuse: z.boolean().default(false),
    implausible: z.boolean().default(false),
    babbling: z.boolean().default(false),
    badRate: z.number().int().min(1).max(20_000).default(200),
    seed: z.number().int().min(0).default(1),
  })
  .meta({ id: 'StandinFaults' });

export type StandinFaults = z.infer<typeof StandinFaults>;

export const SimulateBody = z.strictObject({ what: z.string().min(1).max(60) }).meta({ id: 'Simulate' });

export const StandinsReply = z.object({
  standins: z.array(
    z.object({
      key: z.string(),
      name: z.string(),
      faults: StandinFaults,
      malformed: z.number(),
      simulations: z.array(z.object({ what: z.string(), words: z.string() })),
    }),
  ),
});

export type StandinsReply = z.infer<typeof StandinsReply>;

/** What a profile holds that was found whole. */
export const ProfileCheckReply = z.object({ name: z.string(), commands: z.number(), points: z.number() });

/** What is known of one device now, point by point; a point that is missing is unknown. */
export const PointsReply = z.object({ points: z.record(z.string(), z.union([z.string(), z.number(), z.boolean()])) });

export const MessagesReply = z
  .object({
    messages: z.array(
      z.object({ at: z.string(), direction: z.enum(['out', 'in']), words: z.string(), bytes: z.string() }),
    ),
  })
  .meta({
    id: 'Messages',
    description: 'The last 200 messages from and to a device, newest first; heartbeats are kept apart.',
  });
