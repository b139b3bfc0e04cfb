import { z } from 'zod';

const Chance = z.number().min(0).max(1);

/** Bad days that can be set on a stand-in while it runs. Chances are drawn from a seed, so that a bad day can be repeated. */
export const Faults = z.strictObject({
  /** Chance that a datagram is lost on its way in, and on its way out. */
  dropIn: Chance.default(0),
  dropOut: Chance.default(0),
  /** Chance that a datagram comes twice. */
  doubleIn: Chance.default(0),
  doubleOut: Chance.default(0),
  /** Longest delay of a datagram in milliseconds, drawn evenly; keeps no order. */
  delayMs: z.number().min(0).max(5000).default(0),
  /** Hears nothing and says nothing. */
  silent: z.boolean().default(false),
  /** Refuses every command. */
  refuse: z.boolean().default(false),
  /** Tells what cannot be: extremes, contradictions, numbers that are none, answers to nothing. */
  implausible: z.boolean().default(false),
  /** Says random bytes, half messages and other protocols' words. */
  babbling: z.boolean().default(false),
  /** How many of those a second without being asked. */
  badRate: z.number().int().min(1).max(20_000).default(200),
  seed: z.number().int().min(0).default(1),
});
export type Faults = z.infer<typeof Faults>;

/** Numbers from 0 to 1 that only depend on the seed (the generator mulberry32, public domain). */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}
