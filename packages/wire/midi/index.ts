/** MIDI 1.0 channel messages as bytes; system messages are passed over. Channels count from 1, data bytes from 0 to 127. */
export interface MidiMessage {
  readonly message: 'noteOff' | 'noteOn' | 'control' | 'programChange';
  /** 1 to 16. */
  readonly channel: number;
  /** Note, controller or program, 0 to 127. */
  readonly number: number;
  /** Velocity or value, 0 to 127; 0 for a program change, which has none. */
  readonly value: number;
}

const STATUS = { noteOff: 0x80, noteOn: 0x90, control: 0xb0, programChange: 0xc0 } as const;
const KINDS = Object.keys(STATUS) as (keyof typeof STATUS)[];

/** @throws never; numbers out of range are cut to seven bits, as the wire has no more */
export function encodeMidi({ message, channel, number, value }: MidiMessage): Uint8Array {
  const status = STATUS[message] | ((channel - 1) & 0x0f);
  return message === 'programChange'
    ? Uint8Array.of(status, number & 0x7f)
    : Uint8Array.of(status, number & 0x7f, value & 0x7f);
}

/** Reads a stream of bytes as they come: running status is kept, real-time bytes (F8 and up) may stand anywhere. */
export class MidiReader {
  private status = 0;
  private data: number[] = [];

  push(bytes: Uint8Array): MidiMessage[] {
    const found: MidiMessage[] = [];
    for (const byte of bytes) {
      if (byte >= 0xf8) continue;
      if (byte >= 0x80) {
        // A system message ends running status; its data bytes then belong to nothing.
        this.status = byte >= 0xf0 ? 0 : byte;
        this.data = [];
        continue;
      }
      if (this.status === 0) continue;
      this.data.push(byte);
      const kind = this.status & 0xf0;
      if (this.data.length < (kind === 0xc0 || kind === 0xd0 ? 1 : 2)) continue;
      const [number = 0, value = 0] = this.data;
      this.data = [];
      const message = KINDS.find((candidate) => STATUS[candidate] === kind);
      if (message) found.push({ message, channel: (this.status & 0x0f) + 1, number, value });
    }
    return found;
  }
}
