import { decode } from 'node-osc';
import { type Decoded, decoded, undecoded } from '../result';

/** An OSC argument with its type tag: i (32-bit whole), f (32-bit float), s (text), T/F. */
export type OscArgument =
  | { readonly type: 'i' | 'f'; readonly value: number }
  | { readonly type: 's'; readonly value: string }
  | { readonly type: 'b'; readonly value: boolean };

export interface OscMessage {
  readonly address: string;
  readonly args: readonly OscArgument[];
}

/** Plain value of an argument, as the library decodes it. */
export type OscValue = string | number | boolean;

export interface ReceivedMessage {
  readonly address: string;
  readonly values: readonly OscValue[];
}

/** A value with the type that it must have on the wire: text is s, yes/no T or F, numbers f unless they are counted. */
export const argumentOf = (value: OscValue, whole = false): OscArgument =>
  typeof value === 'string'
    ? { type: 's', value }
    : typeof value === 'boolean'
      ? { type: 'b', value }
      : { type: whole ? 'i' : 'f', value };

/** Bytes of a text with its closing zero, filled up to whole fours. */
const sizeOf = (text: string): number => (Buffer.byteLength(text) + 4) & ~3;

function tagsOf(args: readonly OscArgument[]): string {
  let tags = ',';
  for (const argument of args) tags += argument.type === 'b' ? (argument.value ? 'T' : 'F') : argument.type;
  return tags;
}

function messageSize({ address, args }: OscMessage): number {
  let size = sizeOf(address) + ((args.length + 5) & ~3);
  for (const argument of args) size += argument.type === 's' ? sizeOf(argument.value) : argument.type === 'b' ? 0 : 4;
  return size;
}

const writeText = (bytes: Buffer, at: number, text: string): number => at + ((bytes.write(text, at) + 4) & ~3);

function writeMessage(bytes: Buffer, start: number, { address, args }: OscMessage): number {
  let at = writeText(bytes, writeText(bytes, start, address), tagsOf(args));
  for (const argument of args) {
    if (argument.type === 's') at = writeText(bytes, at, argument.value);
    else if (argument.type === 'i') at = bytes.writeInt32BE(argument.value | 0, at);
    else if (argument.type === 'f') at = bytes.writeFloatBE(argument.value, at);
  }
  return at;
}

/** Zeros out of the common pool: memory of its own for each datagram takes longer than filling it. */
const blank = (size: number): Buffer => Buffer.allocUnsafe(size).fill(0);

/** `#bundle` and the time tag "at once": sixty-three zero bits and a one. */
const BUNDLE_HEAD = Buffer.from([...Buffer.from('#bundle\0'), 0, 0, 0, 0, 0, 0, 0, 1]);

/**
 * One message, or several in a bundle that takes effect together, as in the OSC 1.0 specification. A general encoder takes its time for
 * finding out types; here they are known, and this stands between a press and its first datagram.
 * Whole numbers keep their lowest 32 bits.
 */
export function encodeOsc(messages: readonly OscMessage[]): Uint8Array {
  const [only] = messages;
  if (messages.length === 1 && only) {
    const bytes = blank(messageSize(only));
    writeMessage(bytes, 0, only);
    return bytes;
  }
  const sizes = messages.map(messageSize);
  const bytes = blank(sizes.reduce((sum, size) => sum + 4 + size, BUNDLE_HEAD.length));
  let at = BUNDLE_HEAD.copy(bytes);
  messages.forEach((message, index) => (at = writeMessage(bytes, bytes.writeInt32BE(sizes[index] ?? 0, at), message)));
  return bytes;
}

interface RawMessage {
  readonly oscType: string;
  readonly address?: unknown;
  readonly args?: readonly { readonly value: unknown }[];
  readonly elements?: readonly RawMessage[];
}

/** Every message of a datagram, bundles opened; or why it is not OSC. */
export function decodeOsc(bytes: Uint8Array): Decoded<readonly ReceivedMessage[]> {
  try {
    const found: ReceivedMessage[] = [];
    const take = (raw: RawMessage, depth: number): void => {
      if (depth > 8) throw new Error('Bundles are nested too deep.');
      if (raw.oscType === 'bundle') raw.elements?.forEach((element) => take(element, depth + 1));
      else if (typeof raw.address !== 'string' || !raw.address.startsWith('/')) throw new Error('An address begins with a slash.');
      else found.push({ address: raw.address, values: (raw.args ?? []).map(({ value }) => valueOf(value)) });
    };
    // The same memory under another name: levels come by the thousand a second.
    take(decode(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength)) as RawMessage, 0);
    return decoded(found);
  } catch (error) {
    return undecoded('bad-payload', error instanceof Error ? error.message : 'Not OSC.');
  }
}

function valueOf(value: unknown): OscValue {
  if (typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean') return value;
  throw new Error('An argument of this type is not used here.');
}
