/** DLE begins everything that is not data; one inside data is doubled. */
const DLE = 0x10;
const STX = 0x02;
const ETX = 0x03;
const ACK = 0x06;
const NAK = 0x15;

/** Longest data of a frame: its count is one byte. */
export const LONGEST_DATA = 255;
export const ACKNOWLEDGE = Uint8Array.of(DLE, ACK);
export const REFUSE = Uint8Array.of(DLE, NAK);

/** Two's complement of the sum, one byte: sum and checksum together are 0 modulo 256. */
export function checksumOf(data: Uint8Array): number {
  let sum = data.length;
  for (const byte of data) sum += byte;
  return -sum & 0xff;
}

/**
 * `10 02` DATA BTC CHK `10 03`, with every `10` between doubled.
 * @param data 1 to 255 bytes
 */
export function encodeFrame(data: Uint8Array): Uint8Array {
  const bytes = [DLE, STX];
  for (const byte of [...data, data.length, checksumOf(data)]) {
    bytes.push(byte);
    if (byte === DLE) bytes.push(DLE);
  }
  return Uint8Array.from([...bytes, DLE, ETX]);
}

export type FrameEvent =
  | { readonly type: 'data'; readonly data: Uint8Array }
  | { readonly type: 'ack' }
  | { readonly type: 'nak' }
  | { readonly type: 'bad' };

/**
 * Takes a byte stream apart, however it is cut into pieces. `bad` stands for anything that is none of it: bytes between frames, a wrong
 * count or checksum, a frame that is too long. It finds its way again at the next frame.
 */
export class FrameReader {
  private inFrame = false;
  private escaped = false;
  private collected: number[] = [];

  push(bytes: Uint8Array): FrameEvent[] {
    const events: FrameEvent[] = [];
    let lost = false;
    for (const byte of bytes) {
      if (this.escaped) {
        this.escaped = false;
        if (byte === STX) {
          if (this.inFrame) lost = true;
          this.inFrame = true;
          this.collected = [];
        } else if (this.inFrame && byte === DLE) this.collected.push(DLE);
        else if (this.inFrame && byte === ETX) {
          this.inFrame = false;
          events.push(finished(this.collected));
        } else if (!this.inFrame && byte === ACK) events.push({ type: 'ack' });
        else if (!this.inFrame && byte === NAK) events.push({ type: 'nak' });
        else {
          this.inFrame = false;
          lost = true;
        }
      } else if (byte === DLE) this.escaped = true;
      else if (this.inFrame) {
        this.collected.push(byte);
        if (this.collected.length > LONGEST_DATA + 2) {
          this.inFrame = false;
          lost = true;
        }
      } else lost = true;
    }
    // A whole piece of strange bytes is one mishap, not hundreds.
    if (lost) events.push({ type: 'bad' });
    return events;
  }
}

function finished(collected: readonly number[]): FrameEvent {
  const data = Uint8Array.from(collected.slice(0, -2));
  const [count, checksum] = collected.slice(-2);
  return collected.length >= 3 && count === data.length && checksum === checksumOf(data)
    ? { type: 'data', data }
    : { type: 'bad' };
}
