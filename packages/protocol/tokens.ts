/** What other gear runs, and the tokens by which it may. */
import { Id, PlainValue, Runs } from '@umbek/core/show';
import { z } from 'zod';

const RunKey = z.string().min(1).max(200);

export const RunBody = z
  .union([
    z.strictObject({
      /** Number or id of the macro. */
      macro: z.union([z.number().int().min(1).max(99_999), Id]),
      /** In place of the values that its parameters begin with. */
      params: z.record(z.string().max(40), PlainValue).optional(),
      runKey: RunKey.optional(),
    }),
    z.strictObject({ button: Id, runKey: RunKey.optional() }),
    z.strictObject({ trigger: Id, does: z.enum(['fire', 'arm', 'disarm']).default('fire'), runKey: RunKey.optional() }),
  ])
  .meta({
    id: 'Run',
    description: 'The same runKey of the same token again does nothing new and is answered the same.',
  });
export type RunBody = z.infer<typeof RunBody>;

/** Buttons, macros and triggers that a token may run; null: all of them. */
export const TokenMay = z.array(Runs).min(1).max(1000).nullable();
export type TokenMay = z.infer<typeof TokenMay>;

/**
 * Bearer tokens go in a header; a link carries its token in its address, for gear that can only open one, and runs one thing; that of an OSC
 * sender stands in the address of each message.
 */
export const TokenKind = z.enum(['bearer', 'link', 'osc']);
export type TokenKind = z.infer<typeof TokenKind>;

export const NewTokenBody = z
  .strictObject({
    id: Id,
    name: z.string().trim().min(1).max(60),
    may: TokenMay,
    kind: TokenKind.default('bearer'),
  })
  .refine(({ kind, may }) => kind !== 'link' || may?.length === 1, {
    message: 'A link runs one button, macro or trigger. Choose one.',
    path: ['may'],
  });
export type NewTokenBody = z.infer<typeof NewTokenBody>;

/** Where OSC is heard. Open only while there is a token of that kind. */
const OscHeard = z.object({
  /** UDP port; null: closed. */
  port: z.number().nullable(),
  /** Addresses to which it is sent. */
  addresses: z.array(z.string()),
  /** Why it is not open although it should be. */
  trouble: z.string().nullable(),
  /** The last message that was not done. */
  notDone: z.object({ from: z.string(), words: z.string(), agoMs: z.number() }).nullable(),
});
export type OscHeard = z.infer<typeof OscHeard>;

export const TokensReply = z.object({
  osc: OscHeard,
  tokens: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      may: TokenMay,
      kind: TokenKind,
      madeAt: z.string(),
      /** When it was used last since the engine began; null: not yet. */
      usedAt: z.string().nullable(),
    }),
  ),
});
export type TokensReply = z.infer<typeof TokensReply>;

export const NewTokenReply = TokensReply.extend({
  /** Told this once. */
  token: z.string(),
});
export type NewTokenReply = z.infer<typeof NewTokenReply>;
