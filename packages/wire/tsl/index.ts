/** TSL UMD 5.0: under-monitor displays with tally lamps, over UDP, little-endian. */
import { type Decoded, decoded, undecoded } from '../result';

export { type Decoded, hex, type WireError } from '../result';

export type Lamp = 'off' | 'red' | 'green' | 'amber';
const LAMPS: readonly Lamp[] = ['off', 'red', 'green', 'amber'];

/** One display: its number, its text, and the lamps to the left of, behind and to the right of the text. */
export interface Display {
  /** 0 to 65534. */
  readonly index: number;
  readonly text: string;
  readonly left: Lamp;
  readonly textLamp: Lamp;
  readonly right: Lamp;
  /** 0 to 3. */
  readonly brightness: number;
}

/** Longest packet of the protocol. */
export const LONGEST_PACKET = 2048;
const HEADER = 6;

// Texts beyond ASCII make the whole packet UTF-16.
const isAscii = (text: string): boolean => /^[\x20-\x7e]*$/.test(text);

function encodeOne(displays: readonly Display[], screen: number): Uint8Array {
  const wide = !displays.every((display) => isAscii(display.text));
  const parts = displays.map((display) => {
    const text = Buffer.from(display.text, wide ? 'utf16le' : 'ascii');
    const head = Buffer.alloc(6);
    head.writeUInt16LE(display.index, 0);
    head.writeUInt16LE(
      LAMPS.indexOf(display.right) |
        (LAMPS.indexOf(display.textLamp) << 2) |
        (LAMPS.indexOf(display.left) << 4) |
        (display.brightness << 6),
      2,
    );
    head.writeUInt16LE(text.length, 4);
    return Buffer.concat([head, text]);
  });
  const body = Buffer.concat(parts);
  const head = Buffer.alloc(HEADER);
  head.writeUInt16LE(body.length + HEADER - 2, 0);
  head.writeUInt8(0, 2);
  head.writeUInt8(wide ? 1 : 0, 3);
  head.writeUInt16LE(screen, 4);
  return Buffer.concat([head, body]);
}

/** Displays in as many packets as are needed for none to be longer than 2,048 bytes. */
export function encodeTally(displays: readonly Display[], screen = 0): Uint8Array[] {
  const packets: Uint8Array[] = [];
  let some: Display[] = [];
  for (const display of displays) {
    if (some.length > 0 && encodeOne([...some, display], screen).length > LONGEST_PACKET) {
      packets.push(encodeOne(some, screen));
      some = [];
    }
    some.push(display);
  }
  if (some.length > 0) packets.push(encodeOne(some, screen));
  return packets;
}

/** The displays of a packet, or why it is none. */
export function decodeTally(
  bytes: Uint8Array,
): Decoded<{ readonly screen: number; readonly displays: readonly Display[] }> {
  const buffer = Buffer.from(bytes);
  if (buffer.length < HEADER) return undecoded('too-short', 'A packet has at least 6 bytes.');
  if (buffer.length > LONGEST_PACKET) return undecoded('too-long', 'A packet has at most 2,048 bytes.');
  if (buffer.readUInt16LE(0) !== buffer.length - 2) return undecoded('bad-length', 'The count of bytes does not fit.');
  if (buffer[2] !== 0) return undecoded('bad-header', `Version ${buffer[2]} is not known.`);
  const wide = ((buffer[3] ?? 0) & 1) === 1;
  const displays: Display[] = [];
  for (let at = HEADER; at < buffer.length;) {
    if (at + 6 > buffer.length) return undecoded('bad-length', 'A display is cut off.');
    const control = buffer.readUInt16LE(at + 2);
    if ((control & 0x8000) !== 0) return undecoded('bad-payload', 'Control data is not used here.');
    const length = buffer.readUInt16LE(at + 4);
    if (at + 6 + length > buffer.length) return undecoded('bad-length', 'A text is cut off.');
    const lamp = (shift: number): Lamp => LAMPS[(control >> shift) & 3] ?? 'off';
    displays.push({
      index: buffer.readUInt16LE(at),
      text: buffer.toString(wide ? 'utf16le' : 'ascii', at + 6, at + 6 + length),
      right: lamp(0),
      textLamp: lamp(2),
      left: lamp(4),
      brightness: (control >> 6) & 3,
    });
    at += 6 + length;
  }
  return decoded({ screen: buffer.readUInt16LE(4), displays });
}
