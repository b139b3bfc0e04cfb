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

/** Deepest nesting of bundles that is followed. */
const DEEPEST = 8;
class NotOsc extends Error {}

/** Goes through one datagram; every method throws `NotOsc` where the bytes end too early. */
class Reader {
  private at = 0;
  readonly found: ReceivedMessage[] = [];

  constructor(private readonly bytes: Buffer) {}

  /** One message or bundle that fills the bytes up to `end`. */
  element(end: number, depth: number): void {
    if (depth > DEEPEST) throw new NotOsc('Bundles are nested too deep.');
    // 47 is the slash, 35 the hash.
    const first = this.at < end ? this.bytes[this.at] : undefined;
    if (first === 47) return this.message(end);
    if (first !== 35 || this.text(end) !== '#bundle') throw new NotOsc('An address begins with a slash.');
    this.skip(8, end);
    while (this.at < end) {
      const size = this.whole(end);
      if (size <= 0 || size % 4 !== 0 || this.at + size > end)
        throw new NotOsc('A part of a bundle is longer than the bundle.');
      this.element(this.at + size, depth + 1);
    }
  }

  private message(end: number): void {
    const address = this.text(end);
    if (this.at === end) return void this.found.push({ address, values: [] });
    const tags = this.text(end);
    if (!tags.startsWith(',')) throw new NotOsc('The type tags begin with a comma.');
    const values: OscValue[] = [];
    for (let index = 1; index < tags.length; index += 1) values.push(this.value(tags.charCodeAt(index), end));
    if (this.at !== end) throw new NotOsc('There is more than the type tags tell.');
    this.found.push({ address, values });
  }

  private value(tag: number, end: number): OscValue {
    switch (tag) {
      case 102: // f
        this.skip(4, end);
        return this.bytes.readFloatBE(this.at - 4);
      case 105: // i
        return this.whole(end);
      case 115: // s
      case 83: // S
        return this.text(end);
      case 84: // T
        return true;
      case 70: // F
        return false;
      case 100: // d
        this.skip(8, end);
        return this.bytes.readDoubleBE(this.at - 8);
      case 104: // h
        this.skip(8, end);
        return Number(this.bytes.readBigInt64BE(this.at - 8));
      default:
        throw new NotOsc('An argument of this type is not used here.');
    }
  }

  private whole(end: number): number {
    this.skip(4, end);
    return this.bytes.readInt32BE(this.at - 4);
  }

  private text(end: number): string {
    const start = this.at;
    const zero = this.bytes.indexOf(0, start);
    if (zero < 0 || zero >= end) throw new NotOsc('A text has no end.');
    this.at = start;
    this.skip((zero - start + 4) & ~3, end);
    return this.bytes.toString('utf8', start, zero);
  }

  private skip(size: number, end: number): void {
    if (this.at + size > end) throw new NotOsc('It ends too early.');
    this.at += size;
  }
}

/** Every message of a datagram, bundles opened; or why it is not OSC. Written for levels, which come by the thousand a second. */
export function decodeOsc(bytes: Uint8Array): Decoded<readonly ReceivedMessage[]> {
  const reader = new Reader(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
  try {
    reader.element(bytes.byteLength, 0);
    return decoded(reader.found);
  } catch (error) {
    if (error instanceof NotOsc) return undecoded('bad-payload', error.message);
    throw error;
  }
}
