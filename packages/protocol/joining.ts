/** How stations come in from the network, what they may do, and how they are sent away again. */
import { z } from 'zod';

/**
 * What a station may do: look at everything, press and hold, change the show, let others in and send them away. Each counts alone: nobody
 * programs who was only given *admit*.
 */
export const RIGHTS = ['see', 'operate', 'program', 'admit'] as const;
export const Right = z.enum(RIGHTS);
export type Right = z.infer<typeof Right>;

/** The rights of a station that was let in; whoever is in may look. */
export const Rights = z
  .array(Right)
  .max(RIGHTS.length)
  .transform((rights) => RIGHTS.filter((right) => right === 'see' || rights.includes(right)));

const Name = z.string().trim().min(1).max(60);
const Person = z.string().trim().max(60);

/** Six figures, or what a QR code carries. */
export const JoinBody = z
  .union([
    z.strictObject({ code: z.string().regex(/^\d{6}$/), name: Name }),
    z.strictObject({ secret: z.string().min(1).max(100), name: Name }),
  ])
  .meta({ id: 'Join', description: 'Asks to be let in, with what a station that may admit shows.' });
export type JoinBody = z.infer<typeof JoinBody>;

export const JoinReply = z.object({ id: z.string(), secret: z.string() });
export type JoinReply = z.infer<typeof JoinReply>;

export const JoinWaitBody = z
  .strictObject({ id: z.string().max(40), secret: z.string().max(100) })
  .meta({ id: 'JoinWait' });

export const JoinWaitReply = z.object({
  state: z.enum(['waiting', 'in', 'refused', 'over']).meta({
    description: '`in`: the key came with this answer, as a cookie and in `key`; it is told this once.',
  }),
  key: z.string().optional(),
});
export type JoinWaitReply = z.infer<typeof JoinWaitReply>;

export const InvitationReply = z.object({
  id: z.string(),
  /** Six figures, good once and for two minutes. */
  code: z.string(),
  /** Milliseconds until it is over. */
  leftMs: z.number(),
  /** Addresses at which the join page is reached, the likeliest first: a machine on two networks has several. */
  addresses: z.array(z.string()),
  /** A QR code for each address, in their order. */
  qrs: z.array(
    z.object({
      /** Modules a side. */
      size: z.number(),
      /** The dark ones as an SVG path in units of one module. */
      path: z.string(),
    }),
  ),
});
export type InvitationReply = z.infer<typeof InvitationReply>;

const AskingStation = z.object({
  id: z.string(),
  name: z.string(),
  /** What it says of itself, such as *Phone, Firefox*. */
  device: z.string(),
  address: z.string(),
});
export type AskingStation = z.infer<typeof AskingStation>;

const JoinedStation = z.object({
  id: z.string(),
  name: z.string(),
  person: z.string(),
  device: z.string(),
  /** Its own, whoever works at it. */
  rights: z.array(Right),
  /** Who of the crew is signed in at it; null: nobody. */
  signedIn: z.string().nullable(),
  joinedAt: z.string(),
  /** Address from which it came last; empty: it has not come since the engine began. */
  address: z.string(),
  /** Pages of it that are connected. */
  present: z.number(),
  /** What somebody who may send it away should know; empty: nothing. */
  note: z.string(),
});
export type JoinedStation = z.infer<typeof JoinedStation>;

export const JoiningReply = z.object({
  /** Null: Umbek listens on its own machine only. */
  room: z
    .object({
      addresses: z.array(z.string()),
      /** SHA-256 of the certificate authority, in pairs of hexadecimal digits. */
      fingerprint: z.string(),
      /** Until when the certificate holds. */
      until: z.string(),
    })
    .nullable(),
  /** They have shown an invitation, and wait for an answer. */
  asking: z.array(AskingStation),
  joined: z.array(JoinedStation),
});
export type JoiningReply = z.infer<typeof JoiningReply>;

export const JoinAnswerBody = z
  .union([
    z.strictObject({ let: z.literal(true), name: Name, person: Person, rights: Rights }),
    z.strictObject({ let: z.literal(false) }),
  ])
  .meta({ id: 'JoinAnswer' });

export const JoinedBody = z.strictObject({ name: Name, person: Person, rights: Rights }).meta({ id: 'JoinedStation' });

export const MeReply = z.object({
  rights: z.array(Right),
  /** Let in from the network, under this name and person; false at the engine's own machine, where a page says them itself. */
  joined: z.boolean(),
  name: z.string(),
  person: z.string(),
  /** Somebody of the crew is signed in at it: that is its person. */
  signedIn: z.boolean(),
});
export type MeReply = z.infer<typeof MeReply>;
