import { decode, encode } from 'node-osc';
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

const plain = (message: OscMessage): object => ({
  oscType: 'message',
  address: message.address,
  args: message.args.map((argument) => (argument.type === 'b' ? { type: 'boolean', value: argument.value } : argument)),
});

/** One message, or several in a bundle that takes effect together. */
export function encodeOsc(messages: readonly OscMessage[]): Uint8Array {
  const [only] = messages;
  if (messages.length === 1 && only) return encode(plain(only) as never);
  return encode({ oscType: 'bundle', timetag: 0, elements: messages.map(plain) } as never);
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
