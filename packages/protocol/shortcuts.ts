/** The shortcuts of a show as other tools read them, and what a code on a dial pad runs. */
import { Id, LinkGroup, Runs } from '@umbek/core/show';
import { z } from 'zod';

export const ShortcutsReply = z.array(
  z.object({
    id: z.string(),
    kind: z.enum(['key', 'code', 'midi', 'stick', 'axis']),
    /** What is pressed, in words. */
    words: z.string(),
    runs: Runs,
    /** Id of the station where it counts; left out: everywhere. */
    station: z.string().optional(),
    /** Ids of the others on the same thing: of all of them the first in the order of the show counts. */
    clashes: z.array(z.string()),
  }),
);
export type ShortcutsReply = z.infer<typeof ShortcutsReply>;

export const DialQuery = z.object({
  code: z.string().regex(/^\d{1,6}$/),
  station: Id.optional().meta({ description: 'Station of the show where it is dialled.' }),
  takes: z
    .enum(['code', 'preview', 'position', 'destination', 'source', 'crosspoint'])
    .optional()
    .meta({ description: 'What the digits number; left out: a code, or the number of a macro.' }),
  linkGroup: LinkGroup.optional().meta({ description: 'Whose chosen camera and destination count.' }),
});

export type DialQuery = z.infer<typeof DialQuery>;

export const DialReply = z.object({
  /** Null: nothing has this code. */
  runs: Runs.nullable(),
  /** Of a number that is no code: the command that it sends; left out: none. */
  sends: z
    .object({
      device: z.string(),
      command: z.string(),
      params: z.record(z.string(), z.union([z.string(), z.number(), z.boolean()])),
    })
    .optional(),
  /** What it does, in words; where it does nothing, why. */
  words: z.string(),
  /** The shortcut that gives it this code; left out: it is a macro's own number. */
  shortcut: z.string().optional(),
  /** So many longer codes begin with these digits. */
  longer: z.number(),
});
export type DialReply = z.infer<typeof DialReply>;
