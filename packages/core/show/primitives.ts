import { z } from 'zod';

/** Keys that expressions keep for themselves; no device may be called so. */
export const RESERVED_KEYS: ReadonlySet<string> = new Set([
  'value',
  'chosen',
  'param',
  'at',
  'true',
  'false',
  'null',
  'in',
]);

/** An immutable name used in expressions: a letter, then letters and digits, at most 40. Renaming a thing never changes its key. */
export const Key = z
  .string()
  .regex(/^[a-z][A-Za-z0-9]{0,39}$/, 'A key is a small letter, then up to 39 letters and digits.')
  .refine((key) => !RESERVED_KEYS.has(key), 'This word is reserved for expressions; choose another key.');

/** A client-made ULID: 26 characters of Crockford's base 32. */
export const Id = z.ulid();

/** A name that people read: 1 to 120 characters. */
export const Name = z.string().min(1).max(120);

/** A short text on a cap. */
export const Legend = z.string().max(120);

/** A fractional key: entities of one list are ordered by plain comparison of this text. */
export const Order = z.string().min(1).max(64);

/** The eight families of the look; each has a colour and a pattern. */
export const Family = z.enum(['clay', 'ochre', 'moss', 'lagoon', 'slate', 'plum', 'stone', 'rose']);
export type Family = z.infer<typeof Family>;

/** What a point, a show value, a selection or a parameter can hold. */
export const PlainValue = z.union([z.string().max(2000), z.number(), z.boolean()]);
export type PlainValue = z.infer<typeof PlainValue>;

/** A parameter as it is programmed: a plain value, or a CEL expression worked out at the moment of use. */
export const Argument = z.union([PlainValue, z.strictObject({ cel: z.string().min(1).max(2000) })]);
export type Argument = z.infer<typeof Argument>;
