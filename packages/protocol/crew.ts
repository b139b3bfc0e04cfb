/** The crew: people who work at this installation, and what they bring along when they sign in at a station. */
import { z } from 'zod';
import { Right, Rights } from './joining';

const Name = z.string().trim().min(1).max(60);
/** Long enough that five guesses at once, and six a minute after them, find nothing. */
const Phrase = z.string().min(8).max(200);

export const CrewMember = z.object({
  id: z.string(),
  name: z.string(),
  /** What a station may do beside its own rights while they are signed in at it. */
  rights: z.array(Right),
  /** Without a pass phrase only somebody who may admit can sign them in. */
  hasPhrase: z.boolean(),
});
export type CrewMember = z.infer<typeof CrewMember>;

export const CrewReply = z.array(CrewMember);
export type CrewReply = z.infer<typeof CrewReply>;

export const CrewBody = z
  .strictObject({
    id: z.ulid(),
    name: Name,
    rights: Rights,
    phrase: Phrase.nullable().optional().meta({ description: 'null: none any more; left out: as it was.' }),
  })
  .meta({ id: 'CrewMember', description: 'Takes somebody on, or changes what is known of them.' });

export const SignInBody = z
  .strictObject({
    crew: z.string().max(40),
    phrase: z.string().max(200),
    handOver: z
      .boolean()
      .default(false)
      .meta({ description: 'The edits of whoever worked at the station until now are from now on theirs to undo.' }),
  })
  .meta({ id: 'SignIn' });

export const HandOverBody = z
  .strictObject({ from: z.string().min(1).max(120), to: z.string().trim().min(1).max(120) })
  .meta({ id: 'HandOver', description: "The edits of one engineer are from now on another one's to undo." });

export const HandOverReply = z.object({ edits: z.number() });

export const StationHandBody = z
  .union([z.strictObject({ crew: z.string().max(40) }), z.strictObject({ person: Name })])
  .meta({ id: 'StationHand', description: 'Who works at a station from now on: somebody of the crew, or a name.' });
